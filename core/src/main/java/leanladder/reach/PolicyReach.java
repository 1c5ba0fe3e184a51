package leanladder.reach;

import java.util.Comparator;
import java.util.List;
import java.util.NavigableMap;
import java.util.TreeMap;
import leanladder.estate.Assignment;
import leanladder.estate.Target;
import org.roaringbitmap.RoaringBitmap;

/**
 * Whom some assignments reach, as one set of accounts for each rung: all accounts at once, as resolution.md, section 3, says
 * for one. {@link AccountReach} says the same for one account and is written apart.
 */
public final class PolicyReach {
    /** Reaches nobody. */
    public static final PolicyReach NOBODY = new PolicyReach(new TreeMap<>());

    private static final RoaringBitmap EMPTY = new RoaringBitmap();

    private final NavigableMap<Rung, RoaringBitmap> byRung;

    private PolicyReach(NavigableMap<Rung, RoaringBitmap> byRung) {
        this.byRung = byRung;
    }

    /**
     * Works the sets out.
     *
     * @param holding assignments whose window holds the instant asked about
     * @param places of the question, and only where the setting is open to workspaces
     */
    public static PolicyReach compute(List<Assignment> holding, Directory directory, Places places) {
        return compute(holding, directory, directory.active(), places);
    }

    /**
     * The same for some accounts only.
     *
     * @param among active accounts
     */
    public static PolicyReach compute(
            List<Assignment> holding, Directory directory, RoaringBitmap among, Places places) {
        NavigableMap<Rung, RoaringBitmap> byRung = new TreeMap<>();
        if (among.isEmpty()) return NOBODY;
        RoaringBitmap left = among.clone();
        for (Assignment a : holding)
            if (!a.include() && a.target() instanceof Target.AccountTarget account)
                left.remove(directory.number(account.id()));
        take(byRung, Rung.PERSON, union(holding, directory, Target.AccountTarget.class, true, left), left);
        left.andNot(union(holding, directory, Target.GroupTarget.class, false, left));
        left.andNot(barredUnits(holding, directory, left));
        for (Rung rung : List.of(Rung.WORKSPACE, Rung.HOSTING))
            for (Assignment a : holding)
                if (a.include() && places.fits(a, rung))
                    take(byRung, rung, RoaringBitmap.and(directory.holding(a.whom()), left), left);
        take(byRung, Rung.GROUP, union(holding, directory, Target.GroupTarget.class, true, left), left);
        deepestFirst(holding, directory, true)
                .forEach(unit -> take(
                        byRung,
                        Rung.ofUnit(directory.tree().depth(unit)),
                        RoaringBitmap.and(directory.inOrBelow(unit), left),
                        left));
        return new PolicyReach(byRung);
    }

    private static void take(
            NavigableMap<Rung, RoaringBitmap> byRung, Rung rung, RoaringBitmap wanted, RoaringBitmap left) {
        wanted.and(left);
        if (wanted.isEmpty()) return;
        left.andNot(wanted);
        byRung.merge(rung, wanted, (a, b) -> RoaringBitmap.or(a, b));
    }

    private static RoaringBitmap union(
            List<Assignment> assignments,
            Directory directory,
            Class<? extends Target> targets,
            boolean include,
            RoaringBitmap among) {
        RoaringBitmap union = new RoaringBitmap();
        for (Assignment a : assignments) {
            if (a.include() != include || a.place().isPresent() || !targets.isInstance(a.target())) continue;
            if (a.target() instanceof Target.GroupTarget group)
                union.or(RoaringBitmap.and(directory.members(group.id()), among));
            else if (a.target() instanceof Target.AccountTarget account) union.add(directory.number(account.id()));
        }
        return union;
    }

    /** Those below an excepted unit and not below a deeper unit that is included: walked from the root down. */
    private static RoaringBitmap barredUnits(List<Assignment> holding, Directory directory, RoaringBitmap among) {
        RoaringBitmap barred = new RoaringBitmap();
        List<String> excepted = deepestFirst(holding, directory, false).toList();
        if (excepted.isEmpty()) return barred;
        UnitTree tree = directory.tree();
        record Step(String unit, boolean include) {}
        var steps = new java.util.ArrayList<Step>();
        deepestFirst(holding, directory, true).forEach(u -> steps.add(new Step(u, true)));
        excepted.forEach(u -> steps.add(new Step(u, false)));
        // At one unit the include comes first, so that the exception of the same unit outlasts it.
        steps.sort(Comparator.<Step>comparingInt(s -> tree.depth(s.unit)).thenComparing(s -> !s.include));
        for (Step step : steps) {
            if (step.include) barred.andNot(directory.inOrBelow(step.unit));
            else barred.or(RoaringBitmap.and(directory.inOrBelow(step.unit), among));
        }
        return barred;
    }

    private static java.util.stream.Stream<String> deepestFirst(
            List<Assignment> assignments, Directory directory, boolean include) {
        return assignments.stream()
                .filter(a -> a.include() == include && a.place().isEmpty())
                .map(Assignment::target)
                .filter(t -> t instanceof Target.OrganisationTarget || t instanceof Target.UnitTarget)
                .map(t -> t instanceof Target.UnitTarget unit
                        ? unit.id()
                        : directory.tree().root())
                .distinct()
                .sorted(Comparator.comparingInt((String u) -> directory.tree().depth(u))
                        .reversed());
    }

    /**
     * The same where some accounts are reached otherwise; sets that stay as they are stay the same.
     *
     * @param others whom of these accounts is reached from now on
     */
    public PolicyReach with(RoaringBitmap accounts, PolicyReach others) {
        NavigableMap<Rung, RoaringBitmap> with = new TreeMap<>(others.byRung);
        boolean same = true;
        for (var here : byRung.entrySet()) {
            RoaringBitmap was = RoaringBitmap.and(here.getValue(), accounts);
            RoaringBitmap is = others.byRung.getOrDefault(here.getKey(), EMPTY);
            RoaringBitmap now = here.getValue();
            if (!was.equals(is)) {
                same = false;
                now = RoaringBitmap.andNot(now, was);
                now.or(is);
            }
            if (now.isEmpty()) with.remove(here.getKey());
            else with.put(here.getKey(), now);
        }
        return same && byRung.keySet().containsAll(others.byRung.keySet()) ? this : new PolicyReach(with);
    }

    /** The sets by rung, from low to high; they do not overlap and none is empty. Not to be changed. */
    public NavigableMap<Rung, RoaringBitmap> byRung() {
        return byRung;
    }

    /** Everyone reached, on whatever rung. A fresh set. */
    public RoaringBitmap everyone() {
        return RoaringBitmap.or(byRung.values().iterator());
    }
}
