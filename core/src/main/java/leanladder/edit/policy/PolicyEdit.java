package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.PolicyDelta;
import leanladder.workingcopy.WriteSet;

/** What edits of one policy have in common. */
public abstract class PolicyEdit implements Edit {
    static final String POLICY = "\"policy\":{\"type\":\"string\"}";

    private final ObjectNode sent;
    private final String policy;

    PolicyEdit(ObjectNode sent, String policy) {
        this.sent = sent;
        this.policy = policy;
    }

    /** A kind of edit of one policy. */
    abstract static class PolicyEditKind extends EditKind {
        PolicyEditKind(String name) {
            super(name, Duty.POLICIES);
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(ConflictPaths.policy(edit));
        }

        /** The policy that an edit names; a defect when there is none of this id. */
        static Optional<String> known(JsonCursor jsonCursor, Overlay on) {
            return jsonCursor.required("policy").flatMap(p -> known(p, p.id(), on));
        }

        private static Optional<String> known(JsonCursor jsonCursor, Optional<String> id, Overlay on) {
            id.filter(i -> !on.hasPolicy(i))
                    .ifPresent(
                            i -> jsonCursor.defect("names the policy \"" + i + "\", which does not exist (any more)"));
            return id.filter(on::hasPolicy);
        }

        /** The policy beside which another shall stand, where one is named; a defect when there is none of this id. */
        static Optional<String> neighbour(JsonCursor jsonCursor, String side, Overlay on) {
            return jsonCursor.member(side).filter(p -> !p.node().isNull()).flatMap(p -> known(p, p.id(), on));
        }
    }

    /** The id of the policy that is edited, or comes to exist. */
    public final String policy() {
        return policy;
    }

    final PolicyDelta policy(Overlay on) {
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
    public WriteSet footprint(Overlay before) {
        return WriteSet.ofPolicy(policy, before.policy(policy).settings());
    }
}
