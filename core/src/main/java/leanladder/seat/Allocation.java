package leanladder.seat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.json.CodePointOrder;
import leanladder.reach.Directory;
import leanladder.reach.Places;
import leanladder.reach.PolicyReach;
import leanladder.reach.Rung;
import org.jspecify.annotations.Nullable;
import org.roaringbitmap.BitSetUtil;
import org.roaringbitmap.RoaringBitmap;

/**
 * Who has a seat of one plan at one instant, who waits, and who gives one back (resolution.md, section 6).
 *
 * <p>Claimants fall into classes that claim one after the other: holders who still want their seat; those named outright, by
 * the first rule that holds them; everyone else, by the first rule that holds them. Within a class the earlier start goes
 * first. Only the class in which the seats run out has to be put in order to know who is seated.
 */
public final class Allocation {
    /** Of how many accounts one is to be few. */
    private static final int FEW_OF = 64;

    private final Plan plan;
    private final PlanLedger planLedger;
    private final Instant at;
    private final Directory directory;
    private final int seats;
    private final List<Plan.Rule> rules;
    private final List<RoaringBitmap> tiers = new ArrayList<>();
    /** Holders who still want their seat. */
    private final RoaringBitmap holding;

    private final RoaringBitmap claimants;
    private final RoaringBitmap seated = new RoaringBitmap();
    private volatile @Nullable List<Integer> holdersInOrder;
    private volatile @Nullable List<String> claims;
    private volatile @Nullable WaitingList waitingList;

    /**
     * Allocates the seats of a plan. A few set operations for each rule, and the sort of one class.
     *
     * @param page who holds a seat already
     */
    public Allocation(Plan plan, PlanLedger planLedger, Directory directory, Instant at) {
        this.plan = plan;
        this.planLedger = planLedger;
        this.at = at;
        this.directory = directory;
        this.seats = plan.seats(at);
        this.rules = inForce(plan, at);
        PolicyReach reached =
                PolicyReach.compute(rules.stream().map(Plan.Rule::assignment).toList(), directory, Places.NONE);
        claimants = claiming(reached, plan, directory);
        holding = RoaringBitmap.and(planLedger.holders(), claimants);
        tiers.addAll(split(reached, claimants));
        seat(this::first);
    }

    /**
     * What one account has of a plan, where the seats have passed on up to the instant: whether it has one the ledger says, and nobody
     * else is looked at. Only where more hold a seat than there are is everybody.
     */
    static Allocation ofOne(Plan plan, PlanLedger planLedger, Directory directory, int account, Instant at) {
        return planLedger.holders().getCardinality() > plan.seats(at)
                ? new Allocation(plan, planLedger, directory, at)
                : new Allocation(plan, planLedger, directory, RoaringBitmap.bitmapOf(account), at);
    }

    /** An allocation among some accounts, of whom those are seated who hold a seat. */
    private Allocation(Plan plan, PlanLedger planLedger, Directory directory, RoaringBitmap accounts, Instant at) {
        this.plan = plan;
        this.planLedger = planLedger;
        this.at = at;
        this.directory = directory;
        this.seats = plan.seats(at);
        this.rules = inForce(plan, at);
        claimants = claiming(reached(rules, directory, accounts), plan, directory);
        holding = RoaringBitmap.and(planLedger.holders(), claimants);
        seated.or(holding);
    }

    private static PolicyReach reached(List<Plan.Rule> rules, Directory directory, RoaringBitmap accounts) {
        return PolicyReach.compute(
                rules.stream().map(Plan.Rule::assignment).toList(),
                directory,
                RoaringBitmap.and(directory.active(), accounts),
                Places.NONE);
    }

    private static RoaringBitmap claiming(PolicyReach reached, Plan plan, Directory directory) {
        RoaringBitmap claiming = reached.everyone();
        claiming.and(directory.ofKinds(plan.kinds()));
        return claiming;
    }

    private static List<Plan.Rule> inForce(Plan plan, Instant at) {
        return plan.rules().stream()
                .filter(r -> r.assignment().window().holds(at))
                .toList();
    }

    /** An allocation where some accounts are others. */
    private Allocation(Allocation before, Directory compiled, RoaringBitmap accounts, Instant at) {
        plan = before.plan;
        planLedger = before.planLedger;
        this.at = at;
        directory = compiled;
        seats = before.seats;
        rules = before.rules;
        PolicyReach reached = reached(rules, compiled, accounts);
        RoaringBitmap claiming = claiming(reached, plan, compiled);
        claimants = patched(before.claimants, accounts, claiming);
        holding = RoaringBitmap.and(planLedger.holders(), claimants);
        List<RoaringBitmap> fresh = split(reached, claiming);
        for (int i = 0; i < fresh.size(); i++) tiers.add(patched(before.tiers.get(i), accounts, fresh.get(i)));
        seat((next, count) -> {
            // Of those who are the same, whoever was seated comes before whoever waited: of the latter at most as many
            // get in as
            // seats are left beside the former.
            RoaringBitmap pool = RoaringBitmap.andNot(RoaringBitmap.and(before.seated, next), accounts);
            int left = Math.max(0, count - pool.getCardinality());
            RoaringBitmap waited = RoaringBitmap.andNot(RoaringBitmap.andNot(next, accounts), pool);
            pool.or(RoaringBitmap.and(next, accounts));
            pool.or(first(waited, left));
            pool.andNot(utmost(pool, pool.getCardinality() - count, true));
            return pool;
        });
    }

    private static RoaringBitmap patched(RoaringBitmap before, RoaringBitmap accounts, RoaringBitmap fresh) {
        RoaringBitmap was = RoaringBitmap.and(before, accounts);
        if (was.equals(fresh)) return before;
        RoaringBitmap patched = RoaringBitmap.andNot(before, was);
        patched.or(fresh);
        return patched;
    }

    /**
     * The same in a directory in which some accounts are others; empty where more than that differs. Costs a few set operations on
     * these accounts, and a look at those who wait, where to allocate anew puts a class in order.
     *
     * @param accounts everyone who is new, gone, or anything that a rule asks about
     */
    Optional<Allocation> with(Plan edited, PlanLedger found, Directory compiled, RoaringBitmap accounts, Instant then) {
        boolean same = edited == plan
                && found == planLedger
                && edited.seats(then) == seats
                && holding.getCardinality() <= seats
                && inForce(edited, then).equals(rules);
        if (!same) return Optional.empty();
        Allocation with = new Allocation(this, compiled, accounts, then);
        return Optional.of(with).filter(a -> a.holding.getCardinality() <= seats);
    }

    /** The allocation before seats passed on, with the page as it is afterwards. */
    private Allocation(Allocation before, PlanLedger moved) {
        plan = before.plan;
        planLedger = moved;
        at = before.at;
        directory = before.directory;
        seats = before.seats;
        rules = before.rules;
        tiers.addAll(before.tiers);
        claimants = before.claimants;
        seated.or(before.seated);
        holding = RoaringBitmap.and(planLedger.holders(), claimants);
    }

    /**
     * The same once the seats have passed on: whoever is seated holds the seat then, and whoever waited still waits. Costs two set
     * operations, where to allocate anew costs some for each rule.
     *
     * @param moved the page that {@link #moved()} gives, or one moved alike at another instant
     */
    public Allocation after(PlanLedger moved) {
        return moved == planLedger ? this : new Allocation(this, moved);
    }

    /**
     * Puts claimants into tiers, as they would claim if nobody held a seat: for each rule those whom it names outright, and then for
     * each rule those whom it brings in otherwise; some are empty.
     */
    private List<RoaringBitmap> split(PolicyReach reached, RoaringBitmap claiming) {
        List<RoaringBitmap> split = new ArrayList<>();
        RoaringBitmap rest = claiming.clone();
        RoaringBitmap named = RoaringBitmap.and(reached.byRung().getOrDefault(Rung.PERSON, new RoaringBitmap()), rest);
        rest.andNot(named);
        for (RoaringBitmap left : List.of(named, rest)) {
            for (Plan.Rule rule : rules) {
                RoaringBitmap next = new RoaringBitmap();
                if (rule.assignment().include() && !left.isEmpty()) {
                    next = directory.holding(rule.assignment().target());
                    next.and(left);
                    left.andNot(next);
                }
                split.add(next);
            }
        }
        return split;
    }

    /** The tiers without those who hold a seat. */
    private List<RoaringBitmap> newcomers() {
        return tiers.stream()
                .filter(t -> !t.isEmpty())
                .map(t -> holding.isEmpty() ? t : RoaringBitmap.andNot(t, holding))
                .filter(t -> !t.isEmpty())
                .toList();
    }

    /** Chooses so many of the accounts of a tier. */
    private interface Selector {
        RoaringBitmap of(RoaringBitmap accounts, int count);
    }

    private void seat(Selector first) {
        int held = holding.getCardinality();
        if (held <= seats) seated.or(holding);
        else holdersInOrder().stream().limit(seats).forEach(seated::add);
        int free = Math.max(0, seats - held);
        if (free == 0) return;
        for (RoaringBitmap next : newcomers()) {
            int size = next.getCardinality();
            if (size <= free) seated.or(next);
            else if (free > 0) seated.or(first.of(next, free));
            free = Math.max(0, free - size);
        }
    }

    /** Holders who still want their seat by the instant granted; equal ones as they would claim without one. */
    private List<Integer> holdersInOrder() {
        List<Integer> known = holdersInOrder;
        if (known == null) {
            record Held(int number, Instant granted, int tier, int start) {}
            int[] start = directory.startRank();
            int[] tier = new int[holding.isEmpty() ? 0 : holding.last() + 1];
            for (int t = 0; t < tiers.size(); t++) {
                int here = t;
                RoaringBitmap.and(tiers.get(t), holding).forEach((int n) -> tier[n] = here);
            }
            List<Held> all = new ArrayList<>(holding.getCardinality());
            holding.forEach((int n) -> all.add(new Held(n, planLedger.granted(n).orElseThrow(), tier[n], start[n])));
            all.sort(Comparator.comparing(Held::granted)
                    .thenComparingInt(Held::tier)
                    .thenComparingInt(Held::start));
            known = all.stream().map(Held::number).toList();
            holdersInOrder = known;
        }
        return known;
    }

    /** The page after whoever is seated has entered and whoever wants no seat any more has left; this one where nobody moves. */
    public PlanLedger moved() {
        return moved(at);
    }

    /** The same where that happens at another instant, no edge of the plan being in between. */
    PlanLedger moved(Instant then) {
        return planLedger.moved(
                RoaringBitmap.andNot(seated, planLedger.holders()),
                RoaringBitmap.andNot(planLedger.holders(), claimants),
                then);
    }

    /** So many of these accounts, those that started first. */
    private RoaringBitmap first(RoaringBitmap accounts, int count) {
        return utmost(accounts, count, false);
    }

    /** So many of these accounts, those that started first or last. Few are put in order; for many, all are gone over by their start. */
    private RoaringBitmap utmost(RoaringBitmap accounts, int count, boolean last) {
        RoaringBitmap utmost = new RoaringBitmap();
        if (count <= 0) return utmost;
        int[] order = directory.byStart();
        boolean few = accounts.getCardinality() < order.length / FEW_OF;
        if (few) order = inOrder(accounts.toArray());
        // A plain row of bits is looked into a million times more quickly than a compressed one.
        BitSet among = few ? new BitSet() : BitSetUtil.bitsetOf(accounts);
        int left = count;
        for (int i = 0; i < order.length && left > 0; i++) {
            int n = order[last ? order.length - 1 - i : i];
            if (!few && !among.get(n)) continue;
            utmost.add(n);
            left--;
        }
        return utmost;
    }

    /** These numbers by the start of their accounts. */
    private int[] inOrder(int[] numbers) {
        int[] rank = directory.startRank();
        long[] keyed = new long[numbers.length];
        for (int i = 0; i < keyed.length; i++) keyed[i] = (long) rank[numbers[i]] << Integer.SIZE | numbers[i];
        Arrays.sort(keyed);
        return Arrays.stream(keyed).mapToInt(k -> (int) k).toArray();
    }

    private List<Account> inOrder(RoaringBitmap accounts) {
        List<Account> list = new ArrayList<>(accounts.getCardinality());
        for (int n : directory.byStart()) if (accounts.contains(n)) list.add(directory.account(n));
        return list;
    }

    public Plan plan() {
        return plan;
    }

    /** Whether a seat carries anything at this instant. */
    public boolean isInTerm() {
        return plan.term().holds(at);
    }

    /** Everyone who wants a seat. Not to be changed. */
    public RoaringBitmap claimants() {
        return claimants;
    }

    /** Everyone who has one. Not to be changed. */
    public RoaringBitmap seated() {
        return seated;
    }

    /**
     * Ids of all claimants in the order of claim; the first {@code seats} are seated, the others wait. Put in order when first
     * asked for, and kept.
     */
    public List<String> claims() {
        List<String> known = claims;
        if (known == null) {
            List<String> order = new ArrayList<>(claimants.getCardinality());
            holdersInOrder().forEach(n -> order.add(directory.account(n).id()));
            for (RoaringBitmap next : newcomers()) inOrder(next).forEach(a -> order.add(a.id()));
            known = List.copyOf(order);
            claims = known;
        }
        return known;
    }

    /** Ids of the seated, in the order of claim. */
    public List<String> seatedInOrder() {
        List<String> claims = claims();
        return claims.subList(0, Math.min(seats, claims.size()));
    }

    /** Ids of those who wait, in order. */
    public List<String> waiting() {
        List<String> claims = claims();
        return claims.subList(Math.min(seats, claims.size()), claims.size());
    }

    /** Ids of holders who no longer want their seat, by id. */
    public List<String> released() {
        List<String> released = new ArrayList<>();
        RoaringBitmap.andNot(planLedger.holders(), claimants)
                .forEach((int n) -> released.add(directory.account(n).id()));
        released.sort(CodePointOrder.TEXTS);
        return released;
    }

    /** The seated to whom some rule that holds them leaves the component in. A fresh set. */
    public RoaringBitmap carrying(String component) {
        RoaringBitmap carrying = new RoaringBitmap();
        if (!isInTerm() || !plan.components().contains(component)) return carrying;
        for (Plan.Rule rule : rules)
            if (rule.assignment().include() && !rule.off().contains(component))
                carrying.or(directory.holding(rule.assignment().target()));
        carrying.and(seated);
        return carrying;
    }

    /** Whether the account of this number holds the component through a seat of this plan; see {@link #carrying}. */
    public boolean carries(String component, int account) {
        if (!seated.contains(account) || !isInTerm() || !plan.components().contains(component)) return false;
        for (Plan.Rule rule : rules)
            if (rule.assignment().include()
                    && !rule.off().contains(component)
                    && directory.holds(rule.assignment().target(), account)) return true;
        return false;
    }

    /** The place, from 1, of an account that waits. The line is put in order when first asked for, and kept. */
    public int placeInLine(int account) {
        WaitingList waitingList = waitingList();
        int place = waitingList.holders.indexOf(account) + 1;
        if (place > 0) return place;
        place = waitingList.holders.size();
        int rank = waitingList.rank[account];
        for (RoaringBitmap ranks : waitingList.classes) {
            if (ranks.contains(rank)) return place + ranks.rank(rank);
            place += ranks.getCardinality();
        }
        throw new IllegalArgumentException("The account does not wait");
    }

    /** Those who wait: holders by their numbers, then the classes as sets of ranks by start. */
    private record WaitingList(List<Integer> holders, List<RoaringBitmap> classes, int[] rank) {}

    private WaitingList waitingList() {
        WaitingList known = waitingList;
        if (known == null) {
            int[] rank = directory.startRank();
            List<Integer> holders = seated.getCardinality() >= holding.getCardinality()
                    ? List.of()
                    : holdersInOrder().stream().filter(n -> !seated.contains(n)).toList();
            List<RoaringBitmap> ranks = new ArrayList<>();
            for (RoaringBitmap one : newcomers()) {
                RoaringBitmap waiting = new RoaringBitmap();
                RoaringBitmap.andNot(one, seated).forEach((int n) -> waiting.add(rank[n]));
                ranks.add(waiting);
            }
            known = new WaitingList(holders, ranks, rank);
            waitingList = known;
        }
        return known;
    }

    /** Positions, from 1, of the plan's rules in force that hold the account and leave the component out. */
    public List<Integer> rulesLeavingOut(String component, int account) {
        List<Integer> positions = new ArrayList<>();
        for (int i = 0; i < plan.rules().size(); i++) {
            Plan.Rule rule = plan.rules().get(i);
            if (rules.contains(rule)
                    && rule.off().contains(component)
                    && directory.holds(rule.assignment().target(), account)) positions.add(i + 1);
        }
        return positions;
    }

    /** The position, from 1, of the first include in force whose target holds the account: what it claims by. */
    public Optional<Integer> firstRule(int account) {
        for (int i = 0; i < plan.rules().size(); i++) {
            Plan.Rule rule = plan.rules().get(i);
            if (rule.assignment().include()
                    && rules.contains(rule)
                    && directory.holds(rule.assignment().target(), account)) return Optional.of(i + 1);
        }
        return Optional.empty();
    }

    /** How many accounts can be seated. */
    public int seats() {
        return seats;
    }

    /** Who holds a seat, as the ledger had it before this. */
    public PlanLedger planLedger() {
        return planLedger;
    }

    /** Since when the account of this number holds its seat; empty where the ledger does not name it. */
    public Optional<Instant> granted(int account) {
        return planLedger.granted(account);
    }
}
