package leanladder.estate;

import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.Catalogue;
import leanladder.text.CodePointOrder;

/**
 * Everything that decides outcomes, checked: every reference holds. Lists without an order of their own are sorted by id,
 * so that two files that say the same make equal estates.
 */
public final class Estate {
    private final Organisation organisation;
    private final List<Unit> units;
    private final List<Account> accounts;
    private final List<Group> groups;
    private final List<Workspace> workspaces;
    private final Catalogue catalogue;
    private final List<Policy> policies;
    private final List<Plan> plans;
    private final List<Ring> rings;
    private final Map<String, Release> releases;
    private final Map<String, Policy> policyById = new HashMap<>();
    private final Map<String, Integer> rank = new HashMap<>();
    private final Map<String, Account> accountById;

    /** Takes parts that the reader has checked; {@code ranking} names policies, strongest first. */
    Estate(
            Organisation organisation,
            List<Unit> units,
            List<Account> accounts,
            List<Group> groups,
            List<Workspace> workspaces,
            Catalogue catalogue,
            List<Policy> policies,
            List<String> ranking,
            List<Plan> plans,
            List<Ring> rings,
            List<Release> releases) {
        this.organisation = organisation;
        this.units = sorted(units, Unit::id);
        this.accounts = sorted(accounts, Account::id);
        this.groups = sorted(groups, Group::id);
        this.workspaces = sorted(workspaces, Workspace::id);
        this.catalogue = catalogue;
        this.plans = sorted(plans, Plan::id);
        this.rings = List.copyOf(rings);
        this.releases = new HashMap<>();
        releases.forEach(r -> this.releases.put(r.setting(), r));
        this.accountById = new HashMap<>(accounts.size() * 2);
        this.accounts.forEach(a -> accountById.put(a.id(), a));
        ranking.forEach(id -> rank.put(id, rank.size()));
        List<Policy> byId = sorted(policies, Policy::id);
        byId.forEach(p -> rank.putIfAbsent(p.id(), rank.size()));
        byId.forEach(p -> policyById.put(p.id(), p));
        this.policies = byId.stream()
                .sorted(Comparator.comparing(p -> rank.get(p.id())))
                .toList();
    }

    private static <T> List<T> sorted(List<T> parts, java.util.function.Function<T, String> id) {
        return parts.stream()
                .sorted(Comparator.comparing(id, CodePointOrder.TEXTS))
                .toList();
    }

    /** This estate with other policies and another ranking; everything else is shared. */
    public Estate withPolicies(List<Policy> changed, List<String> ranking) {
        return new Estate(
                organisation,
                units,
                accounts,
                groups,
                workspaces,
                catalogue,
                changed,
                ranking,
                plans,
                rings,
                List.copyOf(releases.values()));
    }

    public Organisation organisation() {
        return organisation;
    }

    /** Units by id. */
    public List<Unit> units() {
        return units;
    }

    /** Accounts by id, inactive ones too. */
    public List<Account> accounts() {
        return accounts;
    }

    public List<Group> groups() {
        return groups;
    }

    public List<Workspace> workspaces() {
        return workspaces;
    }

    public Catalogue catalogue() {
        return catalogue;
    }

    /** All policies in the order of the ranking, strongest first; those it leaves out follow by id. */
    public List<Policy> policies() {
        return policies;
    }

    /** Where the policy stands among {@link #policies()}, 0 the strongest. */
    public int rankOf(String policy) {
        return rank.get(policy);
    }

    /** Licence plans by id. */
    public List<Plan> plans() {
        return plans;
    }

    /** Preview rings from the innermost to the outermost. */
    public List<Ring> rings() {
        return rings;
    }

    /** The release of a setting, where it has one. */
    public Optional<Release> release(String setting) {
        return Optional.ofNullable(releases.get(setting));
    }

    public Optional<Account> account(String id) {
        return Optional.ofNullable(accountById.get(id));
    }

    public Optional<Policy> policy(String id) {
        return Optional.ofNullable(policyById.get(id));
    }

    public Optional<Workspace> workspace(String id) {
        return workspaces.stream().filter(w -> w.id().equals(id)).findFirst();
    }
}
