package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.seat.PutRule.PlanRuleParser;
import leanladder.estate.Plan;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Moves a rule of a plan above another, or to the end: those whom an earlier rule names claim first. */
public final class MoveRule extends PlanEdit {
    public static final EditKind KIND = new PlanEditKind("rank-rule", "rules") {
        @Override
        public Optional<MoveRule> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Plan> plan = known(jsonCursor, on);
            Optional<JsonCursor> written = jsonCursor.required("rule");
            if (plan.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Integer> at = PlanRuleParser.known(written.get(), plan.get(), on);
            Optional<Integer> above = PlanRuleParser.above(jsonCursor, plan.get(), on);
            if (at.isEmpty() || above.isEmpty()) return Optional.empty();
            List<ObjectNode> rules = rules(plan.get());
            ObjectNode moved = rules.remove((int) at.get());
            rules.add(above.get() > at.get() ? above.get() - 1 : above.get(), moved);
            return Optional.of(new MoveRule(
                    (ObjectNode) jsonCursor.node(),
                    plan.get().id(),
                    withRules(rules),
                    plan.get().rules().get(at.get()),
                    Optional.of(above.get())
                            .filter(i -> i < plan.get().rules().size())
                            .map(plan.get().rules()::get)));
        }

        @Override
        public String schema() {
            return schema(
                    "moves a rule of a plan above another; with null, to the end",
                    "\"plan\",\"rule\",\"above\"",
                    PLAN + ",\"rule\":" + PlanRuleParser.SCHEMA + ",\"above\":" + PlanRuleParser.NEIGHBOUR_SCHEMA);
        }
    };

    private final Plan.Rule rule;
    private final Optional<Plan.Rule> above;

    private MoveRule(ObjectNode sent, String plan, ObjectNode members, Plan.Rule rule, Optional<Plan.Rule> above) {
        super(KIND, sent, plan, members);
        this.rule = rule;
        this.above = above;
    }

    /** The rule that moves. */
    public Plan.Rule rule() {
        return rule;
    }

    /** The rule above which it moves; empty where it goes to the end. */
    public Optional<Plan.Rule> above() {
        return above;
    }
}
