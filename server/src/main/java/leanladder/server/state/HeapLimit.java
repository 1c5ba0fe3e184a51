package leanladder.server.state;

import java.lang.management.ManagementFactory;
import java.lang.management.MemoryPoolMXBean;
import java.lang.management.MemoryType;
import java.util.Locale;
import java.util.Optional;

/**
 * Aborts work whose memory grows with its input before the heap is exhausted. It looks at the memory that was in use after the last collection of the
 * old generation, so that garbage does not count.
 */
final class HeapLimit {
    private static final double MOST = 0.85;
    private static final Optional<MemoryPoolMXBean> OLD = ManagementFactory.getMemoryPoolMXBeans().stream()
            .filter(pool -> pool.getType() == MemoryType.HEAP
                    && (pool.getName().contains("Old") || pool.getName().contains("Tenured")))
            .findFirst();

    private HeapLimit() {}

    /** Throws a {@link StateException} when nearly all memory is in use. Costs little. */
    static void check() {
        if (OLD.isEmpty() || OLD.get().getCollectionUsage() == null) return;
        long used = OLD.get().getCollectionUsage().getUsed();
        long most = Runtime.getRuntime().maxMemory();
        if (used > MOST * most)
            throw new StateException(
                    StateException.Reason.TOO_LARGE,
                    String.format(
                            Locale.ROOT,
                            "The file needs more memory than this server has, which is %,d MB; nothing was stored."
                                    + " Start it with more, as with LADDER_MEMORY=4g.",
                            most >> 20));
    }
}
