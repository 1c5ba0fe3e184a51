package leanladder.edit.policy;

import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/** Removes a policy, with its place in the ranking. */
public record RemovePolicy(@Member(names = "policy") String policy) implements PolicyEdit {
    public static final EditKind KIND =
            EditKind.of("remove-policy", Duty.POLICIES, RemovePolicy.class, "removes a policy");

    @Override
    public RemovePolicy apply(Overlay on, JsonCursor at) {
        on.removePolicy(policy);
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(path(), rankingPath());
    }

    @Override
    public String policyId() {
        return policy;
    }
}
