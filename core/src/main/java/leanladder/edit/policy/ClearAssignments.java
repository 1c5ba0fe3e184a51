package leanladder.edit.policy;

import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Assignment;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/** Removes all assignments of a policy: it applies to nobody from then on. */
public record ClearAssignments(@Member(names = "policy") String policy) implements PolicyEdit {
    public static final EditKind KIND = EditKind.of(
            "clear-assignments",
            Duty.POLICIES,
            ClearAssignments.class,
            "removes all assignments, so that the policy applies to nobody");

    @Override
    public ClearAssignments apply(Overlay on, JsonCursor at) {
        Set<Assignment> all = on.policy(policy).assignments();
        if (all.isEmpty()) at.member("policy").orElseThrow().defect("has no assignment (any more)");
        all.forEach(assignment -> on.removeAssignment(policy, assignment));
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(path() + "/assignments");
    }

    @Override
    public String policyId() {
        return policy;
    }
}
