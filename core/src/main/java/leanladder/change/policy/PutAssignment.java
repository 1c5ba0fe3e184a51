package leanladder.change.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Tally;
import leanladder.document.Place;
import leanladder.estate.Assignment;
import leanladder.estate.Window;
import leanladder.tell.Wording;

/** Adds an assignment to a policy; one that is there already stays as it is. */
public final class PutAssignment extends PolicyEdit {
    public static final EditKind KIND = new Kind("put-assignment") {
        @Override
        public Optional<PutAssignment> read(Place place, Overlay on) {
            Optional<String> id = known(place, on);
            Optional<Place> written = place.required("assignment");
            if (id.isEmpty() || written.isEmpty()) return Optional.empty();
            return on.reader()
                    .assignment(written.get(), true)
                    .map(a -> new PutAssignment((ObjectNode) place.node(), id.get(), a, (ObjectNode)
                            written.get().node()));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit));
        }

        @Override
        public boolean commutes(JsonNode mine, JsonNode theirs) {
            return mine.equals(theirs);
        }

        @Override
        public String schema() {
            return assignmentSchema(this::schema, "adds an assignment");
        }
    };

    private final Assignment assignment;
    private final ObjectNode written;

    private PutAssignment(ObjectNode sent, String policy, Assignment assignment, ObjectNode written) {
        super(sent, policy);
        this.assignment = assignment;
        this.written = written;
    }

    interface Schema {
        String of(String description, String required, String properties);
    }

    static String assignmentSchema(Schema schema, String description) {
        return schema.of(
                description,
                "\"policy\",\"assignment\"",
                POLICY + ",\"assignment\":{\"$ref\":\"#/components/schemas/Assignment\"}");
    }

    /** The path of the assignment that an edit names, whatever its window. */
    static String path(JsonNode edit) {
        JsonNode assignment = edit.path("assignment");
        String how = assignment.has("except") ? "except" : "include";
        return Paths.policy(edit) + "/assignments/" + how + " "
                + Paths.step(assignment.path(how).asText());
    }

    static String whom(Assignment assignment, Overlay on, Wording wording) {
        Window window = assignment.window();
        return (assignment.include() ? "include" : "except") + "s " + on.name(assignment.target())
                + window.from().map(f -> " from " + wording.moment(f)).orElse("")
                + window.until().map(u -> " until " + wording.moment(u)).orElse("");
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void carryOut(Overlay on) {
        on.put(policy(), policy(on).with(assignment, written));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        if (policy(before).assignment(assignment).isPresent()) return Optional.empty();
        ObjectNode inverse = form(RemoveAssignment.KIND);
        inverse.set("assignment", written);
        return Optional.of(inverse);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return policy(before).name() + " " + whom(assignment, before, wording);
    }

    @Override
    public Tally tally() {
        return new Tally("one assignment is added", "# assignments are added");
    }
}
