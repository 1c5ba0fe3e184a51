package leanladder.server.state;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.io.IOException;
import java.io.InputStream;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import leanladder.edit.session.EditSession;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.seat.SeatLedger;
import leanladder.store.SeatRows;
import leanladder.store.Store;
import leanladder.store.db.Database;
import leanladder.store.db.DatabaseUnavailableException;
import leanladder.store.db.DuplicateRequestException;
import leanladder.store.db.RequestTimings;
import leanladder.store.db.WriteRequest;
import leanladder.store.entities.EntityTable;
import leanladder.store.entities.StoredEntity;
import leanladder.store.journal.Change;
import leanladder.store.journal.NewChange;
import leanladder.store.journal.StaleBaseException;
import leanladder.store.mail.MailTable;
import leanladder.text.SeatChangeReason;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Publishes drafts, and follows the changes that other servers publish on the same database. The store decides who is first; the other server rebases
 * and tries again. Within one server, one thread at a time publishes or follows. Reads are answered from the previous snapshot meanwhile.
 */
public final class Publisher {
    private static final Logger LOG = LoggerFactory.getLogger(Publisher.class);
    private static final int TRIES = 50;
    /** How many times a draft is rebased outside of the critical section before it is rebased inside. */
    private static final int REBASED_OUTSIDE = 5;

    private static final Duration PATIENCE = Duration.ofSeconds(10);
    /** After how many entities of a file the memory in use is checked again. */
    private static final int CHECKED_AFTER = 1000;

    private static final int FOLLOWED_AT_ONCE = 200;
    private static final String CLOCK = "the clock";

    private final Store store;
    private final Timeline timeline;
    private final Duration patience;
    private final ChangeMail mail;
    /** Held by the thread that publishes or follows. Fair: threads get it in the order in which they asked. */
    private final ReentrantLock turn = new ReentrantLock(true);

    private final BoundedMutex files = new BoundedMutex("Another estate file is being read.");
    /** The instant up to which all due transitions have been applied. */
    private Instant passed = Instant.MIN;

    /** Publishes into a store and onto a timeline. */
    public Publisher(Store store, Timeline timeline) {
        this(store, timeline, PATIENCE, (after, number, edits) -> List.of());
    }

    /** @param mail the texts to people that a change brings */
    public Publisher(Store store, Timeline timeline, ChangeMail mail) {
        this(store, timeline, PATIENCE, mail);
    }

    /** @param patience how long a thread waits for the critical section */
    Publisher(Store store, Timeline timeline, Duration patience, ChangeMail mail) {
        this.store = store;
        this.timeline = timeline;
        this.patience = patience;
        this.mail = mail;
    }

    /** The texts to people that a change brings; they are stored with it, or not at all. */
    public interface ChangeMail {
        /**
         * The texts of one change.
         *
         * @param after the estate after the change
         * @param number of the change
         */
        List<MailTable.NewMail> of(Estate after, long number, JsonNode edits);
    }

    /**
     * How edits are published.
     *
     * @param ripple tells what they alter, as the journal keeps it
     * @param draft the draft that they were, which is taken away
     */
    public record PublishOptions(
            String author,
            String note,
            Function<RebasedDraft, JsonNode> ripple,
            Optional<Instant> planned,
            Optional<Long> draft) {}

    /** What was published, and the draft as it was rebased. */
    public record PublishResult(Change change, RebasedDraft rebasedDraft) {}

    /**
     * Publishes edits, on whatever the estate has become by then.
     *
     * @param check refuses, by throwing, a draft that may not be published as it is; it is asked for each estate that is tried
     * @throws DuplicateRequestException when the request was carried out before
     */
    public PublishResult publish(
            WriteRequest writeRequest,
            RebasedDraft rebasedDraft,
            PublishOptions publishOptions,
            Consumer<RebasedDraft> check) {
        timeline.readOnly().ifPresent(why -> {
            throw new StateException(StateException.Reason.READ_ONLY, why);
        });
        RebasedDraft ready = rebasedDraft;
        Optional<Prepared> before = Optional.empty();
        for (int i = 0; i < REBASED_OUTSIDE; i++) {
            // However long this takes, nobody waits for it.
            ready = timeline.rebaseOnPresent(ready);
            check.accept(ready);
            Prepared prepared = prepare(ready, publishOptions, before);
            before = Optional.of(prepared);
            Optional<PublishResult> published = exclusively(() -> {
                applyDueTransitionsFirst();
                return timeline.present() == prepared.draft.base()
                        ? publishNow(writeRequest, prepared, publishOptions)
                        : Optional.empty();
            });
            if (published.isPresent()) return published.get();
        }
        // Others were faster each time; now they wait.
        RebasedDraft last = ready;
        Optional<Prepared> prepared = before;
        return exclusively(() -> publishInTurn(writeRequest, last, publishOptions, check, prepared));
    }

    private PublishResult publishInTurn(
            WriteRequest writeRequest,
            RebasedDraft rebasedDraft,
            PublishOptions publishOptions,
            Consumer<RebasedDraft> check,
            Optional<Prepared> before) {
        RebasedDraft ready = rebasedDraft;
        for (int i = 0; i < TRIES; i++) {
            applyDueTransitionsFirst();
            ready = timeline.rebaseOnPresent(ready);
            check.accept(ready);
            Optional<PublishResult> published =
                    publishNow(writeRequest, prepare(ready, publishOptions, before), publishOptions);
            if (published.isPresent()) return published.get();
        }
        throw new StateException(
                StateException.Reason.BUSY,
                "Others publish without a pause; nothing was stored. Try again in a moment.");
    }

    /** A rebased draft, and what publishing it needs that takes long to compute. */
    private record Prepared(
            RebasedDraft draft, CompiledEstate edited, JsonNode ripple, EntityTable.EntityWrites writes) {}

    /** @param before what was prepared for an earlier base; what it writes is taken over where it is the same */
    private static Prepared prepare(
            RebasedDraft rebasedDraft, PublishOptions publishOptions, Optional<Prepared> before) {
        EntityTable.EntityWrites writes = before.filter(
                        p -> rebasedDraft.editSession().writesTheSameAs(p.draft.editSession()))
                .map(Prepared::writes)
                .orElseGet(() -> EntityTable.EntityWrites.of(rebasedDraft.editSession()));
        return new Prepared(
                rebasedDraft, rebasedDraft.editSession().compile(), publishOptions.ripple.apply(rebasedDraft), writes);
    }

    /**
     * Runs work while this server publishes nothing else and follows no change. Who waits for that too long, because another publish takes
     * long, gets a {@link StateException}.
     */
    public <T> T exclusively(Supplier<T> publishing) {
        long began = System.nanoTime();
        boolean mine;
        try {
            mine = turn.tryLock(patience.toNanos(), TimeUnit.NANOSECONDS);
        } catch (InterruptedException ended) {
            Thread.currentThread().interrupt();
            mine = false;
        }
        RequestTimings.add("waiting for others to publish", System.nanoTime() - began);
        if (!mine)
            throw new StateException(
                    StateException.Reason.BUSY,
                    "What others publish takes long; nothing of this was stored. Try again in a moment.");
        try {
            return publishing.get();
        } finally {
            turn.unlock();
        }
    }

    /** Publishes on the present estate; empty where another server was faster, which is followed then. */
    private Optional<PublishResult> publishNow(
            WriteRequest writeRequest, Prepared prepared, PublishOptions publishOptions) {
        RebasedDraft ready = prepared.draft;
        Snapshot base = ready.base();
        Instant at = instant();
        SeatLedger.Moved seats = ready.seatsPassedOn(at);
        NewChange newChange = new NewChange(
                at,
                publishOptions.author,
                false,
                publishOptions.note,
                ready.edits(),
                ready.words(),
                prepared.ripple,
                publishOptions.planned,
                publishOptions.draft,
                mail.of(prepared.edited.estate(), base.change() + 1, ready.edits()));
        try {
            Change change = store.parts()
                    .publish(
                            writeRequest,
                            base.change(),
                            newChange,
                            prepared.writes,
                            SeatRows.moved(
                                    base.compiledEstate(), prepared.edited.withLedger(seats.ledger()), at, false));
            Snapshot after = base.edited(
                    ready.editSession(),
                    seats.ledger(),
                    ready.rippleIfKnown(),
                    change.number(),
                    change.at(),
                    timeline.now());
            // Where seats pass on, they are held since now, not since the draft was looked at.
            Optional<Snapshot> known =
                    ready.snapshotIfKnown().filter(k -> seats.moves().isEmpty());
            timeline.step(new Timeline.Step(
                    change,
                    known.isPresent() ? known.get().published(after) : after,
                    Optional.of(ready.editSession().writeSet()),
                    changed(ready.editSession(), prepared.edited, at, ready.rippleIfKnown())));
            return Optional.of(new PublishResult(change, ready));
        } catch (StaleBaseException moved) {
            follow();
            return Optional.empty();
        }
    }

    /** The instant of the next change: now, as the journal writes it, and never before the last one. */
    private Instant instant() {
        Instant now = timeline.now().truncatedTo(ChronoUnit.MILLIS);
        return timeline.isEmpty() || !timeline.present().at().isAfter(now)
                ? now
                : timeline.present().at();
    }

    /**
     * Lets the seats pass on of every edge of a plan that is due, each edge as a change of the clock at its own instant. Costs a look
     * at the edges where none is.
     */
    public void applyDueTransitions() {
        turn.lock();
        try {
            applyDueEdges();
        } finally {
            turn.unlock();
        }
    }

    /** Applies due transitions before a publish (resolution.md, section 6). If that fails, nothing can be published, and the problem says why. */
    private void applyDueTransitionsFirst() {
        try {
            applyDueTransitions();
        } catch (DatabaseUnavailableException | StateException away) {
            throw away;
        } catch (RuntimeException failure) {
            if (Database.isFull(failure) || Database.isReadOnly(failure) || Database.isAway(failure)) throw failure;
            LOG.error("What was due at an edge of time could not be published", failure);
            throw new StateException(
                    StateException.Reason.TRANSITION_FAILED,
                    "Seats that pass on by themselves were due"
                            + SeatLedger.nextEdge(timeline.present().estate(), passed, instant())
                                    .map(edge -> " at " + edge)
                                    .orElse("")
                            + ", and that failed; it comes before everything else, so nothing was published. The server's log says more.");
        }
    }

    private void applyDueEdges() {
        // Each turn passes an edge, or follows somebody who did: what is published next finds none that is due.
        while (!timeline.isEmpty() && timeline.readOnly().isEmpty()) {
            Snapshot base = timeline.present();
            if (passed.isBefore(base.at())) passed = base.at();
            Optional<Instant> edge = SeatLedger.nextEdge(base.estate(), passed, instant());
            if (edge.isEmpty()) return;
            // The journal counts microseconds: what is written never comes before the edge.
            Instant at = edge.get().truncatedTo(ChronoUnit.MICROS).equals(edge.get())
                    ? edge.get()
                    : edge.get().truncatedTo(ChronoUnit.MICROS).plus(1, ChronoUnit.MICROS);
            SeatLedger seatLedger = through(base, at);
            List<SeatLedger.Move> moves = seatLedger.since(base.compiledEstate().seatLedger());
            if (moves.isEmpty()) passed = at;
            else applyDueTransitions(base, seatLedger, moves, at);
        }
    }

    private static SeatLedger through(Snapshot base, Instant at) {
        return base.compiledEstate().seatLedger().advanceTo(base.estate().plans(), base.directory(), at);
    }

    private void applyDueTransitions(Snapshot base, SeatLedger seatLedger, List<SeatLedger.Move> moves, Instant at) {
        CompiledEstate after = base.compiledEstate().withLedger(seatLedger);
        ArrayNode words = Json.NODES.arrayNode();
        moves.forEach(m -> words.add(new SeatChangeReason(base.compiledEstate(), after, at, true, m).sentence()));
        NewChange newChange = new NewChange(
                at,
                CLOCK,
                true,
                "",
                Json.NODES.arrayNode(),
                words,
                Json.NODES.objectNode(),
                Optional.of(at),
                Optional.empty());
        try {
            Change change = store.parts()
                    .publish(
                            WriteRequest.by(CLOCK, at),
                            base.change(),
                            newChange,
                            List.of(),
                            List.of(),
                            SeatRows.moved(base.compiledEstate(), after, at, true));
            WriteSet touched = ofPlans(moves);
            timeline.step(new Timeline.Step(
                    change,
                    base.withTransition(seatLedger, touched, change.number(), change.at()),
                    Optional.of(touched),
                    () -> Optional.of(seated(moves))));
        } catch (StaleBaseException moved) {
            follow();
        }
    }

    /** Who got a seat or gave one back. */
    private static RoaringBitmap seated(List<SeatLedger.Move> moves) {
        RoaringBitmap seated = new RoaringBitmap();
        for (SeatLedger.Move move : moves) {
            seated.or(move.given());
            seated.or(move.returned());
        }
        return seated;
    }

    private static WriteSet ofPlans(List<SeatLedger.Move> moves) {
        WriteSet touched = WriteSet.EMPTY;
        for (SeatLedger.Move move : moves) touched = touched.and(WriteSet.ofPlan(move.plan()));
        return touched;
    }

    /**
     * Replaces everything by an estate file, as one change. The file is read before anybody has to wait.
     *
     * @param base the change that the sender knows as the last, where it named one
     * @throws InvalidEstateException when the file has defects; nothing is stored then
     */
    public Change replace(WriteRequest writeRequest, InputStream file, Optional<Long> base, String note)
            throws IOException, InvalidEstateException {
        checkBase(base);
        // Two would not fit into memory side by side.
        return files.<Change, IOException, InvalidEstateException>run(() -> {
            List<StoredEntity> parts = new ArrayList<>();
            EstateReader.Result read = EstateReader.read(file, entityRecord -> {
                parts.add(StoredEntity.from(entityRecord));
                if (parts.size() % CHECKED_AFTER == 0) HeapLimit.check();
            });
            store.pictures().moveFromFrame(read.frame(), instant());
            parts.addAll(StoredEntity.frame(read.frame()));
            ArrayNode edits = Json.NODES.arrayNode();
            edits.addObject().put("kind", "replace-estate");
            return exclusively(() -> replace(writeRequest, read.estate(), parts, base, note, edits));
        });
    }

    private Change replace(
            WriteRequest writeRequest,
            Estate read,
            List<StoredEntity> parts,
            Optional<Long> base,
            String note,
            ArrayNode edits) {
        CompiledEstate file = new CompiledEstate(read);
        for (int i = 0; i < TRIES; i++) {
            applyDueTransitionsFirst();
            checkBase(base);
            Instant at = instant();
            CompiledEstate compiledEstate = file.withSeatsGiven(at);
            NewChange newChange = new NewChange(
                    at,
                    writeRequest.actor(),
                    false,
                    note,
                    edits,
                    Json.NODES.arrayNode().add("The whole estate is replaced"),
                    Json.NODES.objectNode(),
                    Optional.empty(),
                    Optional.empty());
            try {
                Change change = store.parts()
                        .replace(
                                writeRequest,
                                timeline.change(),
                                newChange,
                                parts.stream(),
                                () -> SeatRows.loaded(read, compiledEstate));
                timeline.step(new Timeline.Step(
                        change,
                        new Snapshot(change.number(), change.at(), compiledEstate),
                        Optional.empty(),
                        Optional::empty));
                return change;
            } catch (StaleBaseException moved) {
                follow();
            }
        }
        throw new StateException(
                StateException.Reason.BUSY,
                "Others publish without a pause; nothing was stored. Try again in a moment.");
    }

    private void checkBase(Optional<Long> base) {
        long last = timeline.change();
        if (base.isPresent() && base.get() != last)
            throw new StateException(
                    StateException.Reason.STALE,
                    "The estate stands at change " + last + ", not " + base.get()
                            + ". Get it again first; nothing was stored.");
    }

    /** Carries out, on the snapshot in memory, what was published since, here or elsewhere. */
    public void follow() {
        turn.lock();
        try {
            for (List<Change> since = unseen(); !since.isEmpty(); since = unseen())
                for (Change change : since) if (change.number() > timeline.change()) follow(change);
        } finally {
            turn.unlock();
        }
    }

    private List<Change> unseen() {
        return store.journal().since(timeline.change(), FOLLOWED_AT_ONCE);
    }

    private void follow(Change change) {
        if (change.replacesEstate()) {
            timeline.step(
                    new Timeline.Step(change, timeline.loaded(change.number()), Optional.empty(), Optional::empty));
            return;
        }
        Snapshot before = timeline.present();
        if (change.isAutomatic()) {
            SeatLedger seatLedger = through(before, change.at());
            List<SeatLedger.Move> moves =
                    seatLedger.since(before.compiledEstate().seatLedger());
            WriteSet touched = ofPlans(moves);
            timeline.step(new Timeline.Step(
                    change,
                    before.withTransition(seatLedger, touched, change.number(), change.at()),
                    Optional.of(touched),
                    () -> Optional.of(seated(moves))));
            return;
        }
        EditSession editSession = timeline.editSession(before);
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) editSession.apply(new JsonCursor(edit, "", defects));
        // What the journal holds has been carried out once; should it not fit here, what is stored counts.
        if (!defects.isEmpty()) {
            timeline.step(
                    new Timeline.Step(change, timeline.loaded(change.number()), Optional.empty(), Optional::empty));
            return;
        }
        SeatLedger seatLedger = Ripple.seatsPassedOn(editSession, editSession.compile(), change.at())
                .ledger();
        Snapshot after =
                before.edited(editSession, seatLedger, Optional.empty(), change.number(), change.at(), timeline.now());
        timeline.step(new Timeline.Step(
                change,
                after,
                Optional.of(editSession.writeSet()),
                changed(editSession, after.compiledEstate(), change.at(), Optional.empty())));
    }

    /** Whose settings edits change: worked out when it is asked for. */
    private static Supplier<Optional<RoaringBitmap>> changed(
            EditSession editSession, CompiledEstate after, Instant at, Optional<Ripple> known) {
        return () -> {
            RoaringBitmap changed = new RoaringBitmap();
            List<Ripple> ripples =
                    new ArrayList<>(Ripple.inWorkspaces(editSession, after, at).values());
            ripples.add(known.orElseGet(() -> new Ripple(editSession, after, EvaluationContext.at(at))));
            for (Ripple ripple : ripples)
                for (RoaringBitmap some :
                        List.of(ripple.changed(), ripple.decidedElsewhere(), ripple.joining(), ripple.leaving()))
                    changed.or(some);
            return Optional.of(changed);
        };
    }
}
