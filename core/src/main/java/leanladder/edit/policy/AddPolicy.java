package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.edit.EditKind;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.PolicyDelta;
import leanladder.workingcopy.WriteSet;

/** A new policy. It stands last in the ranking, or directly below one policy or above another. */
public final class AddPolicy extends PolicyEdit {
    public static final EditKind KIND = new PolicyEditKind("add-policy") {
        @Override
        public Optional<AddPolicy> read(JsonCursor jsonCursor, Overlay on) {
            Optional<JsonCursor> named = jsonCursor.required("policy");
            if (named.isEmpty() || !named.get().isObject()) return Optional.empty();
            ObjectNode body = ((ObjectNode) named.get().node()).deepCopy();
            if (!body.has("id"))
                body.put("id", IdGenerator.generate(body.path("name").asText(""), "policy", on::hasPolicy));
            int before = jsonCursor.defects().size();
            Optional<Policy> policy = checked(body, named.get().pointer(), jsonCursor, on);
            if (policy.isEmpty() || jsonCursor.defects().size() > before) return Optional.empty();
            String id = policy.get().id();
            if (on.hasPolicy(id)) {
                named.get()
                        .defect("has the id \"" + id
                                + "\", which another policy has; leave the id out to be given one");
                return Optional.empty();
            }
            ObjectNode whole = ((ObjectNode) jsonCursor.node()).deepCopy();
            whole.set("policy", body);
            Optional<String> below = neighbour(jsonCursor, "below", on);
            Optional<String> above = neighbour(jsonCursor, "above", on);
            return jsonCursor.defects().size() > before
                    ? Optional.empty()
                    : Optional.of(new AddPolicy(whole, policy.get(), below, above));
        }

        @Override
        public String schema() {
            return schema(
                    "a new policy, last in the ranking, or directly below one policy or above another; without an id it is given one",
                    "\"policy\"",
                    "\"policy\":{\"$ref\":\"#/components/schemas/Policy\"},\"below\":{\"type\":[\"string\",\"null\"]},\"above\":{\"type\":[\"string\",\"null\"]}");
        }
    };

    private final Policy added;
    private final Optional<String> below;
    private final Optional<String> above;

    private AddPolicy(ObjectNode whole, Policy added, Optional<String> below, Optional<String> above) {
        super(whole, added.id());
        this.added = added;
        this.below = below;
        this.above = above;
    }

    /** Reads a policy as it would be; defects are reported at its pointer. */
    static Optional<Policy> checked(ObjectNode body, String pointer, JsonCursor jsonCursor, Overlay on) {
        Defects found = new Defects();
        Optional<Policy> policy = on.reader().policy(new JsonCursor(body, pointer, found));
        JsonNode name = body.path("name");
        if (name.isMissingNode() || name.isTextual() && name.textValue().isBlank())
            found.add(pointer + "/name", "must not be empty; name the policy for what it does");
        found.all().forEach(d -> jsonCursor.defects().add(d.pointer(), d.message()));
        return found.isEmpty() ? policy : Optional.empty();
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        int last = above.map(on.ranking()::indexOf).orElse(on.ranking().size());
        int at = below.map(o -> on.ranking().indexOf(o) + 1).orElse(last);
        on.add(policy(), PolicyDelta.from(added), at);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return Optional.of(form(RemovePolicy.KIND));
    }

    @Override
    public WriteSet footprint(Overlay before) {
        return WriteSet.ofPolicy(
                policy(), added.statements().stream().map(Statement::setting).collect(Collectors.toSet()));
    }

    /** The policy that comes to exist. */
    public Policy added() {
        return added;
    }
}
