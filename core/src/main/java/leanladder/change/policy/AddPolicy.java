package leanladder.change.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.EditedPolicy;
import leanladder.change.overlay.Footprint;
import leanladder.change.overlay.FreeId;
import leanladder.change.overlay.Overlay;
import leanladder.document.Defects;
import leanladder.document.Place;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.tell.Wording;

/** A new policy. It stands last in the ranking, or directly below one policy or above another. */
public final class AddPolicy extends PolicyEdit {
    public static final EditKind KIND = new Kind("add-policy") {
        @Override
        public Optional<AddPolicy> read(Place place, Overlay on) {
            Optional<Place> named = place.required("policy");
            if (named.isEmpty() || !named.get().isObject()) return Optional.empty();
            ObjectNode body = ((ObjectNode) named.get().node()).deepCopy();
            if (!body.has("id")) body.put("id", FreeId.of(body.path("name").asText(""), "policy", on::hasPolicy));
            int before = place.defects().size();
            Optional<Policy> policy = checked(body, named.get().pointer(), place, on);
            if (policy.isEmpty() || place.defects().size() > before) return Optional.empty();
            String id = policy.get().id();
            if (on.hasPolicy(id)) {
                named.get()
                        .defect("has the id \"" + id
                                + "\", which another policy has; leave the id out to be given one");
                return Optional.empty();
            }
            ObjectNode whole = ((ObjectNode) place.node()).deepCopy();
            whole.set("policy", body);
            Optional<String> below = neighbour(place, "below", on);
            Optional<String> above = neighbour(place, "above", on);
            return place.defects().size() > before
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
    static Optional<Policy> checked(ObjectNode body, String pointer, Place place, Overlay on) {
        Defects found = new Defects();
        Optional<Policy> policy = on.reader().policy(new Place(body, pointer, found));
        JsonNode name = body.path("name");
        if (name.isMissingNode() || name.isTextual() && name.textValue().isBlank())
            found.add(pointer + "/name", "must not be empty; name the policy for what it does");
        found.all().forEach(d -> place.defects().add(d.pointer(), d.message()));
        return found.isEmpty() ? policy : Optional.empty();
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void carryOut(Overlay on) {
        int last = above.map(on.ranking()::indexOf).orElse(on.ranking().size());
        int at = below.map(o -> on.ranking().indexOf(o) + 1).orElse(last);
        on.add(policy(), EditedPolicy.of(added), at);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return Optional.of(form(RemovePolicy.KIND));
    }

    @Override
    public String words(Overlay before, Wording wording) {
        int statements = added.statements().size();
        return added.name() + " is new, with "
                + (statements == 1 ? "one statement" : statements == 0 ? "no statement" : statements + " statements");
    }

    @Override
    public Footprint footprint(Overlay before) {
        return Footprint.ofPolicy(
                policy(), added.statements().stream().map(Statement::setting).collect(Collectors.toSet()));
    }
}
