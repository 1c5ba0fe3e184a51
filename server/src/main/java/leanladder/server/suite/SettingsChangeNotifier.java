package leanladder.server.suite;

import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import leanladder.resolve.EvaluationContext;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.ProblemException;
import leanladder.server.state.BackgroundScheduler;
import leanladder.server.state.Snapshot;
import leanladder.server.state.SseBroadcaster;
import leanladder.server.state.Timeline;
import org.roaringbitmap.RoaringBitmap;

/**
 * Sends server-sent events to clients of the suite that name the accounts whose settings they should fetch again, after a published change or a
 * transition of time. The accounts are computed on the sending thread, one event after the other, and only while a client listens. Each event has an
 * id. A client that reconnects sends the last id it received, and gets the events it missed, or is told to fetch everything if that is too long ago.
 */
public final class SettingsChangeNotifier implements AutoCloseable {
    private static final int MOST_NAMED = 100_000;
    private static final int KEPT = 1000;

    /**
     * Whose settings to fetch again.
     *
     * @param all whether that is everybody: then nobody is named
     */
    public record WakeEvent(long change, Instant at, boolean all, List<String> accounts) {}

    /** Where a stream starts. */
    public record ListeningEvent(long change, Instant at) {}

    /** What events carry, one record for each kind. */
    public static final List<Class<?>> RECORDS = List.of(WakeEvent.class, ListeningEvent.class);

    /** An event that was told, or where a stream started, which says nothing. */
    private record RecentEvent(String id, Optional<String> event) {}

    /** Up to where everything is told. */
    private record Watermark(Snapshot snapshot, Instant until) {}

    private final Timeline timeline;
    private final ClientSecret secret;
    private final SseBroadcaster sseBroadcaster = new SseBroadcaster("wakes");
    private final Deque<RecentEvent> kept = new ArrayDeque<>();
    private Optional<Watermark> told;

    /** Tells what a timeline and the passing of time bring. */
    public SettingsChangeNotifier(Timeline timeline, BackgroundScheduler scheduler, ClientSecret secret) {
        this.timeline = timeline;
        this.secret = secret;
        told = timeline.isEmpty() ? Optional.empty() : Optional.of(new Watermark(timeline.present(), timeline.now()));
        timeline.onStep(step -> sseBroadcaster.then(() -> onStep(step)));
        scheduler.onTransition("suite wakes by time", at -> sseBroadcaster.then(() -> onTransition(at)));
    }

    /** What time altered until a change is told before what the change does, for it need not be noticed yet. */
    private void onStep(Timeline.Step step) {
        Instant at = step.change().at();
        onTransition(at);
        tell(step.after(), at, step.changed());
        told = Optional.of(new Watermark(
                step.after(), told.map(Watermark::until).filter(at::isBefore).orElse(at)));
    }

    private void onTransition(Instant at) {
        if (told.isEmpty() || !at.isAfter(told.get().until)) return;
        Watermark before = told.get();
        if (before.snapshot.isEdgeBetween(before.until, at))
            tell(before.snapshot, at, () -> Optional.of(changedByTime(before.snapshot, before.until, at)));
        told = Optional.of(new Watermark(before.snapshot, at));
    }

    /** Opens a stream. @throws ProblemException when the secret of clients does not come with it */
    public void open(Context ctx) throws IOException {
        secret.check(Optional.ofNullable(ctx.header("Authorization")));
        String after = Optional.ofNullable(ctx.queryParam("after"))
                .or(() -> Optional.ofNullable(ctx.header("Last-Event-ID")))
                .orElse("");
        if (!after.isEmpty() && !after.matches("\\d{1,18}\\.-?\\d{1,18}"))
            throw ProblemException.wrongInput(
                    "The parameter \"after\" must be the id of the last event that was heard.");
        sseBroadcaster.open(ctx, () -> since(after));
    }

    /** What a stream is told first: where it starts, and what it missed. */
    private List<String> since(String after) {
        List<String> first = new ArrayList<>();
        ListeningEvent start = new ListeningEvent(timeline.change(), timeline.now());
        String id = id(start.change, start.at);
        if (!after.isEmpty() && !after.equals(id)) {
            boolean found = false;
            List<String> missed = new ArrayList<>();
            for (RecentEvent one : kept) {
                if (found) one.event.ifPresent(missed::add);
                found |= one.id.equals(after);
            }
            if (found) first.addAll(missed);
            else first.add(SseBroadcaster.written("wake", id, new WakeEvent(start.change, start.at, true, List.of())));
        }
        // Where it starts is kept as well, so that what comes after it can be told to whoever heard nothing else.
        String written = SseBroadcaster.written("listening", id, start);
        keep(new RecentEvent(id, Optional.empty()));
        first.add(written);
        return first;
    }

    private static String id(long change, Instant at) {
        return change + "." + at.toEpochMilli();
    }

    private void keep(RecentEvent one) {
        kept.addLast(one);
        while (kept.size() > KEPT) kept.removeFirst();
    }

    private void tell(Snapshot snapshot, Instant at, Supplier<Optional<RoaringBitmap>> whose) {
        if (sseBroadcaster.open() == 0) {
            kept.clear();
            return;
        }
        Optional<RoaringBitmap> changed = whose.get();
        if (changed.filter(RoaringBitmap::isEmpty).isPresent()) return;
        boolean all = changed.isEmpty() || changed.get().getCardinality() > MOST_NAMED;
        List<String> accounts = new ArrayList<>();
        if (!all)
            changed.get()
                    .forEach((int n) ->
                            accounts.add(snapshot.directory().account(n).id()));
        String id = id(snapshot.change(), at);
        String written = SseBroadcaster.written("wake", id, new WakeEvent(snapshot.change(), at, all, accounts));
        keep(new RecentEvent(id, Optional.of(written)));
        sseBroadcaster.send(written);
    }

    /** Everyone whose settings time alters, and everyone who works in some workspace: what it alters there is not worked out. */
    private static RoaringBitmap changedByTime(Snapshot snapshot, Instant from, Instant to) {
        RoaringBitmap changed = snapshot.resolutionAt(EvaluationContext.at(to))
                .columnResolver()
                .differing(snapshot.resolutionAt(EvaluationContext.at(from)).columnResolver());
        snapshot.estate()
                .workspaces()
                .forEach(w -> changed.or(snapshot.directory().holding(w.members())));
        return changed;
    }

    @Override
    public void close() {
        sseBroadcaster.close();
    }
}
