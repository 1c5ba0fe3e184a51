package leanladder.seat;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/** What accounts may use through their seats at one instant (resolution.md, section 6). */
public final class Entitlements {
    private static final RoaringBitmap NOBODY = new RoaringBitmap();

    private final List<Allocation> allocations;
    private final Map<String, RoaringBitmap> holders = new HashMap<>();

    /** Allocates every plan of the estate. */
    public Entitlements(Estate estate, Directory directory, Instant at) {
        this(estate.plans().stream().map(p -> new Allocation(p, directory, at)).toList());
    }

    private Entitlements(List<Allocation> allocations) {
        this.allocations = allocations;
        for (Allocation allocation : allocations)
            for (String component : allocation.plan().components())
                holders.merge(component, allocation.carrying(component), (a, b) -> RoaringBitmap.or(a, b));
    }

    /**
     * These with some plans allocated anew on an edited directory; the others are shared.
     *
     * @param plans ids of the plans for which the edit can matter
     */
    public Entitlements with(Directory edited, Instant at, Set<String> plans) {
        if (plans.isEmpty()) return this;
        return new Entitlements(allocations.stream()
                .map(a -> plans.contains(a.plan().id()) ? new Allocation(a.plan(), edited, at) : a)
                .toList());
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
