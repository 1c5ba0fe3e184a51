package leanladder.edit.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.edit.UpdateEdit;
import leanladder.estate.Plan;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** What edits have in common that set some members of one licence plan: its purchases or its rules. */
public abstract class PlanEdit extends UpdateEdit<Plan> {
    static final String PLAN = "\"plan\":{\"type\":\"string\"}";

    /** @param members what the edit comes to: members of the plan, null for those taken away */
    PlanEdit(EditKind kind, ObjectNode sent, String plan, ObjectNode members) {
        super(kind, sent, EntityType.PLAN, plan, members);
    }

    /** A kind of edit of one plan. */
    abstract static class PlanEditKind extends EditKind {
        private final String path;

        /** @param path the member of a plan that is edited */
        PlanEditKind(String name, String path) {
            super(name, Duty.SEATS);
            this.path = path;
        }

        /** The plan that an edit names; a defect when there is none of this id. */
        static Optional<Plan> known(JsonCursor jsonCursor, Overlay on) {
            Optional<JsonCursor> named = jsonCursor.required("plan");
            Optional<String> id = named.flatMap(JsonCursor::id);
            Optional<Plan> plan = id.flatMap(i -> on.part(EntityType.PLAN, i));
            if (id.isPresent() && plan.isEmpty())
                named.get().defect("names the plan \"" + id.get() + "\", which does not exist (any more)");
            return plan;
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit));
        }

        final String path(JsonNode edit) {
            return "plans/" + ConflictPaths.step(ConflictPaths.id(edit, "plan")) + "/" + path;
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
}
