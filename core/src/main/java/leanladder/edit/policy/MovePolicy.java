package leanladder.edit.policy;

import java.util.Optional;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * Moves a policy in the ranking.
 *
 * @param above the policy directly above which it goes; null where it goes to the end
 */
public record MovePolicy(
        @Member(names = "policy") String policy,

        @Member(presence = Presence.NULLABLE, names = "policy") @Nullable
        String above)
        implements PolicyEdit {
    public static final EditKind KIND = EditKind.of(
            "rank-policy", Duty.POLICIES, MovePolicy.class, "moves a policy directly above another, or to the end");

    @Override
    public MovePolicy apply(Overlay on, JsonCursor at) {
        if (policy.equals(above)) at.member("above").orElseThrow().defect("must be another policy");
        else on.rankPolicy(policy, Optional.ofNullable(above));
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(rankingPath());
    }

    @Override
    public String policyId() {
        return policy;
    }
}
