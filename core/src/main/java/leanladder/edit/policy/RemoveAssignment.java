package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.estate.Assignment;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Takes an assignment of a policy away. */
public final class RemoveAssignment extends PolicyEdit {
    public static final EditKind KIND = new PolicyEditKind("remove-assignment") {
        @Override
        public Optional<RemoveAssignment> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> id = known(jsonCursor, on);
            Optional<JsonCursor> written = jsonCursor.required("assignment");
            if (id.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Assignment> assignment = on.reader().assignment(written.get(), true);
            if (assignment.isPresent()
                    && on.policy(id.get()).assignment(assignment.get()).isEmpty()) {
                written.get().defect("is no assignment of this policy (any more)");
                return Optional.empty();
            }
            return assignment.map(a -> new RemoveAssignment((ObjectNode) jsonCursor.node(), id.get(), a));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(PutAssignment.path(edit));
        }

        @Override
        public String schema() {
            return PutAssignment.assignmentSchema(this::schema, "takes an assignment away");
        }
    };

    private final Assignment assignment;

    private RemoveAssignment(ObjectNode sent, String policy, Assignment assignment) {
        super(sent, policy);
        this.assignment = assignment;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.put(policy(), policy(on).without(assignment));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode inverse = form(PutAssignment.KIND);
        inverse.set("assignment", policy(before).assignment(assignment).orElseThrow());
        return Optional.of(inverse);
    }

    /** The assignment that is removed. */
    public Assignment assignment() {
        return assignment;
    }
}
