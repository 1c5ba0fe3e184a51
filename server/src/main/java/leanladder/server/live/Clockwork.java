package leanladder.server.live;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Consumer;
import java.util.function.LongConsumer;
import leanladder.resolve.Question;
import leanladder.store.Store;
import leanladder.store.watch.Watch;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What happens without a request: what other servers publish is followed, edges of time are announced, and, on the one server that
 * holds the clock, what is due is done. What nobody waits for, such as making the next answers ready, runs on a thread of its own.
 */
public final class Clockwork implements AutoCloseable, Watch.Listener {
    private static final Logger LOG = LoggerFactory.getLogger(Clockwork.class);
    private static final Duration REQUESTS_KEPT = Duration.ofDays(2);
    private static final Duration TIDIED = Duration.ofHours(1);
    private static final int REST = 8;
    private static final Duration LONGEST_REST = Duration.ofSeconds(4);

    private final Store store;
    private final Timeline timeline;
    private final Publisher publisher;
    private final Events events;
    private final List<Runnable> due = new CopyOnWriteArrayList<>();
    private final List<LongConsumer> drafted = new CopyOnWriteArrayList<>();
    private final List<Consumer<Instant>> edges = new CopyOnWriteArrayList<>();
    private final List<Facet<?>> ready = new CopyOnWriteArrayList<>();
    private final ExecutorService aside = Executors.newSingleThreadExecutor(run -> {
        Thread thread = new Thread(run, "aside");
        thread.setDaemon(true);
        thread.setPriority(Thread.MIN_PRIORITY);
        return thread;
    });
    private final AtomicBoolean waits = new AtomicBoolean();
    private volatile long restsUntil = System.nanoTime();
    private volatile long heard = System.nanoTime();
    private Instant seen;
    private Instant tidied;
    private Watch watch;

    /** Not started yet. */
    public Clockwork(Store store, Timeline timeline, Publisher publisher, Events events) {
        this.store = store;
        this.timeline = timeline;
        this.publisher = publisher;
        this.events = events;
        this.seen = timeline.now();
        this.tidied = timeline.now();
        timeline.whenStepped(step -> makeReady());
    }

    /** Has something done about every half second, on the one server that holds the clock. */
    public void whenDue(Runnable task) {
        due.add(task);
    }

    /** Has somebody told of every draft that any server begins, alters, publishes or throws away. */
    public void whenDrafted(LongConsumer listener) {
        drafted.add(listener);
    }

    /** Has somebody told whenever something began or ended by itself, with the instant at which that was noticed. */
    public void whenEdge(Consumer<Instant> listener) {
        edges.add(listener);
    }

    /** Has a facet made of every new snapshot before somebody asks for it. */
    public void keepReady(Facet<?> facet) {
        ready.add(facet);
    }

    /** Starts to listen; what was missed while nobody did comes first. */
    public void start() {
        watch = store.watch(this);
        makeReady();
    }

    /**
     * Makes the next answers ready, on a thread of its own. Many changes in a row are made ready once, for what waits looks at the newest;
     * and where they do not cease, it rests for longer than it works, so that those who publish are not kept from it.
     */
    private void makeReady() {
        if (aside.isShutdown() || waits.getAndSet(true)) return;
        aside.execute(() -> {
            LockSupport.parkNanos(restsUntil - System.nanoTime());
            waits.set(false);
            long began = System.nanoTime();
            try {
                if (timeline.isEmpty()) return;
                Snapshot snapshot = timeline.present();
                snapshot.moment(Question.at(timeline.now())).solution().all();
                ready.forEach(snapshot::get);
            } catch (RuntimeException failure) {
                LOG.warn("What nobody waits for could not be made ready; it is made when it is asked for", failure);
            } finally {
                long ended = System.nanoTime();
                restsUntil = ended + Math.min(REST * (ended - began), LONGEST_REST.toNanos());
            }
        });
    }

    /** How long ago the database was last heard of by the one who follows it. */
    public Duration heard() {
        return Duration.ofNanos(System.nanoTime() - heard);
    }

    /** Whether this server, and no other, does what time brings. */
    public boolean holdsClock() {
        return watch != null && watch.holdsClock();
    }

    @Override
    public void connected() {
        heard = System.nanoTime();
        publisher.follow();
    }

    @Override
    public void published(long change) {
        if (change > timeline.change()) publisher.follow();
    }

    @Override
    public void drafted(long draft) {
        drafted.forEach(listener -> listener.accept(draft));
        events.tellDraft(draft);
    }

    @Override
    public void looked() {
        heard = System.nanoTime();
        if (timeline.isEmpty()) return;
        if (watch != null && watch.holdsClock()) {
            publisher.passTime();
            due.forEach(Runnable::run);
        }
        Instant now = timeline.now();
        if (timeline.present().isEdgeBetween(seen, now)) {
            events.tellTime(now);
            edges.forEach(listener -> listener.accept(now));
            makeReady();
        }
        seen = now;
        if (watch != null && watch.holdsClock() && now.isAfter(tidied.plus(TIDIED))) {
            tidied = now;
            store.database().forget(now.minus(REQUESTS_KEPT));
        }
    }

    @Override
    public void close() {
        if (watch != null) watch.close();
        aside.shutdownNow();
    }
}
