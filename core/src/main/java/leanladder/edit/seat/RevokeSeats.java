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

/**
 * Takes the seat of accounts: rules that include one outright go, and where the plan includes units or groups the account is excepted
 * by name, so that it has no seat wherever it is moved, until it is given one.
 */
public final class RevokeSeats extends SeatAssignmentEdit {
    public static final EditKind KIND = new SeatsKind("take-seats", "takes the seat of accounts of a plan") {
        @Override
        Optional<String> whyNot(Account account, Plan plan) {
            return Optional.empty();
        }

        @Override
        SeatAssignmentEdit edit(ObjectNode sent, Plan plan, Map<String, Account> accounts, Overlay on) {
            List<ObjectNode> rules = without(plan, accounts.keySet(), true);
            Set<String> excepted = exceptedForGood(plan);
            boolean forMany = plan.rules().stream()
                    .anyMatch(r ->
                            r.assignment().include() && !(r.assignment().target() instanceof Target.AccountTarget));
            List<String> fresh = accounts.keySet().stream()
                    .filter(a -> forMany && !excepted.contains(a))
                    .toList();
            return new RevokeSeats(
                    sent, plan.id(), withRules(withNamed(rules, false, fresh)), List.copyOf(accounts.keySet()));
        }
    };

    private RevokeSeats(ObjectNode sent, String plan, ObjectNode members, List<String> accounts) {
        super(KIND, sent, plan, members, accounts);
    }

    private static Set<String> exceptedForGood(Plan plan) {
        Set<String> excepted = new HashSet<>();
        for (Plan.Rule rule : plan.rules())
            if (!rule.assignment().include()
                    && rule.assignment().window().edges().findAny().isEmpty()
                    && rule.assignment().target() instanceof Target.AccountTarget named) excepted.add(named.id());
        return excepted;
    }
}
