package leanladder.server.state;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.github.benmanes.caffeine.cache.AsyncCache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Stream;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Nesting;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.store.Store;
import leanladder.store.entities.EntityTable;
import leanladder.store.entities.StoredEntity;
import leanladder.store.journal.Change;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/** The snapshots that can be asked: the present one, past ones, and those that proposals make of the present one. */
public final class Timeline {
    /** Of how many accounts estates of the past are kept, and for how many a small one counts. */
    private static final int PAST_ACCOUNTS = 3_000_000;

    private static final int SMALL = 50_000;
    /** Of how many parts an estate of the past may differ from one that is at hand; one that differs in more is read whole. */
    private static final int RESTORED_AT_MOST = 100_000;
    /** In so few that several may be put together at once. */
    private static final int LITTLE = 1000;

    private static final int CHANGES_KEPT = 500;
    private static final int READ_AT_ONCE = 200;
    private static final int STOPS = 400;

    private final Store store;
    private final Clock clock;
    private final List<Consumer<Step>> listeners = new CopyOnWriteArrayList<>();
    private final AsyncCache<Long, Snapshot> past = Caffeine.newBuilder()
            .maximumWeight(PAST_ACCOUNTS)
            .weigher((Long number, Snapshot kept) ->
                    Math.max(SMALL, kept.directory().size()))
            .executor(Runnable::run)
            .buildAsync();
    private final BoundedMutex pastReads = new BoundedMutex("Several estates of the past are being read at once.");
    private final Deque<Change> recent = new ArrayDeque<>();
    private volatile Optional<Snapshot> present = Optional.empty();
    private volatile Optional<String> readOnly = Optional.empty();

    /**
     * A step from one snapshot to the next.
     *
     * @param touched what the change's edits touch; empty where it replaced the whole estate
     * @param changed works out whose settings it changes, in workspaces too, by number; empty where that can be anybody's
     */
    public record Step(
            Change change, Snapshot after, Optional<WriteSet> touched, Supplier<Optional<RoaringBitmap>> changed) {}

    /**
     * An instant from which on things can stand otherwise than before, and the estate that stands then.
     *
     * @param past whether another estate has followed since
     */
    public record HistoryPoint(Instant at, Snapshot snapshot, boolean past) {
        /** Prepares the questions about an account that is active then, working in a workspace where there is one then. */
        public AccountResolver climber(Account account, Optional<String> workspace) {
            EvaluationContext evaluationContext = new EvaluationContext(
                    at, workspace.filter(w -> snapshot.estate().workspace(w).isPresent()));
            return past
                    ? snapshot.resolvePast(evaluationContext, account)
                    : snapshot.resolutionAt(evaluationContext).climber(account);
        }
    }

    /** Reads the present estate from the store, where there is one. */
    public Timeline(Store store, Clock clock) {
        this.store = store;
        this.clock = clock;
        long latest = store.journal().latest();
        if (latest > 0) present = Optional.of(load(latest));
        readOnly = present.flatMap(p -> Nesting.excess(p.estate()));
    }

    /**
     * An estate of the past: the nearest one at hand with what stood otherwise put in place, or where that is much, read whole. Where it is
     * more than a little, one is made at a time.
     */
    private Snapshot loadPast(long number) {
        return restored(number, LITTLE)
                .orElseGet(() ->
                        pastReads.get(() -> restored(number, RESTORED_AT_MOST).orElseGet(() -> load(number))));
    }

    private Optional<Snapshot> restored(long number, int most) {
        Snapshot near = Stream.concat(present.stream(), past.synchronous().asMap().values().stream())
                .min(Comparator.comparingLong(s -> Math.abs(s.change() - number)))
                .orElseThrow();
        return store.parts()
                .difference(number, near.change(), most)
                .map(difference -> restored(near, number, difference));
    }

    private Snapshot restored(Snapshot near, long number, EntityTable.Difference difference) {
        List<EditSession.WrittenEntity> parts = new ArrayList<>();
        Optional<JsonNode> ranking = Optional.empty();
        Optional<JsonNode> catalogue = Optional.empty();
        Optional<JsonNode> rings = Optional.empty();
        Optional<JsonNode> tracks = Optional.empty();
        for (StoredEntity part : difference.entities()) {
            JsonNode body = part.body().isEmpty() ? Json.NODES.objectNode() : Json.read(part.body());
            switch (part.section()) {
                case StoredEntity.RANKING -> ranking = Optional.of(body);
                case StoredEntity.CATALOGUE -> catalogue = Optional.of(bodyOrFrame(part, number));
                case StoredEntity.RINGS -> rings = Optional.of(bodyOrFrame(part, number));
                case StoredEntity.TRACKS -> tracks = Optional.of(bodyOrFrame(part, number));
                default -> parts.add(new EditSession.WrittenEntity(part.section(), part.key(), (ObjectNode) body));
            }
        }
        EditSession editSession = editSession(near);
        editSession.restore(parts, new EditSession.FileFrame(ranking, catalogue, rings, tracks));
        Instant at = store.journal().change(number).orElseThrow().at();
        return near.restored(editSession, difference.seats(), number, at);
    }

    /** What stood in a part of its own after a change, or still in the frame of the file. */
    private JsonNode bodyOrFrame(StoredEntity part, long number) {
        return part.body().isEmpty() ? store.parts().frame(number).path(part.section()) : Json.read(part.body());
    }

    private Snapshot load(long number) {
        try {
            var storedEstate = store.parts().read(number);
            Instant at =
                    store.journal().change(storedEstate.number()).orElseThrow().at();
            CompiledEstate compiledEstate = new CompiledEstate(storedEstate.estate());
            return new Snapshot(
                    storedEstate.number(),
                    at,
                    compiledEstate.withLedger(compiledEstate.seatLedger().asOf(at)));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Registers a listener for every step from now on. Listeners are called one after the other, and nothing is published meanwhile. */
    public void onStep(Consumer<Step> listener) {
        listeners.add(listener);
    }

    /** Why nothing can be published on the present estate, as a sentence; empty where something can. */
    public Optional<String> readOnly() {
        return readOnly;
    }

    /** Whether nothing was ever published. */
    public boolean isEmpty() {
        return present.isEmpty();
    }

    /** The estate as it stands; a {@link StateException} when there is none yet. */
    public Snapshot present() {
        return present.orElseThrow(() -> new StateException(
                StateException.Reason.UNKNOWN,
                "There is no estate yet. Load one with PUT /api/v1/estate, or start with --estate FILE."));
    }

    /** The number of the last change that is in memory; 0 when there is none. */
    public long change() {
        return present.map(Snapshot::change).orElse(0L);
    }

    /** Now; never before the last change, also where a clock steps back. */
    public Instant now() {
        Instant read = clock.instant();
        return present.map(Snapshot::at).filter(at -> at.isAfter(read)).orElse(read);
    }

    /** The estate as it stood at an instant: the present one from the last change on, an earlier one before. */
    public Snapshot snapshotAt(Instant at) {
        Snapshot now = present();
        if (!at.isBefore(now.at())) return now;
        long number = store.journal().numberAt(at);
        if (number == 0)
            throw new StateException(
                    StateException.Reason.UNKNOWN,
                    "There was no estate yet at that time; the first change is younger.");
        return snapshotAfter(number);
    }

    /** The estate as it stood after a change. */
    public Snapshot snapshotAfter(long number) {
        Snapshot now = present();
        return number == now.change() ? now : SingleFlight.get(past.asMap(), number, () -> loadPast(number));
    }

    /** An instant from which on things may stand otherwise, and the number of the change after which they do. */
    private record ChangeInstant(Instant at, long number) {}

    /**
     * The instants up to one at which things can come to stand otherwise: those of changes, and the edges of time between them. The
     * first is that from which on is asked, or that of the first change, if that is later; where more than {@value #STOPS} changes
     * matter, it is that of the first of the last so many. Each past estate among them that is not at hand is read from the database.
     *
     * @param matters whether a change is one of them
     */
    public List<HistoryPoint> historyPoints(Instant from, Instant until, Predicate<Change> matters) {
        List<ChangeInstant> stops = List.copyOf(changeInstants(from, until, matters));
        List<HistoryPoint> turns = new ArrayList<>();
        for (int i = 0; i < stops.size(); i++) {
            Instant at = stops.get(i).at;
            Instant next = i + 1 < stops.size() ? stops.get(i + 1).at : until.plusNanos(1);
            Snapshot snapshot = snapshotAfter(stops.get(i).number);
            boolean past = snapshot.change() < change();
            turns.add(new HistoryPoint(at, snapshot, past));
            for (Instant edge : snapshot.edgesBetween(at, next)) turns.add(new HistoryPoint(edge, snapshot, past));
        }
        return turns;
    }

    private Deque<ChangeInstant> changeInstants(Instant from, Instant until, Predicate<Change> matters) {
        Instant first = store.journal().change(1).orElseThrow().at();
        Instant start = from.isBefore(first) ? first : from;
        long number = store.journal().numberAt(start);
        long last = store.journal().numberAt(until);
        Deque<ChangeInstant> stops = new ArrayDeque<>(List.of(new ChangeInstant(start, number)));
        for (; number < last; number += READ_AT_ONCE)
            for (Change change : store.journal().since(number, READ_AT_ONCE)) {
                if (change.number() > last || !matters.test(change)) continue;
                if (stops.getLast().at.equals(change.at())) stops.removeLast();
                stops.add(new ChangeInstant(change.at(), change.number()));
                if (stops.size() > STOPS) stops.remove();
            }
        return stops;
    }

    /** An edit session without edits on a snapshot; the bodies of its entities are read from the store. */
    public EditSession editSession(Snapshot on) {
        return new EditSession(on.compiledEstate(), store.parts().asOf(on.change()));
    }

    /** A draft without edits, on the present estate. */
    public RebasedDraft rebasedDraft() {
        return RebasedDraft.on(this, present());
    }

    /** The same draft on the present estate. */
    public RebasedDraft rebaseOnPresent(RebasedDraft rebasedDraft) {
        return rebasedDraft.rebaseOnto(present());
    }

    /** Passes on the changes after one and not after another, oldest first. The latest are at hand; others are read some at a time. */
    void forEachChange(long after, long until, Consumer<Change> each) {
        if (after >= until) return;
        List<Change> found = new ArrayList<>();
        synchronized (recent) {
            if (!recent.isEmpty() && recent.peekFirst().number() <= after + 1)
                for (Change change : recent) if (change.number() > after && change.number() <= until) found.add(change);
        }
        if (!found.isEmpty()) {
            found.forEach(each);
            return;
        }
        for (long last = after; last < until; ) {
            List<Change> some = store.journal().since(last, READ_AT_ONCE);
            if (some.isEmpty()) return;
            for (Change change : some) if (change.number() <= until) each.accept(change);
            last = some.get(some.size() - 1).number();
        }
    }

    /** Goes on to the next snapshot. Only one thread at a time does, see {@link Publisher}. */
    void step(Step step) {
        synchronized (recent) {
            recent.addLast(step.change);
            while (recent.size() > CHANGES_KEPT) recent.removeFirst();
        }
        // The estate before stays at hand: what is undone first is the newest change.
        present.filter(before -> step.touched.isPresent())
                .ifPresent(before -> past.put(before.change(), CompletableFuture.completedFuture(before)));
        present = Optional.of(step.after);
        // Edits leave nothing too deep; what another version stored may be.
        if (step.touched.isEmpty()) readOnly = Nesting.excess(step.after.estate());
        listeners.forEach(listener -> listener.accept(step));
    }

    Snapshot loaded(long number) {
        return load(number);
    }
}
