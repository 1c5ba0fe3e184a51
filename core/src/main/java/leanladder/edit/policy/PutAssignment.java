package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.estate.Assignment;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Adds an assignment to a policy; one that is there already stays as it is. */
public final class PutAssignment extends PolicyEdit {
    public static final EditKind KIND = new PolicyEditKind("put-assignment") {
        @Override
        public Optional<PutAssignment> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> id = known(jsonCursor, on);
            Optional<JsonCursor> written = jsonCursor.required("assignment");
            if (id.isEmpty() || written.isEmpty()) return Optional.empty();
            return on.reader()
                    .assignment(written.get(), true)
                    .map(a -> new PutAssignment((ObjectNode) jsonCursor.node(), id.get(), a, (ObjectNode)
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
        return ConflictPaths.policy(edit) + "/assignments/" + how + " "
                + ConflictPaths.step(assignment.path(how).asText());
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.put(policy(), policy(on).with(assignment, written));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        if (policy(before).assignment(assignment).isPresent()) return Optional.empty();
        ObjectNode inverse = form(RemoveAssignment.KIND);
        inverse.set("assignment", written);
        return Optional.of(inverse);
    }

    /** The assignment that is added. */
    public Assignment assignment() {
        return assignment;
    }
}
