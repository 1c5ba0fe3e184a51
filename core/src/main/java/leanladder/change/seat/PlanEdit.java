package leanladder.change.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.AmendingEdit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Plan;

/** What edits have in common that set some members of one licence plan: its purchases or its rules. */
abstract class PlanEdit extends AmendingEdit<Plan> {
    static final String PLAN = "\"plan\":{\"type\":\"string\"}";

    /** @param members what the edit comes to: members of the plan, null for those taken away */
    PlanEdit(EditKind kind, ObjectNode sent, String plan, ObjectNode members) {
        super(kind, sent, PartType.PLAN, plan, members);
    }

    /** A kind of edit of one plan. */
    abstract static class Kind extends EditKind {
        private final String path;

        /** @param path the member of a plan that is edited */
        Kind(String name, String path) {
            super(name, Right.SEATS);
            this.path = path;
        }

        /** The plan that an edit names; a defect when there is none of this id. */
        static Optional<Plan> known(Place place, Overlay on) {
            Optional<Place> named = place.required("plan");
            Optional<String> id = named.flatMap(Place::id);
            Optional<Plan> plan = id.flatMap(i -> on.part(PartType.PLAN, i));
            if (id.isPresent() && plan.isEmpty())
                named.get().defect("names the plan \"" + id.get() + "\", which does not exist (any more)");
            return plan;
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit));
        }

        final String path(JsonNode edit) {
            return "plans/" + Paths.step(Paths.id(edit, "plan")) + "/" + path;
        }
    }

    /** The rules of a plan as the estate file writes them, in a list of one's own. */
    static List<ObjectNode> rules(Plan plan) {
        List<ObjectNode> rules = new ArrayList<>(plan.rules().size());
        plan.source().path("rules").forEach(r -> rules.add((ObjectNode) r));
        return rules;
    }

    /** The members of a plan that has these rules. */
    static ObjectNode withRules(List<ObjectNode> rules) {
        ObjectNode members = Json.NODES.objectNode();
        ArrayNode list = members.putArray("rules");
        rules.forEach(list::add);
        return members;
    }

    @Override
    public Tally tally() {
        return new Tally("one licence plan is edited", "# edits of licence plans");
    }
}
