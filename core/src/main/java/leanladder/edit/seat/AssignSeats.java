package leanladder.edit.seat;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Gives accounts a seat by name: a rule for each that includes it outright; exceptions that name it go. */
public record AssignSeats(
        @Member(names = "plan") String plan,
        @Member(names = "account") List<String> accounts) implements SeatAssignmentEdit {
    public static final EditKind KIND = EditKind.of(
            "give-seats", EntityType.PLAN.duty(), AssignSeats.class, "gives accounts a seat of a plan by name");

    @Override
    public AssignSeats apply(Overlay on, JsonCursor at) {
        int found = at.defects().size();
        Plan current = planOn(on);
        for (JsonCursor item : SeatAssignmentEdit.items(at))
            whyNot(on.part(EntityType.ACCOUNT, item.node().asText()).orElseThrow(), current)
                    .ifPresent(item::defect);
        if (at.defects().size() > found) return this;
        Set<String> named = SeatAssignmentEdit.namedForGood(current, true);
        Set<String> fresh = new LinkedHashSet<>(accounts);
        setRules(
                SeatAssignmentEdit.withNamed(
                        SeatAssignmentEdit.without(current, fresh, false),
                        true,
                        fresh.stream()
                                .filter(account -> !named.contains(account))
                                .toList()),
                on);
        return this;
    }

    private static Optional<String> whyNot(Account account, Plan plan) {
        if (!account.active())
            return Optional.of("is " + account.displayName() + ", who is inactive and holds no seats");
        if (!plan.kinds().contains(account.kind()))
            return Optional.of("is a " + account.kind().word() + ", and " + plan.name() + " is not for that kind");
        return Optional.empty();
    }
}
