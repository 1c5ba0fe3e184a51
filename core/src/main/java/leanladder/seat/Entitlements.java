package leanladder.seat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/** What accounts may use through their seats at one instant (resolution.md, section 6). */
public final class Entitlements {
    private static final RoaringBitmap NOBODY = new RoaringBitmap();
    /** Below this part of all accounts, plans are not allocated anew. */
    private static final int SOME = 2;
    /** Below this part of all accounts, what seats carry is looked at account by account. */
    private static final int FEW = 16;

    private final List<Allocation> allocations;
    private final Map<String, RoaringBitmap> holders = new HashMap<>();

    /** Allocates plans, out of the ledger as it will be at the instant, on all cores. */
    public Entitlements(List<Plan> plans, Directory directory, SeatLedger seatLedger, Instant at) {
        this(plans.parallelStream()
                .map(p -> allocation(p, directory, seatLedger, at))
                .toList());
    }

    /**
     * What one account may use where the seats have passed on up to the instant, as at any of the past. Of others nothing is told. Costs the
     * rules, and not the accounts that they bring in.
     */
    public static Entitlements ofOne(
            List<Plan> plans, Directory directory, SeatLedger seatLedger, int account, Instant at) {
        return new Entitlements(plans.stream()
                .map(p -> Allocation.ofOne(p, seatLedger.page(p.id()), directory, account, at))
                .toList());
    }

    private Entitlements(List<Allocation> allocations) {
        this.allocations = allocations;
        for (Allocation allocation : allocations)
            for (String component : allocation.plan().components())
                holders.merge(component, allocation.carrying(component), (a, b) -> RoaringBitmap.or(a, b));
    }

    private static Allocation allocation(Plan plan, Directory directory, SeatLedger seatLedger, Instant at) {
        return new Allocation(plan, seatLedger.page(plan, directory, at), directory, at);
    }

    /**
     * These with some plans allocated anew in an edited estate; the others are shared. Where few accounts differ and the plans do
     * not, only what these claim is looked at.
     *
     * @param ledger of the estate before
     * @param touched ids of the plans for which the edits can matter; new ones among them
     * @param accounts everyone whom the edits can touch
     */
    public Entitlements with(
            Estate edited,
            Directory compiled,
            SeatLedger seatLedger,
            Instant at,
            Set<String> touched,
            RoaringBitmap accounts) {
        if (touched.isEmpty()) return this;
        Map<String, Allocation> known = new HashMap<>();
        allocations.forEach(a -> known.put(a.plan().id(), a));
        boolean few = SOME * (long) accounts.getCardinality() <= compiled.size();
        boolean patched = few && known.size() == edited.plans().size();
        RoaringBitmap others = accounts.clone();
        List<Allocation> all = new ArrayList<>();
        for (Plan plan : edited.plans()) {
            Allocation was = known.get(plan.id());
            if (was != null && !touched.contains(plan.id())) {
                all.add(was);
                continue;
            }
            PlanLedger planLedger = seatLedger.page(plan, compiled, at);
            Optional<Allocation> with =
                    was == null || !few ? Optional.empty() : was.with(plan, planLedger, compiled, accounts, at);
            all.add(with.orElseGet(() -> new Allocation(plan, planLedger, compiled, at)));
            if (was != null && with.isPresent()) {
                others.or(RoaringBitmap.xor(was.seated(), with.get().seated()));
                patched &= was.isInTerm() == with.get().isInTerm();
            } else patched = false;
        }
        return patched && FEW * (long) others.getCardinality() <= compiled.size()
                ? new Entitlements(all, holders(all, others))
                : new Entitlements(all);
    }

    /** Who holds what, after some accounts' seats are others. */
    private Map<String, RoaringBitmap> holders(List<Allocation> all, RoaringBitmap others) {
        Map<String, RoaringBitmap> after = new HashMap<>();
        holders.forEach((component, set) -> {
            List<Allocation> carrying = all.stream()
                    .filter(a -> a.plan().components().contains(component))
                    .toList();
            RoaringBitmap fresh = new RoaringBitmap();
            others.forEach((int n) -> {
                if (carrying.stream().anyMatch(a -> a.carries(component, n))) fresh.add(n);
            });
            RoaringBitmap was = RoaringBitmap.and(set, others);
            if (!was.equals(fresh)) {
                RoaringBitmap moved = RoaringBitmap.andNot(set, was);
                moved.or(fresh);
                after.put(component, moved);
            } else after.put(component, set);
        });
        return after;
    }

    /** These once the seats of some plans have passed on, see {@link Allocation#after}. What seats carry stays the same. */
    public Entitlements after(SeatLedger moved, Set<String> plans) {
        if (plans.isEmpty()) return this;
        return new Entitlements(
                allocations.stream()
                        .map(a -> plans.contains(a.plan().id())
                                ? a.after(moved.page(a.plan().id()))
                                : a)
                        .toList(),
                holders);
    }

    private Entitlements(List<Allocation> allocations, Map<String, RoaringBitmap> holders) {
        this.allocations = allocations;
        this.holders.putAll(holders);
    }

    /** The allocation of a plan, where there is such a plan. */
    public Optional<Allocation> allocation(String plan) {
        return allocations.stream().filter(a -> a.plan().id().equals(plan)).findFirst();
    }

    /** One allocation for each plan, by plan id. */
    public List<Allocation> allocations() {
        return allocations;
    }

    /** Everyone who holds the entitlement through some seat. Not to be changed. */
    public RoaringBitmap holding(String entitlement) {
        return holders.getOrDefault(entitlement, NOBODY);
    }
}
