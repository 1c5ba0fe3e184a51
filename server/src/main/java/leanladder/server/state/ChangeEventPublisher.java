package leanladder.server.state;

import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import leanladder.catalogue.Setting;
import leanladder.workingcopy.WriteSet;

/**
 * Sends server-sent events to browsers about published changes, drafts and transitions of time. Browsers then fetch what they show again. A new stream
 * starts with the number of the current change. A browser that reconnects compares it with the last number it received, so that it misses nothing.
 * One thread sends the events to all streams; see {@link SseBroadcaster}.
 */
public final class ChangeEventPublisher implements AutoCloseable {
    private static final int MOST_NAMED = 200;

    /** Where a stream starts. */
    public record StartEvent(long change, Instant now) {}

    /**
     * A change, and what it touched.
     *
     * @param all whether anything can be touched: then nothing is named
     * @param settings keys of the settings whose outcomes it can touch
     * @param directory whether units, accounts, groups or workspaces are touched, or what is open to workspaces
     * @param seats whether licence plans are, or seats that may pass on
     * @param catalogue whether a setting itself is, or another part of the catalogue
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
            boolean seats,
            boolean catalogue) {}

    /** A draft that was begun, altered, published or discarded. */
    public record DraftEvent(long id) {}

    /** An edge of time. */
    public record TimeEvent(Instant at) {}

    /** What events carry, one record for each kind. */
    public static final List<Class<?>> RECORDS =
            List.of(StartEvent.class, ChangeEvent.class, DraftEvent.class, TimeEvent.class);

    private final Timeline timeline;
    private final SseBroadcaster sseBroadcaster = new SseBroadcaster("events");

    /** Tells the steps of a timeline. */
    public ChangeEventPublisher(Timeline timeline) {
        this.timeline = timeline;
        timeline.onStep(step ->
                sseBroadcaster.tell("change", Long.toString(step.change().number()), onStep(step)));
    }

    /** Opens a stream. */
    public void open(Context ctx) throws IOException {
        sseBroadcaster.open(ctx, () -> {
            StartEvent start = new StartEvent(timeline.change(), timeline.now());
            return List.of(SseBroadcaster.written("start", Long.toString(start.change), start));
        });
    }

    /** How many are told. */
    public int streams() {
        return sseBroadcaster.open();
    }

    private static ChangeEvent onStep(Timeline.Step step) {
        Optional<WriteSet> touched = step.touched().filter(t -> t.size() <= MOST_NAMED);
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
                touched.map(t -> t.touchesDirectory() || !t.plans().isEmpty()).orElse(true),
                touched.map(t -> t.frame() || !t.catalogue().isEmpty()).orElse(true));
    }

    /** Says that a draft was begun, altered, published or discarded. */
    public void tellDraft(long id) {
        sseBroadcaster.tell("draft", "", new DraftEvent(id));
    }

    /** Says that something began or ended by itself. */
    public void tellTime(Instant at) {
        sseBroadcaster.tell("time", "", new TimeEvent(at));
    }

    @Override
    public void close() {
        sseBroadcaster.close();
    }
}
