package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.estate.Target;
import leanladder.workingcopy.Overlay;

/** Gives accounts a seat by name: a rule for each that includes it outright; exceptions that name it go. */
public final class AssignSeats extends SeatAssignmentEdit {
    public static final EditKind KIND = new SeatsKind("give-seats", "gives accounts a seat of a plan by name") {
        @Override
        Optional<String> whyNot(Account account, Plan plan) {
            if (!account.active())
                return Optional.of("is " + account.displayName() + ", who is inactive and holds no seats");
            if (!plan.kinds().contains(account.kind()))
                return Optional.of("is a " + account.kind().word() + ", and " + plan.name() + " is not for that kind");
            return Optional.empty();
        }

        @Override
        SeatAssignmentEdit edit(ObjectNode sent, Plan plan, Map<String, Account> accounts, Overlay on) {
            List<ObjectNode> rules = without(plan, accounts.keySet(), false);
            Set<String> named = new HashSet<>();
            for (Plan.Rule rule : plan.rules())
                if (rule.assignment().include()
                        && rule.off().isEmpty()
                        && rule.assignment().target() instanceof Target.AccountTarget account
                        && rule.assignment().window().edges().findAny().isEmpty()) named.add(account.id());
            List<String> fresh =
                    accounts.keySet().stream().filter(a -> !named.contains(a)).toList();
            return new AssignSeats(
                    sent, plan.id(), withRules(withNamed(rules, true, fresh)), List.copyOf(accounts.keySet()));
        }
    };

    private AssignSeats(ObjectNode sent, String plan, ObjectNode members, List<String> accounts) {
        super(KIND, sent, plan, members, accounts);
    }
}
