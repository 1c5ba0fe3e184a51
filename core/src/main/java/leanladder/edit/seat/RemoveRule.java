package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.seat.PutRule.PlanRuleParser;
import leanladder.estate.Plan;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Takes a rule of a plan away. */
public final class RemoveRule extends PlanEdit {
    public static final EditKind KIND = new PlanEditKind("remove-rule", "rules") {
        @Override
        public Optional<RemoveRule> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Plan> plan = known(jsonCursor, on);
            Optional<JsonCursor> written = jsonCursor.required("rule");
            if (plan.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Integer> at = PlanRuleParser.known(written.get(), plan.get(), on);
            if (at.isEmpty()) return Optional.empty();
            List<ObjectNode> rules = rules(plan.get());
            rules.remove((int) at.get());
            return Optional.of(new RemoveRule(
                    (ObjectNode) jsonCursor.node(),
                    plan.get().id(),
                    withRules(rules),
                    plan.get().rules().get(at.get())));
        }

        @Override
        public String schema() {
            return schema(
                    "takes a rule of a plan away", "\"plan\",\"rule\"", PLAN + ",\"rule\":" + PlanRuleParser.SCHEMA);
        }
    };

    private final Plan.Rule rule;

    private RemoveRule(ObjectNode sent, String plan, ObjectNode members, Plan.Rule rule) {
        super(KIND, sent, plan, members);
        this.rule = rule;
    }

    /** The rule that is removed. */
    public Plan.Rule rule() {
        return rule;
    }
}
