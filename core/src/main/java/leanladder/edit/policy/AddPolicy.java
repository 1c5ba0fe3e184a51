package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.estate.Policy;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.PolicyDelta;
import org.jspecify.annotations.Nullable;

/** Adds a policy. It stands last in the ranking, or directly below one policy or above another. */
public record AddPolicy(
        @Member(schema = "Policy") ObjectNode policy,

        @Member(presence = Presence.OPTIONAL, names = "policy") @Nullable
        String below,

        @Member(presence = Presence.OPTIONAL, names = "policy") @Nullable
        String above)
        implements PolicyEdit {
    public static final EditKind KIND = EditKind.of(
            "add-policy",
            Duty.POLICIES,
            AddPolicy.class,
            "a new policy, last in the ranking, or directly below one policy or above another; without an id it is given one");

    @Override
    public AddPolicy apply(Overlay on, JsonCursor at) {
        ObjectNode body = policy.deepCopy();
        if (!body.has("id"))
            body.put("id", IdGenerator.generate(body.path("name").asText(""), "policy", on::hasPolicy));
        JsonCursor place = at.member("policy").orElseThrow();
        Optional<Policy> added = read(body, place.pointer(), at.defects(), on);
        String id = body.path("id").asText();
        if (added.isPresent() && on.hasPolicy(id)) {
            place.defect("has the id \"" + id + "\", which another policy has; leave the id out to be given one");
            return this;
        }
        added.ifPresent(p -> on.addPolicy(id, PolicyDelta.from(p), rank(on)));
        return new AddPolicy(body, below, above);
    }

    private int rank(Overlay on) {
        if (below != null) return on.ranking().indexOf(below) + 1;
        return above != null ? on.ranking().indexOf(above) : on.ranking().size();
    }

    /** Reads a policy as it would be; defects are reported at its pointer. */
    static Optional<Policy> read(ObjectNode body, String pointer, Defects defects, Overlay on) {
        Defects found = new Defects();
        Optional<Policy> policy = on.reader().policy(new JsonCursor(body, pointer, found));
        JsonNode name = body.path("name");
        if (name.isMissingNode() || name.isTextual() && name.textValue().isBlank())
            found.add(pointer + "/name", "must not be empty; name the policy for what it does");
        found.all().forEach(d -> defects.add(d.pointer(), d.message()));
        return found.isEmpty() ? policy : Optional.empty();
    }

    @Override
    public String policyId() {
        return policy.path("id").asText("");
    }
}
