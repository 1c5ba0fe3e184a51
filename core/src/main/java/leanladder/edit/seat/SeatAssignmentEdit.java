package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.edit.ConflictPaths;
import leanladder.estate.Plan;
import leanladder.estate.Target;
import leanladder.json.CodePointOrder;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/**
 * What giving seats to accounts by name and taking them have in common. Both write rules; the ledger follows by itself. Linear in the
 * rules and the accounts together, however many there are.
 */
public interface SeatAssignmentEdit extends PlanEdit {
    /** Ids of the accounts. */
    List<String> accounts();

    @Override
    default Set<String> paths() {
        return accounts().stream()
                .map(account -> path("rules") + "/" + ConflictPaths.of("account:" + account))
                .collect(Collectors.toSet());
    }

    /** The accounts of an edit, each at its place; a defect where there are none. */
    static List<JsonCursor> items(JsonCursor at) {
        JsonCursor list = at.member("accounts").orElseThrow();
        if (list.node().isEmpty()) list.defect("must name at least one account");
        return list.items();
    }

    /** The rules of a plan but for those that name one of the accounts. */
    static List<ObjectNode> without(Plan plan, Set<String> accounts, boolean include) {
        List<ObjectNode> written = PlanEdit.rules(plan);
        List<ObjectNode> left = new ArrayList<>(written.size());
        for (int i = 0; i < written.size(); i++) {
            Plan.Rule rule = plan.rules().get(i);
            boolean named = rule.assignment().include() == include
                    && rule.assignment().target() instanceof Target.AccountTarget account
                    && accounts.contains(account.id());
            if (!named) left.add(written.get(i));
        }
        return left;
    }

    /** The accounts that rules of a plan include, or except, by name and without an end. */
    static Set<String> namedForGood(Plan plan, boolean include) {
        return plan.rules().stream()
                .filter(rule ->
                        rule.assignment().include() == include && rule.off().isEmpty())
                .filter(rule -> rule.assignment().window().edges().findAny().isEmpty())
                .flatMap(rule -> rule.assignment().target() instanceof Target.AccountTarget account
                        ? Stream.of(account.id())
                        : Stream.empty())
                .collect(Collectors.toSet());
    }

    /**
     * Puts rules that name accounts among those at the end that do, which then stand in the order of {@link #named}, exceptions first and
     * then by id: whoever names whom first, the rules come out the same. A rule that stands above one for many keeps its place. Linear in
     * both, but for sorting.
     */
    static List<ObjectNode> withNamed(List<ObjectNode> rules, boolean include, Collection<String> accounts) {
        int end = rules.size();
        while (end > 0 && named(rules.get(end - 1)).isPresent()) end--;
        List<ObjectNode> all = new ArrayList<>(rules);
        accounts.forEach(a -> all.add(Json.NODES.objectNode().put(include ? "include" : "except", "account:" + a)));
        all.subList(end, all.size())
                .sort(Comparator.comparing(rule -> named(rule).orElseThrow(), CodePointOrder.TEXTS));
        return all;
    }

    private static Optional<String> named(ObjectNode rule) {
        boolean include = rule.has("include");
        String target = rule.path(include ? "include" : "except").asText();
        return target.startsWith("account:")
                ? Optional.of((include ? "include " : "except ") + target.substring("account:".length()))
                : Optional.empty();
    }
}
