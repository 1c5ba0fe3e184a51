package leanladder.reach;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Predicate;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Group;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.json.CodePointOrder;

/**
 * Where one account stands: its units from the root down and every group that holds it, with the way in. Says whether and
 * how assignments reach it, line by line as resolution.md, section 3, is written. {@link PolicyReach} says the same for all
 * accounts at once and is written apart.
 */
public final class AccountReach {
    private static final Comparator<List<String>> BEST_VIA =
            Comparator.<List<String>>comparingInt(List::size).thenComparing(CodePointOrder.LISTS);

    private final Account account;
    private final Map<String, Integer> depthOfUnit = new HashMap<>();
    private final String root;
    private final Map<String, List<String>> groupPaths;

    /** Finds the position. Linear in the depth of the unit and the number of groups around the account. */
    public AccountReach(Directory directory, Account account) {
        this.account = account;
        List<Unit> path = directory.tree().path(account.unit());
        for (int i = 0; i < path.size(); i++) depthOfUnit.put(path.get(i).id(), i);
        this.root = path.get(0).id();
        this.groupPaths = groupPaths(directory, account);
    }

    private AccountReach(AccountReach same, Account account) {
        this.account = account;
        this.depthOfUnit.putAll(same.depthOfUnit);
        this.root = same.root;
        this.groupPaths = same.groupPaths;
    }

    /** The position of the account once something else of it has been altered: it stands where it did. */
    public AccountReach as(Account altered) {
        return new AccountReach(this, altered);
    }

    /**
     * Level by level outwards, so that the first path to reach a group is a shortest one; the least of those is kept. It begins with the
     * groups that list the account and those whose rule fits it.
     */
    private Map<String, List<String>> groupPaths(Directory directory, Account account) {
        Map<String, List<String>> paths = new LinkedHashMap<>();
        Map<String, List<String>> level = new HashMap<>();
        for (String group : directory.groupsOf(account.id())) level.put(group, List.of("group:" + group));
        RuleMatch rules = new RuleMatch(directory, account, depthOfUnit.keySet());
        for (Group group : directory.groupsByRule())
            if (rules.fits(group)) level.put(group.id(), List.of("group:" + group.id()));
        while (!level.isEmpty()) {
            paths.putAll(level);
            Map<String, List<String>> next = new HashMap<>();
            level.forEach((inner, path) -> {
                for (String outer : directory.groupsAround(inner)) {
                    if (paths.containsKey(outer)) continue;
                    var longer = new ArrayList<String>(path.size() + 1);
                    longer.add("group:" + outer);
                    longer.addAll(path);
                    next.merge(outer, longer, (a, b) -> CodePointOrder.LISTS.compare(a, b) <= 0 ? a : b);
                }
            });
            level = next;
        }
        return paths;
    }

    public Account account() {
        return account;
    }

    /** The groups that hold the account, nearest first, each with the shortest path from it down to the account. */
    public Map<String, List<String>> groups() {
        return groupPaths;
    }

    /** The organisation, the units and the groups that hold the account. */
    public List<Target> places() {
        List<Target> places = new ArrayList<>(1 + depthOfUnit.size() + groupPaths.size());
        places.add(new Target.OrganisationTarget());
        for (String unit : depthOfUnit.keySet()) places.add(new Target.UnitTarget(unit));
        for (String group : groupPaths.keySet()) places.add(new Target.GroupTarget(group));
        return places;
    }

    /** Whether the target holds this account; a place never does. */
    public boolean isHeldBy(Target target) {
        if (target instanceof Target.OrganisationTarget) return true;
        if (target instanceof Target.UnitTarget unit) return depthOfUnit.containsKey(unit.id());
        if (target instanceof Target.GroupTarget group) return groupPaths.containsKey(group.id());
        return target instanceof Target.AccountTarget one && one.id().equals(account.id());
    }

    /**
     * Whether and how the assignments reach this account, which is taken to be active.
     *
     * @param places of the question, and only where the setting is open to workspaces
     * @param counts which assignments are looked at; normally those whose window holds the instant
     */
    public Optional<MatchPath> reach(List<Assignment> assignments, Places places, Predicate<Assignment> counts) {
        if (!isNamed(assignments)) return Optional.empty();
        List<Target> includes = new ArrayList<>();
        List<Target> excepts = new ArrayList<>();
        List<Assignment> placed = new ArrayList<>();
        split(assignments, counts, includes, excepts, placed);

        Target self = new Target.AccountTarget(account.id());
        if (excepts.contains(self)) return Optional.empty();
        if (includes.contains(self)) return Optional.of(new MatchPath(Rung.PERSON, List.of(self.text())));
        if (barringGroup(excepts).isPresent() || barringUnit(includes, excepts).isPresent()) return Optional.empty();
        for (Rung rung : List.of(Rung.WORKSPACE, Rung.HOSTING)) {
            Optional<List<String>> inPlace = placed.stream()
                    .filter(a -> places.fits(a, rung))
                    .flatMap(a -> inPlace(a).stream())
                    .min(BEST_VIA);
            if (inPlace.isPresent()) return Optional.of(new MatchPath(rung, inPlace.get()));
        }
        Optional<List<String>> throughGroup = throughGroup(includes);
        if (throughGroup.isPresent()) return Optional.of(new MatchPath(Rung.GROUP, throughGroup.get()));
        int deepest = deepest(includes);
        if (deepest < 0) return Optional.empty();
        return includes.stream()
                .filter(t -> depth(t) == deepest)
                .map(t -> List.of(t.text()))
                .min(BEST_VIA)
                .map(via -> new MatchPath(Rung.ofUnit(deepest), via));
    }

    /** Includes that are limited to a place are kept apart from the others; an exception has none. */
    private static void split(
            List<Assignment> assignments,
            Predicate<Assignment> counts,
            List<Target> includes,
            List<Target> excepts,
            List<Assignment> placed) {
        for (Assignment a : assignments) {
            if (!counts.test(a)) continue;
            if (!a.include()) excepts.add(a.target());
            else if (a.place().isPresent()) placed.add(a);
            else includes.add(a.target());
        }
    }

    /** The way in by an include with a place that fits; it ends with the place. */
    private Optional<List<String>> inPlace(Assignment a) {
        if (!isHeldBy(a.whom())) return Optional.empty();
        List<String> via = new ArrayList<>();
        if (a.target() instanceof Target.GroupTarget group)
            via.addAll(Objects.requireNonNull(groupPaths.get(group.id())));
        else if (!a.target().isPlace()) via.add(a.target().text());
        via.add(a.place().orElseThrow().text());
        return Optional.of(via);
    }

    /** Whether some include could reach this account at all; most policies name others, and are done with here. */
    private boolean isNamed(List<Assignment> assignments) {
        for (Assignment a : assignments) if (a.include() && isHeldBy(a.whom())) return true;
        return false;
    }

    /**
     * The exception that bars this account, in the order in which section 3 asks: itself, a group, the deepest unit.
     *
     * @return the exception's target as the estate file writes it; empty when nothing bars
     */
    public Optional<String> barredBy(List<Assignment> assignments, Predicate<Assignment> counts) {
        List<Target> includes = new ArrayList<>();
        List<Target> excepts = new ArrayList<>();
        split(assignments, counts, includes, excepts, new ArrayList<>());
        Target self = new Target.AccountTarget(account.id());
        if (excepts.contains(self)) return Optional.of(self.text());
        return barringGroup(excepts).or(() -> barringUnit(includes, excepts));
    }

    private Optional<String> barringGroup(List<Target> excepts) {
        return throughGroup(excepts).map(path -> path.get(0));
    }

    /** The best path from one of the groups among the targets down to this account. */
    private Optional<List<String>> throughGroup(List<Target> targets) {
        List<String> best = null;
        for (Target target : targets) {
            if (!(target instanceof Target.GroupTarget group)) continue;
            List<String> path = groupPaths.get(group.id());
            if (path != null && (best == null || BEST_VIA.compare(path, best) < 0)) best = path;
        }
        return Optional.ofNullable(best);
    }

    private Optional<String> barringUnit(List<Target> includes, List<Target> excepts) {
        int deepest = deepest(excepts);
        if (deepest < 0 || deepest(includes) > deepest) return Optional.empty();
        return excepts.stream()
                .filter(t -> depth(t) == deepest)
                .map(Target::text)
                .min(CodePointOrder.TEXTS);
    }

    private int deepest(List<Target> targets) {
        int deepest = -1;
        for (Target target : targets) deepest = Math.max(deepest, depth(target));
        return deepest;
    }

    /** The depth of a unit that holds the account; -1 for any other target. */
    private int depth(Target target) {
        if (target instanceof Target.OrganisationTarget) return Objects.requireNonNull(depthOfUnit.get(root));
        return target instanceof Target.UnitTarget unit ? depthOfUnit.getOrDefault(unit.id(), -1) : -1;
    }
}
