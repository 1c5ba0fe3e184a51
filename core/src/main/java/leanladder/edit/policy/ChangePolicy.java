package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/** Changes what a policy is beside statements and assignments: name, state, description; null takes a member away. */
public final class ChangePolicy extends PolicyEdit {
    private static final Set<String> AMENDABLE = Set.of("name", "description", "state", "owner", "review");

    public static final EditKind KIND = new PolicyEditKind("amend-policy") {
        @Override
        public Optional<ChangePolicy> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> id = known(jsonCursor, on);
            Optional<JsonCursor> members = jsonCursor.required("members").filter(JsonCursor::isObject);
            if (id.isEmpty() || members.isEmpty()) return Optional.empty();
            for (var member : members.get().members().entrySet())
                if (!AMENDABLE.contains(member.getKey())) {
                    member.getValue().defect("cannot be amended so; name, description, state, owner and review can");
                    return Optional.empty();
                }
            ObjectNode wanted = (ObjectNode) members.get().node();
            ObjectNode amended = Overlay.amended(on.policy(id.get()).rest(), wanted);
            return AddPolicy.checked(amended, members.get().pointer(), jsonCursor, on)
                    .map(fits -> new ChangePolicy((ObjectNode) jsonCursor.node(), id.get(), wanted));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            Set<String> paths = new HashSet<>();
            edit.path("members")
                    .fieldNames()
                    .forEachRemaining(m -> paths.add(ConflictPaths.policy(edit) + "/" + ConflictPaths.step(m)));
            return paths;
        }

        @Override
        public String schema() {
            return schema(
                    "name, description, state, owner or review; null takes a member away",
                    "\"policy\",\"members\"",
                    POLICY + ",\"members\":{\"type\":\"object\",\"additionalProperties\":true}");
        }
    };

    private final ObjectNode members;

    private ChangePolicy(ObjectNode sent, String policy, ObjectNode members) {
        super(sent, policy);
        this.members = members;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.put(policy(), policy(on).changed(members));
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode rest = policy(before).rest();
        ObjectNode inverse = form(KIND);
        ObjectNode old = inverse.putObject("members");
        members.fieldNames().forEachRemaining(m -> old.set(m, rest.has(m) ? rest.get(m) : Json.NODES.nullNode()));
        return Optional.of(inverse);
    }

    /** Only the state decides anything. */
    @Override
    public WriteSet footprint(Overlay before) {
        return members.has("state") ? super.footprint(before) : WriteSet.ofPolicy(policy(), List.of());
    }

    /** The members that are set; null for those taken away. Not to be changed. */
    public ObjectNode members() {
        return members;
    }
}
