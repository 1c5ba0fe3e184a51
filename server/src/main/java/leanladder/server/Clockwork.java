package leanladder.server;

import java.time.Instant;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** What happens because time passes: drafts that are due publish themselves, and edges of windows and terms are announced. */
final class Clockwork implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Clockwork.class);

    private final Estates estates;
    private final Drafts drafts;
    private final Events events;
    private final ScheduledExecutorService ticks = Executors.newSingleThreadScheduledExecutor(run -> {
        Thread thread = new Thread(run, "clockwork");
        thread.setDaemon(true);
        return thread;
    });
    private Instant seen;

    Clockwork(Estates estates, Drafts drafts, Events events) {
        this.estates = estates;
        this.drafts = drafts;
        this.events = events;
        this.seen = estates.now();
    }

    /** Starts to look every second; what was missed while nobody looked comes first. */
    void start() {
        ticks.scheduleWithFixedDelay(this::tickSafely, 0, 1, TimeUnit.SECONDS);
    }

    private void tickSafely() {
        try {
            tick();
        } catch (RuntimeException failure) {
            LOG.error("What was due could not be done; it is tried again in a second", failure);
        }
    }

    /** Does what is due. */
    void tick() {
        if (estates.isEmpty()) return;
        drafts.publishDue();
        Instant now = estates.now();
        if (estates.present().isEdgeBetween(seen, now)) events.tellTime(now);
        seen = now;
        // So that nobody's first search waits for it.
        estates.present().index();
    }

    @Override
    public void close() {
        ticks.shutdownNow();
    }
}
