package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/** Makes a policy silent on a setting, for one way of speaking. */
public final class RemoveStatement extends PolicyEdit {
    private static final Map<String, Boolean> SAYS_CAP = Map.of("set", false, "cap", true);

    public static final EditKind KIND = new PolicyEditKind("remove-statement") {
        @Override
        public Optional<RemoveStatement> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> id = known(jsonCursor, on);
            Optional<JsonCursor> named = jsonCursor.required("setting");
            Optional<String> key = named.flatMap(JsonCursor::key);
            Optional<Boolean> cap = jsonCursor.required("says").flatMap(p -> p.word(SAYS_CAP));
            if (id.isEmpty() || key.isEmpty() || cap.isEmpty()) return Optional.empty();
            if (on.policy(id.get()).statement(key.get(), cap.get()).isEmpty()) {
                named.get().defect("names \"" + key.get() + "\", on which the policy does not speak so (any more)");
                return Optional.empty();
            }
            return Optional.of(new RemoveStatement((ObjectNode) jsonCursor.node(), id.get(), key.get(), cap.get()));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(PutStatement.path(
                    edit,
                    edit.path("says").asText().equals("cap"),
                    edit.path("setting").asText()));
        }

        @Override
        public String schema() {
            return schema(
                    "is silent on a setting, for one way of speaking",
                    "\"policy\",\"setting\",\"says\"",
                    POLICY + ",\"setting\":{\"type\":\"string\"},\"says\":{\"enum\":[\"set\",\"cap\"]}");
        }
    };

    private final String setting;
    private final boolean cap;

    private RemoveStatement(ObjectNode sent, String policy, String setting, boolean cap) {
        super(sent, policy);
        this.setting = setting;
        this.cap = cap;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.put(policy(), policy(on).without(setting, cap));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return Optional.of(PutStatement.restoring(this, before, setting, cap));
    }

    @Override
    public WriteSet footprint(Overlay before) {
        return WriteSet.ofPolicy(policy(), List.of(setting));
    }

    /** The key of the setting that the policy states nothing about any more. */
    public String setting() {
        return setting;
    }

    /** Whether the statement is a cap. */
    public boolean cap() {
        return cap;
    }
}
