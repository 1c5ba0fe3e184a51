package leanladder.seat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.Kind;
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import leanladder.reach.ReachedSets;
import leanladder.reach.Rung;
import org.roaringbitmap.RoaringBitmap;

/**
 * Who has a seat of one plan at one instant, who waits, and who gives one back (resolution.md, section 6).
 *
 * <p>Claimants fall into classes that claim one after the other: holders who still want their seat; those named outright, by
 * the first rule that holds them; everyone else, by the first rule that holds them. Within a class the earlier start goes
 * first. Only the class in which the seats run out has to be put in order to know who is seated.
 */
public final class Allocation {
    private final Plan plan;
    private final Instant at;
    private final Directory directory;
    private final List<Plan.Rule> rules;
    private final List<String> holdersInOrder;
    private final List<RoaringBitmap> classes = new ArrayList<>();
    private final RoaringBitmap claimants;
    private final RoaringBitmap seated = new RoaringBitmap();
    private final Map<String, Instant> granted = new HashMap<>();
    private volatile List<String> claims;
    private volatile Line line;

    /** Allocates the seats of a plan. A few set operations for each rule, and the sort of one class. */
    public Allocation(Plan plan, Directory directory, Instant at) {
        this.plan = plan;
        this.at = at;
        this.directory = directory;
        this.rules = plan.rules().stream()
                .filter(r -> r.assignment().window().holds(at))
                .toList();
        ReachedSets reached =
                ReachedSets.of(rules.stream().map(Plan.Rule::assignment).toList(), directory, Optional.empty());
        claimants = reached.everyone();
        RoaringBitmap fitting = new RoaringBitmap();
        for (Kind kind : plan.kinds()) fitting.or(directory.ofKind(kind));
        claimants.and(fitting);
        holdersInOrder = plan.holders().stream()
                .filter(h -> claimants.contains(directory.number(h.account())))
                .sorted(Comparator.comparing(Plan.Holder::granted)
                        .thenComparing(Plan.Holder::account, CodePointOrder.TEXTS))
                .map(Plan.Holder::account)
                .toList();
        plan.holders().forEach(h -> granted.put(h.account(), h.granted()));
        split(reached);
        seat();
    }

    private void split(ReachedSets reached) {
        RoaringBitmap rest = claimants.clone();
        holdersInOrder.forEach(h -> rest.remove(directory.number(h)));
        RoaringBitmap named = RoaringBitmap.and(reached.byRung().getOrDefault(Rung.PERSON, new RoaringBitmap()), rest);
        rest.andNot(named);
        for (RoaringBitmap tier : List.of(named, rest)) {
            for (Plan.Rule rule : rules) {
                if (!rule.assignment().include()) continue;
                RoaringBitmap next = directory.holding(rule.assignment().target());
                next.and(tier);
                tier.andNot(next);
                if (!next.isEmpty()) classes.add(next);
            }
        }
    }

    private void seat() {
        int free = plan.seats();
        for (String holder : holdersInOrder) {
            if (free == 0) break;
            seated.add(directory.number(holder));
            free--;
        }
        for (RoaringBitmap next : classes) {
            int size = next.getCardinality();
            if (size <= free) seated.or(next);
            else if (free > 0) seated.or(first(next, free));
            free = Math.max(0, free - size);
        }
    }

    /** So many of these accounts, those that started first. */
    private RoaringBitmap first(RoaringBitmap accounts, int count) {
        RoaringBitmap first = new RoaringBitmap();
        int left = count;
        for (int n : directory.byStart()) {
            if (left == 0) break;
            if (!accounts.contains(n)) continue;
            first.add(n);
            left--;
        }
        return first;
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
            List<String> order = new ArrayList<>(holdersInOrder);
            for (RoaringBitmap next : classes) inOrder(next).forEach(a -> order.add(a.id()));
            known = List.copyOf(order);
            claims = known;
        }
        return known;
    }

    /** Ids of the seated, in the order of claim. */
    public List<String> seatedInOrder() {
        List<String> claims = claims();
        return claims.subList(0, Math.min(plan.seats(), claims.size()));
    }

    /** Ids of those who wait, in order. */
    public List<String> waiting() {
        List<String> claims = claims();
        return claims.subList(Math.min(plan.seats(), claims.size()), claims.size());
    }

    /** Ids of holders who no longer want their seat, by id. */
    public List<String> released() {
        return plan.holders().stream()
                .map(Plan.Holder::account)
                .filter(a -> !claimants.contains(directory.number(a)))
                .sorted(CodePointOrder.TEXTS)
                .toList();
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
        Line line = line();
        int place = line.holders.indexOf(account) + 1;
        if (place > 0) return place;
        place = line.holders.size();
        int rank = line.rank[account];
        for (RoaringBitmap ranks : line.classes) {
            if (ranks.contains(rank)) return place + ranks.rank(rank);
            place += ranks.getCardinality();
        }
        throw new IllegalArgumentException("The account does not wait");
    }

    /** Those who wait: holders by their numbers, then the classes as sets of ranks by start. */
    private record Line(List<Integer> holders, List<RoaringBitmap> classes, int[] rank) {}

    private Line line() {
        Line known = line;
        if (known == null) {
            int[] rank = directory.startRank();
            List<Integer> holders = holdersInOrder.stream()
                    .map(directory::number)
                    .filter(n -> !seated.contains(n))
                    .toList();
            List<RoaringBitmap> ranks = new ArrayList<>();
            for (RoaringBitmap one : classes) {
                RoaringBitmap waiting = new RoaringBitmap();
                RoaringBitmap.andNot(one, seated).forEach((int n) -> waiting.add(rank[n]));
                ranks.add(waiting);
            }
            known = new Line(holders, ranks, rank);
            line = known;
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

    /** When each account of the ledger was granted its seat, by account id. Not to be changed. */
    public Map<String, Instant> granted() {
        return granted;
    }
}
