package leanladder.server.state;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Consumer;
import java.util.function.LongConsumer;
import leanladder.resolve.EvaluationContext;
import leanladder.store.Store;
import leanladder.store.cluster.ClusterListener;
import leanladder.store.db.DatabaseUnavailableException;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs everything that happens without a request. Each task runs on a thread of its own and never twice at the same time, so that a task that fails
 * or takes long delays no other. A task that fails is tried again after a pause that doubles up to a minute. Some tasks run on every server, others
 * only on the leader (see {@link ClusterListener}).
 *
 * <p>Changes of other servers are followed on the thread of the cluster listener, which runs no task.
 */
public final class BackgroundScheduler implements AutoCloseable, ClusterListener.Listener {
    private static final Logger LOG = LoggerFactory.getLogger(BackgroundScheduler.class);
    private static final Duration TICK = Duration.ofMillis(500);
    private static final Duration FIRST_PAUSE = Duration.ofSeconds(1);
    private static final Duration LONGEST_PAUSE = Duration.ofMinutes(1);
    private static final Duration REQUESTS_KEPT = Duration.ofDays(2);
    private static final Duration CLEANUP = Duration.ofHours(1);
    /** After it has prepared answers, the server rests for so many times as long as that took. */
    private static final int REST = 8;

    private static final Duration LONGEST_REST = Duration.ofSeconds(4);

    private final Store store;
    private final Timeline timeline;
    private final Publisher publisher;
    private final ChangeEventPublisher changeEventPublisher;
    private final List<Task> tasks = new CopyOnWriteArrayList<>();
    private final List<LongConsumer> draftListeners = new CopyOnWriteArrayList<>();
    private final List<DerivedIndex<?>> prepared = new CopyOnWriteArrayList<>();
    private final ScheduledThreadPoolExecutor threads = new ScheduledThreadPoolExecutor(1, run -> {
        Thread thread = new Thread(run, "task");
        thread.setDaemon(true);
        return thread;
    });
    private final Task prepare;
    private volatile long heard = System.nanoTime();
    private volatile boolean started;
    private @Nullable ClusterListener clusterListener;

    /** Not started yet. */
    public BackgroundScheduler(
            Store store, Timeline timeline, Publisher publisher, ChangeEventPublisher changeEventPublisher) {
        this.store = store;
        this.timeline = timeline;
        this.publisher = publisher;
        this.changeEventPublisher = changeEventPublisher;
        threads.setRemoveOnCancelPolicy(true);
        prepare = onRequest("prepared answers", this::prepareAnswers);
        timeline.onStep(step -> prepare.request());
        onTransition("events of time", changeEventPublisher::tellTime);
        onTransition("prepared answers of time", at -> prepare.request());
        everyTickOnLeader("seats that move by time", publisher::applyDueTransitions);
        everyOnLeader(
                "cleanup", CLEANUP, () -> store.database().forget(timeline.now().minus(REQUESTS_KEPT)));
        everyOnLeader("unused pictures", CLEANUP, () -> store.pictures().removeUnused(timeline.now()));
    }

    /** Runs work about every half second, on the leader. */
    public void everyTickOnLeader(String name, Runnable work) {
        add(new Task(name, true, TICK, work));
    }

    /** Runs work in intervals, on the leader. */
    public void everyOnLeader(String name, Duration interval, Runnable work) {
        add(new Task(name, true, interval, work));
    }

    /** Work that runs on this server when somebody asks for it; requests that come while it runs are served by one more run. */
    public Task onRequest(String name, Runnable work) {
        return add(new Task(name, false, Duration.ZERO, work));
    }

    /**
     * Runs work on this server whenever something began or ended by itself.
     *
     * @param work is given the instant at which that was noticed
     */
    public void onTransition(String name, Consumer<Instant> work) {
        Instant[] seen = {timeline.now()};
        add(new Task(name, false, TICK, () -> {
            if (timeline.isEmpty()) return;
            Instant now = timeline.now();
            if (timeline.present().isEdgeBetween(seen[0], now)) work.accept(now);
            seen[0] = now;
        }));
    }

    /** Calls a listener for every draft that any server creates, alters, publishes or discards. */
    public void onDraftChanged(LongConsumer listener) {
        draftListeners.add(listener);
    }

    /** Computes a derived index of every new snapshot before somebody asks for it. */
    public void keepPrepared(DerivedIndex<?> derivedIndex) {
        prepared.add(derivedIndex);
    }

    /** Starts to listen and to run; what was missed while nobody listened comes first. */
    public void start() {
        clusterListener = store.watch(this);
        started = true;
        tasks.forEach(Task::start);
        prepare.request();
    }

    /**
     * Computes what the next questions are likely to ask. Many changes in a row are prepared for once, since the newest snapshot is
     * taken; where they do not cease, the task rests for longer than it works, so that publishing is not delayed.
     */
    private void prepareAnswers() {
        if (timeline.isEmpty()) return;
        Thread.currentThread().setPriority(Thread.MIN_PRIORITY);
        long began = System.nanoTime();
        try {
            Snapshot snapshot = timeline.present();
            snapshot.resolutionAt(EvaluationContext.at(timeline.now()))
                    .columnResolver()
                    .all();
            prepared.forEach(snapshot::get);
        } finally {
            Thread.currentThread().setPriority(Thread.NORM_PRIORITY);
            prepare.restFor(Math.min(REST * (System.nanoTime() - began), LONGEST_REST.toNanos()));
        }
    }

    /** How long ago the thread that follows the database last heard from it. */
    public Duration sinceLastContact() {
        return Duration.ofNanos(System.nanoTime() - heard);
    }

    /** Whether this server, and no other, runs the tasks of the leader. */
    public boolean isLeader() {
        return clusterListener != null && clusterListener.isLeader();
    }

    /**
     * The state of a task.
     *
     * @param failures how often it failed since it last succeeded
     * @param trouble what went wrong last; empty while it succeeds
     * @param nextMillis in how many milliseconds it is tried again; 0 while it succeeds
     */
    public record TaskState(String name, int failures, String trouble, long nextMillis, long runs, long allFailures) {}

    /** The state of every task, in the order in which they were added. */
    public List<TaskState> states() {
        return tasks.stream().map(Task::state).toList();
    }

    private Task add(Task task) {
        tasks.add(task);
        // Each task has a thread when it wants one.
        threads.setCorePoolSize(tasks.size());
        if (started) task.start();
        return task;
    }

    /** One task. */
    public final class Task {
        private final String name;
        private final boolean onLeader;
        private final Duration interval;
        private final Runnable work;
        private final AtomicBoolean requested = new AtomicBoolean();
        private boolean planned;
        private boolean running;
        private long notBefore = System.nanoTime();
        private int failures;
        private long runs;
        private long allFailures;
        private String trouble = "";

        private Task(String name, boolean onLeader, Duration interval, Runnable work) {
            this.name = name;
            this.onLeader = onLeader;
            this.interval = interval;
            this.work = work;
        }

        private void start() {
            if (interval.isZero()) plan(0);
            else plan(interval.toNanos());
        }

        /** Has it run soon. */
        public void request() {
            requested.set(true);
            if (started) plan(0);
        }

        private synchronized void restFor(long nanos) {
            notBefore = Math.max(notBefore, System.nanoTime() + nanos);
        }

        private synchronized void plan(long nanos) {
            if (planned || running || threads.isShutdown()) return;
            planned = true;
            long wait = Math.max(nanos, notBefore - System.nanoTime());
            threads.schedule(this::run, wait, TimeUnit.NANOSECONDS);
        }

        private void run() {
            synchronized (this) {
                planned = false;
                running = true;
            }
            try {
                boolean due = interval.isZero() ? requested.getAndSet(false) : !onLeader || isLeader();
                if (due) work();
            } finally {
                synchronized (this) {
                    running = false;
                }
                if (!interval.isZero()) plan(interval.toNanos());
                else if (requested.get()) plan(0);
            }
        }

        private void work() {
            Thread.currentThread().setName("task: " + name);
            try {
                work.run();
                ended(null);
            } catch (RuntimeException | Error failure) {
                if (threads.isShutdown()) return;
                requested.set(true);
                ended(failure);
            }
        }

        private synchronized void ended(@Nullable Throwable failure) {
            runs++;
            if (failure == null) {
                if (failures > 0) LOG.info("The task \"{}\" succeeds again", name);
                failures = 0;
                trouble = "";
                return;
            }
            failures++;
            allFailures++;
            trouble = failure.getMessage() == null ? failure.getClass().getSimpleName() : failure.getMessage();
            long pause = failure instanceof DatabaseUnavailableException
                    ? FIRST_PAUSE.toNanos()
                    : Math.min(LONGEST_PAUSE.toNanos(), FIRST_PAUSE.toNanos() << Math.min(failures - 1, 10));
            restFor(pause);
            if (failures == 1 && !(failure instanceof DatabaseUnavailableException))
                LOG.warn("The task \"{}\" failed; it is tried again in {} s", name, pause / 1_000_000_000, failure);
            else LOG.warn("The task \"{}\" failed {} times in a row: {}", name, failures, trouble);
        }

        private synchronized TaskState state() {
            long next = failures == 0 ? 0 : Math.max(0, (notBefore - System.nanoTime()) / 1_000_000);
            return new TaskState(name, failures, trouble, next, runs, allFailures);
        }
    }

    @Override
    public void onConnect() {
        heard = System.nanoTime();
        publisher.follow();
    }

    @Override
    public void onChange(long change) {
        if (change > timeline.change()) publisher.follow();
    }

    @Override
    public void onDraft(long draft) {
        draftListeners.forEach(listener -> listener.accept(draft));
        changeEventPublisher.tellDraft(draft);
    }

    @Override
    public void tick() {
        heard = System.nanoTime();
    }

    @Override
    public void close() {
        if (clusterListener != null) clusterListener.close();
        threads.shutdownNow();
    }
}
