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

/** Takes a rule of a plan away. */
public final class RemoveRule extends PlanEdit {
    public static final EditKind KIND = new Kind("remove-rule", "rules") {
        @Override
        public Optional<RemoveRule> read(Place place, Overlay on) {
            Optional<Plan> plan = known(place, on);
            Optional<Place> written = place.required("rule");
            if (plan.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Integer> at = Rules.known(written.get(), plan.get(), on);
            if (at.isEmpty()) return Optional.empty();
            List<ObjectNode> rules = rules(plan.get());
            rules.remove((int) at.get());
            return Optional.of(new RemoveRule(
                    (ObjectNode) place.node(),
                    plan.get().id(),
                    withRules(rules),
                    plan.get().rules().get(at.get())));
        }

        @Override
        public String schema() {
            return schema("takes a rule of a plan away", "\"plan\",\"rule\"", PLAN + ",\"rule\":" + Rules.SCHEMA);
        }
    };

    private final Plan.Rule rule;

    private RemoveRule(ObjectNode sent, String plan, ObjectNode members, Plan.Rule rule) {
        super(KIND, sent, plan, members);
        this.rule = rule;
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + " no longer " + Rules.words(rule, before, wording);
    }
}
