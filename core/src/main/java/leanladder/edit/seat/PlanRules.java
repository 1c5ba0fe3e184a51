package leanladder.edit.seat;

import java.util.Optional;
import leanladder.estate.Plan;
import leanladder.estate.read.EntityParsers;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Rules of a plan as edits name them: each by the whole of it. */
final class PlanRules {
    private PlanRules() {}

    /** A rule; what does not fit is reported. */
    static Optional<Plan.Rule> read(JsonCursor rule, Plan plan, Overlay on) {
        int found = rule.defects().size();
        Optional<Plan.Rule> read = EntityParsers.rule(rule, plan, on.reader());
        return rule.defects().size() > found ? Optional.empty() : read;
    }

    /** The position of a rule among those of a plan; a defect where it is none of them. */
    static Optional<Integer> position(JsonCursor rule, Plan plan, Overlay on) {
        Optional<Plan.Rule> read = read(rule, plan, on);
        Optional<Integer> at = read.map(plan.rules()::indexOf).filter(i -> i >= 0);
        if (read.isPresent() && at.isEmpty()) rule.defect("is no rule of " + plan.name() + " (any more)");
        return at;
    }

    /** The position of the rule that the member {@code above} names; after all rules where it names none. */
    static Optional<Integer> above(JsonCursor edit, Plan plan, Overlay on) {
        Optional<JsonCursor> above =
                edit.member("above").filter(rule -> !rule.node().isNull());
        return above.isEmpty() ? Optional.of(plan.rules().size()) : position(above.get(), plan, on);
    }
}
