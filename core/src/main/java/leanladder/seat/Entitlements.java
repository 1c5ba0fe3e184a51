package leanladder.seat;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.estate.Estate;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/** What accounts may use through their seats at one instant (resolution.md, section 6). */
public final class Entitlements {
    private final List<Allocation> allocations;
    private final Map<String, RoaringBitmap> holders = new HashMap<>();

    /** Allocates every plan of the estate. */
    public Entitlements(Estate estate, Directory directory, Instant at) {
        allocations = estate.plans().stream()
                .map(p -> new Allocation(p, directory, at))
                .toList();
        for (Allocation allocation : allocations)
            for (String component : allocation.plan().components())
                holders.merge(component, allocation.carrying(component), (a, b) -> RoaringBitmap.or(a, b));
    }

    /** One allocation for each plan, by plan id. */
    public List<Allocation> allocations() {
        return allocations;
    }

    /** Everyone who holds the entitlement through some seat. Not to be changed. */
    public RoaringBitmap holding(String entitlement) {
        return holders.getOrDefault(entitlement, new RoaringBitmap());
    }
}
