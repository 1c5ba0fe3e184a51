package leanladder.edit.policy;

import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;

/** An edit of one policy. */
public interface PolicyEdit extends Edit {
    /** The id of the policy; empty where a new one has none yet. */
    String policyId();

    /** The path of the policy. */
    default String path() {
        return ConflictPaths.of("policies", policyId());
    }

    /** The path of its place in the ranking. */
    default String rankingPath() {
        return ConflictPaths.of("ranking", policyId());
    }

    @Override
    default Set<String> paths() {
        return Set.of(path());
    }
}
