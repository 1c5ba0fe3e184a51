package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.estate.Statement;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/** Makes a policy say something on a setting, in place of what it said in the same way (set or cap) before. */
public final class PutStatement extends PolicyEdit {
    public static final EditKind KIND = new PolicyEditKind("put-statement") {
        @Override
        public Optional<PutStatement> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> id = known(jsonCursor, on);
            Optional<JsonCursor> said = jsonCursor.required("statement");
            if (id.isEmpty() || said.isEmpty()) return Optional.empty();
            return on.reader()
                    .statement(said.get())
                    .map(s -> new PutStatement((ObjectNode) jsonCursor.node(), id.get(), s, (ObjectNode)
                            said.get().node()));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            JsonNode statement = edit.path("statement");
            return Set.of(
                    path(edit, statement.has("cap"), statement.path("setting").asText()));
        }

        @Override
        public String schema() {
            return schema(
                    "says this in place of what was set, or capped, before",
                    "\"policy\",\"statement\"",
                    POLICY + ",\"statement\":{\"$ref\":\"#/components/schemas/Statement\"}");
        }
    };

    private final Statement statement;
    private final ObjectNode written;

    private PutStatement(ObjectNode sent, String policy, Statement statement, ObjectNode written) {
        super(sent, policy);
        this.statement = statement;
        this.written = written;
    }

    /** The path of what a policy says on a setting in one way. */
    static String path(JsonNode edit, boolean cap, String setting) {
        return ConflictPaths.policy(edit) + "/statements/" + (cap ? "cap " : "set ") + setting;
    }

    /** The edit that makes a policy say on a setting, in one way, what it says before. */
    static ObjectNode restoring(PolicyEdit edit, Overlay before, String setting, boolean cap) {
        Optional<ObjectNode> said = edit.policy(before).statement(setting, cap);
        if (said.isEmpty())
            return edit.form(RemoveStatement.KIND).put("setting", setting).put("says", cap ? "cap" : "set");
        ObjectNode inverse = edit.form(KIND);
        inverse.set("statement", said.get());
        return inverse;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.put(policy(), policy(on).with(statement, written));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return Optional.of(restoring(this, before, statement.setting(), statement instanceof Statement.Cap));
    }

    @Override
    public WriteSet footprint(Overlay before) {
        return WriteSet.ofPolicy(policy(), List.of(statement.setting()));
    }

    /** The statement that is made. */
    public Statement statement() {
        return statement;
    }
}
