package leanladder.server.live;

import io.javalin.http.sse.SseClient;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import leanladder.catalogue.Setting;
import leanladder.change.overlay.Footprint;
import leanladder.server.http.Answers;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells browsers what is published, drafted and brought by time, as server-sent events; they ask again for what they show. A new
 * stream first says at which change it starts, and nothing after that is missed: whoever connects again tells by that, and by the
 * number of the last change that it heard of, whether something happened in between. One thread tells everybody in turn, so that
 * nobody who publishes waits for a browser, or fails because of one.
 */
public final class Events implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Events.class);
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
    private final Set<SseClient> clients = ConcurrentHashMap.newKeySet();
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
    public void open(SseClient client) {
        client.keepAlive();
        client.onClose(() -> clients.remove(client));
        if (telling.isShutdown()) {
            client.close();
            return;
        }
        telling.execute(() -> {
            StartEvent start = new StartEvent(timeline.change(), timeline.now());
            if (tell(client, "start", Optional.of(start.change), start)) clients.add(client);
        });
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
        if (!telling.isShutdown())
            telling.execute(() -> clients.forEach(client -> {
                if (!tell(client, event, id, record)) clients.remove(client);
            }));
    }

    private static boolean tell(SseClient client, String event, Optional<Long> id, Object record) {
        try {
            client.sendEvent(
                    event,
                    new String(Answers.write(record), StandardCharsets.UTF_8),
                    id.map(String::valueOf).orElse(null));
            return true;
        } catch (RuntimeException gone) {
            LOG.warn(
                    "A browser could not be told of \"{}\" and is not told any more; it connects again by itself",
                    event,
                    gone);
            client.close();
            return false;
        }
    }

    private void heartbeat() {
        clients.forEach(client -> {
            try {
                client.sendComment("still here");
            } catch (RuntimeException gone) {
                clients.remove(client);
                client.close();
            }
        });
    }

    @Override
    public void close() {
        telling.shutdownNow();
        clients.forEach(SseClient::close);
    }
}
