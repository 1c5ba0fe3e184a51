package leanladder.edit.policy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/** Adds an assignment to a policy; one that is there already stays as it is. */
public record PutAssignment(
        @Member(names = "policy") String policy,
        @Member(schema = "Assignment") ObjectNode assignment) implements PolicyEdit {
    public static final EditKind KIND =
            EditKind.of("put-assignment", Duty.POLICIES, PutAssignment.class, "adds an assignment");

    @Override
    public PutAssignment apply(Overlay on, JsonCursor at) {
        on.reader()
                .assignment(at.member("assignment").orElseThrow(), true)
                .ifPresent(read -> on.putAssignment(policy, read, assignment));
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(path(this, assignment));
    }

    /** The path of an assignment of a policy, whatever its window. */
    static String path(PolicyEdit edit, ObjectNode assignment) {
        String how = assignment.has("except") ? "except" : "include";
        return edit.path() + "/assignments/"
                + ConflictPaths.of(how + " " + assignment.path(how).asText()
                        + (assignment.has("in") ? " in " + assignment.path("in").asText() : ""));
    }

    @Override
    public boolean commutes(Edit other) {
        return equals(other);
    }

    @Override
    public String policyId() {
        return policy;
    }
}
