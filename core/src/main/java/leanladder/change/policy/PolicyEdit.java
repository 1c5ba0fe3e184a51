package leanladder.change.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.change.overlay.Edit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.EditedPolicy;
import leanladder.change.overlay.Footprint;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Json;
import leanladder.document.Place;

/** What edits of one policy have in common. */
abstract class PolicyEdit implements Edit {
    static final String POLICY = "\"policy\":{\"type\":\"string\"}";

    private final ObjectNode sent;
    private final String policy;

    PolicyEdit(ObjectNode sent, String policy) {
        this.sent = sent;
        this.policy = policy;
    }

    /** A kind of edit of one policy. */
    abstract static class Kind extends EditKind {
        Kind(String name) {
            super(name, Right.POLICIES);
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(Paths.policy(edit));
        }

        /** The policy that an edit names; a defect when there is none of this id. */
        static Optional<String> known(Place place, Overlay on) {
            return place.required("policy").flatMap(p -> known(p, p.id(), on));
        }

        private static Optional<String> known(Place place, Optional<String> id, Overlay on) {
            id.filter(i -> !on.hasPolicy(i))
                    .ifPresent(i -> place.defect("names the policy \"" + i + "\", which does not exist (any more)"));
            return id.filter(on::hasPolicy);
        }

        /** The policy beside which another shall stand, where one is named; a defect when there is none of this id. */
        static Optional<String> neighbour(Place place, String side, Overlay on) {
            return place.member(side).filter(p -> !p.node().isNull()).flatMap(p -> known(p, p.id(), on));
        }
    }

    /** The id of the policy that is edited, or comes to exist. */
    final String policy() {
        return policy;
    }

    final EditedPolicy policy(Overlay on) {
        return on.policy(policy);
    }

    @Override
    public ObjectNode json() {
        return sent;
    }

    /** An edit of another kind on the same policy. */
    final ObjectNode form(EditKind kind) {
        return Json.NODES.objectNode().put("kind", kind.name()).put("policy", policy);
    }

    @Override
    public Footprint footprint(Overlay before) {
        return Footprint.ofPolicy(policy, before.policy(policy).settings());
    }

    @Override
    public Tally tally() {
        return new Tally("one further edit of policies", "# further edits of policies");
    }

    static String title(Overlay on, String key) {
        return on.setting(key).map(Setting::title).orElse(key);
    }
}
