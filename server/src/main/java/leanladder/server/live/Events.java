package leanladder.server.live;

import io.javalin.http.Context;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import leanladder.catalogue.Setting;
import leanladder.change.overlay.Footprint;
import leanladder.server.http.Answers;

/**
 * Tells browsers what is published, drafted and brought by time, as server-sent events; they ask again for what they show. A new
 * stream first says at which change it starts, and nothing after that is missed: whoever connects again tells by that, and by the
 * number of the last change that it heard of, whether something happened in between. One thread hands events to all streams in turn;
 * each writes as fast as its browser reads, without a thread, so that nobody waits for a browser, or fails because of one.
 */
public final class Events implements AutoCloseable {
    private static final int MOST_NAMED = 200;
    private static final int HEARTBEAT_SECONDS = 15;

    /** Where a stream starts. */
    public record StartEvent(long change, Instant now) {}

    /**
     * A change, and what it touched.
     *
     * @param all whether anything can be touched: then nothing is named
     * @param settings keys of the settings whose outcomes it can touch
     * @param directory whether units, accounts, groups or workspaces are touched, or what is open to workspaces
     * @param seats whether licence plans are, or seats that may pass on
     */
    public record ChangeEvent(
            long number,
            Instant at,
            String author,
            String note,
            boolean all,
            List<String> settings,
            List<String> policies,
            boolean directory,
            boolean seats) {}

    /** A draft that was begun, altered, published or thrown away. */
    public record DraftEvent(long id) {}

    /** An edge of time. */
    public record TimeEvent(Instant at) {}

    /** What events carry, one record for each kind. */
    public static final List<Class<?>> RECORDS =
            List.of(StartEvent.class, ChangeEvent.class, DraftEvent.class, TimeEvent.class);

    private final Timeline timeline;
    private final Set<EventStream> streams = ConcurrentHashMap.newKeySet();
    private final ScheduledExecutorService telling = Executors.newSingleThreadScheduledExecutor(run -> {
        Thread thread = new Thread(run, "events");
        thread.setDaemon(true);
        return thread;
    });

    /** Tells the steps of a timeline. */
    public Events(Timeline timeline) {
        this.timeline = timeline;
        timeline.whenStepped(step -> tell("change", Optional.of(step.change().number()), stepped(step)));
        telling.scheduleWithFixedDelay(this::heartbeat, HEARTBEAT_SECONDS, HEARTBEAT_SECONDS, TimeUnit.SECONDS);
    }

    /** Opens a stream. It is told in its turn, so that it misses nothing after the change that it starts at. */
    public void open(Context ctx) throws IOException {
        ctx.contentType("text/event-stream");
        ctx.header("Cache-Control", "no-store");
        ctx.header("X-Accel-Buffering", "no");
        EventStream stream = EventStream.open(ctx.req(), ctx.res(), streams::remove);
        // The stream ends the request itself; nothing else is to be answered.
        ctx.future(CompletableFuture::new);
        if (telling.isShutdown()) {
            stream.close();
            return;
        }
        telling.execute(() -> {
            StartEvent start = new StartEvent(timeline.change(), timeline.now());
            stream.send(written("start", Optional.of(start.change), start));
            if (stream.isOpen()) streams.add(stream);
        });
    }

    /** How many are told. */
    public int streams() {
        return streams.size();
    }

    private static ChangeEvent stepped(Timeline.Step step) {
        Optional<Footprint> touched = step.touched().filter(t -> t.size() <= MOST_NAMED);
        List<String> settings = new ArrayList<>();
        touched.ifPresent(t -> step.after().estate().catalogue().withDependents(t.settings()).stream()
                .map(Setting::key)
                .forEach(settings::add));
        return new ChangeEvent(
                step.change().number(),
                step.change().at(),
                step.change().author(),
                step.change().note(),
                touched.isEmpty(),
                settings,
                touched.map(t -> List.copyOf(new TreeSet<>(t.policies()))).orElse(List.of()),
                touched.map(t -> t.touchesDirectory()
                                || !t.workspaces().isEmpty()
                                || !t.catalogue().isEmpty())
                        .orElse(true),
                touched.map(t -> t.touchesDirectory() || !t.plans().isEmpty()).orElse(true));
    }

    /** Says that a draft was begun, altered, published or thrown away. */
    public void tellDraft(long id) {
        tell("draft", Optional.empty(), new DraftEvent(id));
    }

    /** Says that something began or ended by itself. */
    public void tellTime(Instant at) {
        tell("time", Optional.empty(), new TimeEvent(at));
    }

    private void tell(String event, Optional<Long> id, Object record) {
        if (telling.isShutdown()) return;
        telling.execute(() -> {
            String written = written(event, id, record);
            streams.forEach(stream -> stream.send(written));
        });
    }

    private static String written(String event, Optional<Long> id, Object record) {
        return id.map(number -> "id: " + number + "\n").orElse("") + "event: " + event + "\ndata: "
                + new String(Answers.write(record), StandardCharsets.UTF_8) + "\n\n";
    }

    /** Whoever has left is noticed by what can no longer be written. */
    private void heartbeat() {
        streams.forEach(stream -> stream.send(": still here\n\n"));
    }

    @Override
    public void close() {
        telling.shutdownNow();
        streams.forEach(EventStream::close);
    }
}
