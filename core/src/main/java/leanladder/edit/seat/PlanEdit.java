package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.estate.Plan;
import leanladder.json.Json;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** An edit of the purchases or the rules of one licence plan. */
public interface PlanEdit extends Edit {
    /** The id of the plan. */
    String plan();

    /** The plan as it is now. */
    default Plan planOn(Overlay on) {
        return on.part(EntityType.PLAN, plan()).orElseThrow();
    }

    /** The path of a member of the plan. */
    default String path(String member) {
        return ConflictPaths.of("plans", plan(), member);
    }

    /** Sets the rules of the plan. */
    default void setRules(List<ObjectNode> rules, Overlay on) {
        ArrayNode list = Json.NODES.arrayNode(rules.size());
        rules.forEach(list::add);
        on.amend(EntityType.PLAN, plan(), Json.NODES.objectNode().set("rules", list));
    }

    /** The rules of a plan as the estate file writes them, in a new list. */
    static List<ObjectNode> rules(Plan plan) {
        List<ObjectNode> rules = new ArrayList<>(plan.rules().size());
        plan.source().path("rules").forEach(r -> rules.add((ObjectNode) r));
        return rules;
    }

    @Override
    default Set<String> paths() {
        return Set.of(path("rules"));
    }
}
