package leanladder.change.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.Tally;
import leanladder.document.Place;
import leanladder.estate.Assignment;
import leanladder.tell.Wording;

/** Takes an assignment of a policy away. */
public final class RemoveAssignment extends PolicyEdit {
    public static final EditKind KIND = new Kind("remove-assignment") {
        @Override
        public Optional<RemoveAssignment> read(Place place, Overlay on) {
            Optional<String> id = known(place, on);
            Optional<Place> written = place.required("assignment");
            if (id.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Assignment> assignment = on.reader().assignment(written.get(), true);
            if (assignment.isPresent()
                    && on.policy(id.get()).assignment(assignment.get()).isEmpty()) {
                written.get().defect("is no assignment of this policy (any more)");
                return Optional.empty();
            }
            return assignment.map(a -> new RemoveAssignment((ObjectNode) place.node(), id.get(), a));
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
    public void carryOut(Overlay on) {
        on.put(policy(), policy(on).without(assignment));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode inverse = form(PutAssignment.KIND);
        inverse.set("assignment", policy(before).assignment(assignment).orElseThrow());
        return Optional.of(inverse);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return policy(before).name() + " no longer " + PutAssignment.whom(assignment, before, wording);
    }

    @Override
    public Tally tally() {
        return new Tally("one assignment is taken away", "# assignments are taken away");
    }
}
