package leanladder.edit.seat;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Plan;
import leanladder.estate.Target;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/**
 * Takes the seat of accounts: rules that include one outright go, and where the plan includes units or groups the account is excepted
 * by name, so that it has no seat wherever it is moved, until it is given one.
 */
public record RevokeSeats(
        @Member(names = "plan") String plan,
        @Member(names = "account") List<String> accounts) implements SeatAssignmentEdit {
    public static final EditKind KIND = EditKind.of(
            "take-seats", EntityType.PLAN.duty(), RevokeSeats.class, "takes the seat of accounts of a plan");

    @Override
    public RevokeSeats apply(Overlay on, JsonCursor at) {
        if (SeatAssignmentEdit.items(at).isEmpty()) return this;
        Plan current = planOn(on);
        Set<String> excepted = SeatAssignmentEdit.namedForGood(current, false);
        boolean forMany = current.rules().stream()
                .anyMatch(r -> r.assignment().include() && !(r.assignment().target() instanceof Target.AccountTarget));
        Set<String> all = new LinkedHashSet<>(accounts);
        setRules(
                SeatAssignmentEdit.withNamed(
                        SeatAssignmentEdit.without(current, all, true),
                        false,
                        all.stream()
                                .filter(account -> forMany && !excepted.contains(account))
                                .toList()),
                on);
        return this;
    }
}
