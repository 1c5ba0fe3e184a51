package leanladder.seat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * Who holds which seat since when (resolution.md, section 6). Immutable: reallocation creates another ledger. The ledgers of different plans are
 * independent of one another.
 */
public final class SeatLedger {
    /** The ledger of an estate without holders. */
    public static final SeatLedger EMPTY = new SeatLedger(Map.of(), Optional.empty());

    private final Map<String, PlanLedger> pages;
    private final Optional<Instant> asOf;

    private SeatLedger(Map<String, PlanLedger> pages, Optional<Instant> asOf) {
        this.pages = pages;
        this.asOf = asOf;
    }

    /** The ledger as a file gives it, taken as it is for every instant asked about. */
    public static SeatLedger from(Estate estate, Directory directory) {
        Map<String, PlanLedger> pages = estate.holders().entrySet().parallelStream()
                .collect(Collectors.toMap(Map.Entry::getKey, held -> PlanLedger.from(held.getValue(), directory)));
        return new SeatLedger(pages, Optional.empty());
    }

    /** The same, known to be right at an instant: who asks about a later one wants it carried through the edges up to that. */
    public SeatLedger asOf(Instant at) {
        return new SeatLedger(pages, Optional.of(at));
    }

    /** Until when the seats have passed on, where this is a ledger that moves. */
    public Optional<Instant> asOf() {
        return asOf;
    }

    /** The page of a plan as it is written here. */
    public PlanLedger page(String plan) {
        return pages.getOrDefault(plan, PlanLedger.EMPTY);
    }

    /** The page of a plan as it will be at an instant, every edge of the plan up to it passed. Costs an allocation for each edge. */
    public PlanLedger page(Plan plan, Directory directory, Instant at) {
        PlanLedger planLedger = page(plan.id());
        if (asOf.isEmpty() || !at.isAfter(asOf.get())) return planLedger;
        // An allocation at the instant itself lets the edges of that instant pass.
        for (Instant edge : edges(plan).subSet(asOf.get(), false, at, false))
            planLedger = new Allocation(plan, planLedger, directory, edge).moved();
        return planLedger;
    }

    /**
     * The ledger after all edges of these plans up to an instant, that one among them. A ledger that is taken as it is stays so. Costs an
     * allocation for each edge.
     */
    public SeatLedger advanceTo(Collection<Plan> plans, Directory directory, Instant at) {
        if (asOf.isEmpty() || !at.isAfter(asOf.get())) return this;
        Map<String, PlanLedger> after = new HashMap<>(pages);
        for (Plan plan : plans) {
            PlanLedger planLedger = page(plan.id());
            for (Instant edge : edges(plan).subSet(asOf.get(), false, at, true))
                planLedger = new Allocation(plan, planLedger, directory, edge).moved();
            if (planLedger != PlanLedger.EMPTY) after.put(plan.id(), planLedger);
        }
        return new SeatLedger(after, Optional.of(at));
    }

    private static NavigableSet<Instant> edges(Plan plan) {
        return plan.edges().collect(Collectors.toCollection(TreeSet::new));
    }

    /** Seats of one plan that pass on; sets of account numbers. @param plan its id */
    public record Move(String plan, RoaringBitmap given, RoaringBitmap returned) {}

    /** The ledger after seats passed on, and which did. */
    public record Moved(SeatLedger ledger, List<Move> moves) {}

    /**
     * Lets seats pass on as a change published at an instant does: whoever is seated enters, whoever wants none any more leaves, and
     * a plan that is no more loses its page.
     *
     * @param seats the allocations of these plans at the instant
     * @param plans ids; one without an allocation is no more
     */
    public Moved reallocate(Entitlements seats, Set<String> plans, Instant at) {
        Map<String, PlanLedger> after = new HashMap<>(pages);
        for (String plan : plans) {
            PlanLedger moved = seats.allocation(plan).map(a -> a.moved(at)).orElse(PlanLedger.EMPTY);
            if (moved == PlanLedger.EMPTY) after.remove(plan);
            else after.put(plan, moved);
        }
        SeatLedger moved = new SeatLedger(after, Optional.of(at));
        return new Moved(moved, moved.since(this));
    }

    /** A seat that was held otherwise once. @param granted since when; empty where it was not held then */
    public record Seat(String plan, String account, Optional<Instant> granted) {}

    /**
     * The ledger as it stood once, by the seats that were held otherwise than here. Costs them, and a copy of the sets of their plans.
     *
     * @param then the accounts as they stood, made of those that there are here, so that each has the same number
     * @param at when it stood so
     */
    public SeatLedger restored(Collection<Seat> seats, Directory then, Instant at) {
        Map<String, PlanLedger> restored = new HashMap<>(pages);
        seats.stream().collect(Collectors.groupingBy(Seat::plan)).forEach((plan, some) -> {
            RoaringBitmap returned = new RoaringBitmap();
            Map<Integer, Instant> given = new HashMap<>();
            for (Seat seat : some) {
                int number = then.number(seat.account());
                returned.add(number);
                seat.granted().ifPresent(since -> given.put(number, since));
            }
            PlanLedger planLedger = page(plan).restored(given, returned);
            if (planLedger.holders().isEmpty()) restored.remove(plan);
            else restored.put(plan, planLedger);
        });
        return new SeatLedger(restored, Optional.of(at));
    }

    /** The seats that passed on since an earlier ledger, by plan. Costs the pages that differ. */
    public List<Move> since(SeatLedger before) {
        Set<String> plans = new TreeSet<>(pages.keySet());
        plans.addAll(before.pages.keySet());
        List<Move> moves = new ArrayList<>();
        for (String plan : plans) {
            PlanLedger was = before.page(plan);
            PlanLedger is = page(plan);
            if (was == is) continue;
            RoaringBitmap given = RoaringBitmap.andNot(is.holders(), was.holders());
            RoaringBitmap returned = RoaringBitmap.andNot(was.holders(), is.holders());
            if (!given.isEmpty() || !returned.isEmpty()) moves.add(new Move(plan, given, returned));
        }
        return moves;
    }

    /** The next instant after one and not after another at which seats can pass on by themselves. */
    public static Optional<Instant> nextEdge(Estate estate, Instant after, Instant until) {
        return estate.plans().stream()
                .flatMap(Plan::edges)
                .filter(edge -> edge.isAfter(after) && !edge.isAfter(until))
                .min(Instant::compareTo);
    }
}
