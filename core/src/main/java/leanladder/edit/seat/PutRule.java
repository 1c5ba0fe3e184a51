package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.estate.Plan;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/** Adds a rule to a plan, above another or as the last. */
public record PutRule(
        @Member(names = "plan") String plan,
        @Member(schema = "RuleForm") ObjectNode rule,

        @Member(presence = Presence.OPTIONAL, schema = "RuleForm") @Nullable
        ObjectNode above)
        implements PlanEdit {
    public static final EditKind KIND = EditKind.of(
            "put-rule",
            EntityType.PLAN.duty(),
            PutRule.class,
            "adds a rule to a plan; without above, or with null, as the last");

    @Override
    public PutRule apply(Overlay on, JsonCursor at) {
        Plan current = planOn(on);
        JsonCursor place = at.member("rule").orElseThrow();
        Optional<Plan.Rule> added = PlanRules.read(place, current, on);
        Optional<Integer> position = PlanRules.above(at, current, on);
        if (added.isEmpty() || position.isEmpty()) return this;
        if (current.rules().contains(added.get())) {
            place.defect("is a rule of the plan already");
            return this;
        }
        List<ObjectNode> rules = PlanEdit.rules(current);
        rules.add(position.get(), rule);
        setRules(rules, on);
        return this;
    }
}
