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

/** Moves a rule of a plan above another, or to the end: those whom an earlier rule names claim first. */
public record MoveRule(
        @Member(names = "plan") String plan,
        @Member(schema = "RuleForm") ObjectNode rule,

        @Member(presence = Presence.NULLABLE, schema = "RuleForm") @Nullable
        ObjectNode above)
        implements PlanEdit {
    public static final EditKind KIND = EditKind.of(
            "rank-rule",
            EntityType.PLAN.duty(),
            MoveRule.class,
            "moves a rule of a plan above another; with null, to the end");

    @Override
    public MoveRule apply(Overlay on, JsonCursor at) {
        Plan current = planOn(on);
        Optional<Integer> from = PlanRules.position(at.member("rule").orElseThrow(), current, on);
        Optional<Integer> to = PlanRules.above(at, current, on);
        if (from.isEmpty() || to.isEmpty()) return this;
        List<ObjectNode> rules = PlanEdit.rules(current);
        ObjectNode moved = rules.remove((int) from.get());
        rules.add(to.get() > from.get() ? to.get() - 1 : to.get(), moved);
        setRules(rules, on);
        return this;
    }
}
