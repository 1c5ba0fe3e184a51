package leanladder.server.health;

import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.concurrent.locks.LockSupport;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Ends the process when it spends nearly all of its time in garbage collection: it answers nobody then, and would do so for minutes before
 * memory runs out. Whoever supervises it starts it again. The G1 collector has no limit of this kind of its own.
 */
public final class GarbageCollectionWatchdog {
    private static final Logger LOG = LoggerFactory.getLogger(GarbageCollectionWatchdog.class);
    /** With this exit code the process ends. */
    public static final int EXIT_CODE = 4;

    private static final Duration LOOK = Duration.ofSeconds(1);
    private static final Duration WINDOW = Duration.ofSeconds(8);
    private static final double MOST = 0.9;

    private GarbageCollectionWatchdog() {}

    private record Sample(long at, long collecting) {}

    /** Starts to watch this process, on a thread of its own. */
    public static void start() {
        Thread thread = new Thread(GarbageCollectionWatchdog::watch, "garbage collection watchdog");
        thread.setDaemon(true);
        thread.setPriority(Thread.MAX_PRIORITY);
        thread.start();
    }

    private static void watch() {
        Deque<Sample> samples = new ArrayDeque<>();
        while (!Thread.currentThread().isInterrupted()) {
            samples.addLast(new Sample(System.nanoTime(), collectionNanos()));
            Sample last = samples.getLast();
            while (last.at - samples.getFirst().at > WINDOW.toNanos()) {
                Sample first = samples.removeFirst();
                double share = (double) (last.collecting - first.collecting) / (last.at - first.at);
                if (share < MOST) continue;
                LOG.error(
                        "The process spent {} % of the last {} s in garbage collection; it ends and is to be started again."
                                + " LADDER_MEMORY gives it more memory",
                        Math.round(100 * share), (last.at - first.at) / 1_000_000_000);
                Runtime.getRuntime().halt(EXIT_CODE);
            }
            LockSupport.parkNanos(LOOK.toNanos());
        }
    }

    private static long collectionNanos() {
        long millis = 0;
        for (GarbageCollectorMXBean collector : ManagementFactory.getGarbageCollectorMXBeans())
            millis += Math.max(0, collector.getCollectionTime());
        return millis * 1_000_000;
    }
}
