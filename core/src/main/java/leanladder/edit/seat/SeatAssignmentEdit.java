package leanladder.edit.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.estate.Target;
import leanladder.json.CodePointOrder;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/**
 * What giving seats to accounts by name and taking them have in common. Both write rules; the ledger follows by itself. Linear in the
 * rules and the accounts together, however many there are.
 */
public abstract class SeatAssignmentEdit extends PlanEdit {
    private final List<String> accounts;

    SeatAssignmentEdit(EditKind kind, ObjectNode sent, String plan, ObjectNode members, List<String> accounts) {
        super(kind, sent, plan, members);
        this.accounts = accounts;
    }

    /** A kind of edit that names accounts. */
    abstract static class SeatsKind extends PlanEditKind {
        private final String description;

        SeatsKind(String name, String description) {
            super(name, "rules");
            this.description = description;
        }

        @Override
        public final String schema() {
            return schema(
                    description,
                    "\"plan\",\"accounts\"",
                    PLAN + ",\"accounts\":{\"type\":\"array\",\"minItems\":1,\"items\":{\"type\":\"string\"}}");
        }

        @Override
        public final Optional<? extends SeatAssignmentEdit> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Plan> plan = known(jsonCursor, on);
            Optional<JsonCursor> list = jsonCursor.required("accounts");
            if (plan.isEmpty() || list.isEmpty()) return Optional.empty();
            int before = jsonCursor.defects().size();
            Map<String, Account> accounts = new LinkedHashMap<>();
            for (JsonCursor item : list.get().items()) {
                Optional<String> id = item.id();
                Optional<Account> account = id.flatMap(i -> on.part(EntityType.ACCOUNT, i));
                if (id.isPresent() && account.isEmpty())
                    item.defect("names the account \"" + id.get() + "\", which does not exist (any more)");
                account.ifPresent(a -> whyNot(a, plan.get()).ifPresent(why -> item.defect(why)));
                account.ifPresent(a -> accounts.put(a.id(), a));
            }
            if (list.get().node().isArray() && list.get().node().isEmpty())
                list.get().defect("must name at least one account");
            if (jsonCursor.defects().size() > before) return Optional.empty();
            return Optional.of(edit((ObjectNode) jsonCursor.node(), plan.get(), accounts, on));
        }

        abstract Optional<String> whyNot(Account account, Plan plan);

        abstract SeatAssignmentEdit edit(ObjectNode sent, Plan plan, Map<String, Account> accounts, Overlay on);

        @Override
        public final Set<String> paths(JsonNode edit) {
            Set<String> paths = new HashSet<>();
            edit.path("accounts").forEach(a -> paths.add(path(edit) + "/account:" + ConflictPaths.step(a.asText())));
            return paths;
        }
    }

    /** The rules of a plan but for those that name one of the accounts. */
    static List<ObjectNode> without(Plan plan, Set<String> accounts, boolean include) {
        List<ObjectNode> written = rules(plan);
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

    private static String named(boolean include, String account) {
        return (include ? "include " : "except ") + account;
    }

    private static Optional<String> named(ObjectNode rule) {
        boolean include = rule.has("include");
        String target = rule.path(include ? "include" : "except").asText();
        return target.startsWith("account:")
                ? Optional.of(named(include, target.substring("account:".length())))
                : Optional.empty();
    }

    /** Ids of the accounts. */
    public List<String> accounts() {
        return accounts;
    }
}
