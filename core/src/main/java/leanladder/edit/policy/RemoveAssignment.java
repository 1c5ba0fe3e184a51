package leanladder.edit.policy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/** Removes an assignment of a policy. */
public record RemoveAssignment(
        @Member(names = "policy") String policy,
        @Member(schema = "Assignment") ObjectNode assignment) implements PolicyEdit {
    public static final EditKind KIND =
            EditKind.of("remove-assignment", Duty.POLICIES, RemoveAssignment.class, "takes an assignment away");

    @Override
    public RemoveAssignment apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member("assignment").orElseThrow();
        on.reader().assignment(place, true).ifPresent(read -> {
            if (on.policy(policy).assignment(read).isPresent()) on.removeAssignment(policy, read);
            else place.defect("is no assignment of this policy (any more)");
        });
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(PutAssignment.path(this, assignment));
    }

    @Override
    public String policyId() {
        return policy;
    }
}
