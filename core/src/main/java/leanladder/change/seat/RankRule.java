package leanladder.change.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.seat.PutRule.Rules;
import leanladder.document.Place;
import leanladder.estate.Plan;
import leanladder.tell.Wording;

/** Moves a rule of a plan above another, or to the end: those whom an earlier rule names claim first. */
public final class RankRule extends PlanEdit {
    public static final EditKind KIND = new Kind("rank-rule", "rules") {
        @Override
        public Optional<RankRule> read(Place place, Overlay on) {
            Optional<Plan> plan = known(place, on);
            Optional<Place> written = place.required("rule");
            if (plan.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Integer> at = Rules.known(written.get(), plan.get(), on);
            Optional<Integer> above = Rules.above(place, plan.get(), on);
            if (at.isEmpty() || above.isEmpty()) return Optional.empty();
            List<ObjectNode> rules = rules(plan.get());
            ObjectNode moved = rules.remove((int) at.get());
            rules.add(above.get() > at.get() ? above.get() - 1 : above.get(), moved);
            return Optional.of(new RankRule(
                    (ObjectNode) place.node(),
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
                    PLAN + ",\"rule\":" + Rules.SCHEMA + ",\"above\":" + Rules.NEIGHBOUR_SCHEMA);
        }
    };

    private final Plan.Rule rule;
    private final Optional<Plan.Rule> above;

    private RankRule(ObjectNode sent, String plan, ObjectNode members, Plan.Rule rule, Optional<Plan.Rule> above) {
        super(KIND, sent, plan, members);
        this.rule = rule;
        this.above = above;
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return "The rule of " + name(before) + " that " + Rules.words(rule, before, wording) + " moves "
                + above.map(a -> "above the one that " + Rules.words(a, before, wording))
                        .orElse("to the end");
    }
}
