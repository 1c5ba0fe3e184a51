package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Plan;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Removes a rule of a plan. */
public record RemoveRule(
        @Member(names = "plan") String plan,
        @Member(schema = "RuleForm") ObjectNode rule) implements PlanEdit {
    public static final EditKind KIND =
            EditKind.of("remove-rule", EntityType.PLAN.duty(), RemoveRule.class, "takes a rule of a plan away");

    @Override
    public RemoveRule apply(Overlay on, JsonCursor at) {
        Plan current = planOn(on);
        PlanRules.position(at.member("rule").orElseThrow(), current, on).ifPresent(position -> {
            List<ObjectNode> rules = PlanEdit.rules(current);
            rules.remove((int) position);
            setRules(rules, on);
        });
        return this;
    }
}
