package leanladder.server.live;

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
import leanladder.change.Book;
import leanladder.change.Ripple;
import leanladder.change.overlay.Footprint;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.seat.Ledger;
import leanladder.server.http.Problem;
import leanladder.store.SeatRows;
import leanladder.store.Store;
import leanladder.store.db.Database;
import leanladder.store.db.Repeated;
import leanladder.store.db.Request;
import leanladder.store.db.Spent;
import leanladder.store.db.Unavailable;
import leanladder.store.journal.BaseMoved;
import leanladder.store.journal.Change;
import leanladder.store.journal.Entry;
import leanladder.store.mail.MailTable;
import leanladder.store.parts.PartTable;
import leanladder.store.parts.StoredPart;
import leanladder.tell.SeatTelling;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Publishes, and follows what other servers on the same database publish. The store decides who is first; whoever is not carries
 * over onto what came in between and tries again. In this server one thread at a time publishes or follows; what is asked meanwhile
 * is answered from the snapshot before.
 */
public final class Publisher {
    private static final Logger LOG = LoggerFactory.getLogger(Publisher.class);
    private static final int TRIES = 50;
    /** So often a proposal is carried onto the present estate while others go on publishing. */
    private static final int REBASED_OUTSIDE = 5;

    private static final Duration PATIENCE = Duration.ofSeconds(10);
    /** So many parts of a file are read before memory is looked at again. */
    private static final int CHECKED_AFTER = 1000;

    private static final int FOLLOWED_AT_ONCE = 200;
    private static final String CLOCK = "the clock";

    private final Store store;
    private final Timeline timeline;
    private final Duration patience;
    private final ChangeMail mail;
    /** Whose turn it is to publish, or to follow: one after the other, in the order in which they came. */
    private final ReentrantLock turn = new ReentrantLock(true);

    private final OneByOne files = new OneByOne("Another estate file is being read.");
    /** Until when no seat passes on by itself that has not been written. */
    private Instant passed = Instant.MIN;

    /** Publishes into a store and onto a timeline. */
    public Publisher(Store store, Timeline timeline) {
        this(store, timeline, PATIENCE, (after, number, edits) -> List.of());
    }

    /** @param mail the texts to people that a change brings */
    public Publisher(Store store, Timeline timeline, ChangeMail mail) {
        this(store, timeline, PATIENCE, mail);
    }

    /** @param patience for how long whoever wants to publish waits for those who came before */
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
        List<MailTable.Written> of(Estate after, long number, JsonNode edits);
    }

    /**
     * How edits are published.
     *
     * @param ripple tells what they alter, as the journal keeps it
     * @param draft the draft that they were, which is taken away
     */
    public record How(
            String author,
            String note,
            Function<Proposal, JsonNode> ripple,
            Optional<Instant> planned,
            Optional<Long> draft) {}

    /** What was published, and the proposal as it was carried onto the estate before. */
    public record Published(Change change, Proposal proposal) {}

    /**
     * Publishes edits, on whatever the estate has become by then.
     *
     * @param check refuses, by throwing, a proposal that may not be published as it is; it is asked for each estate that is tried
     * @throws Repeated when the request was carried out before
     */
    public Published publish(Request request, Proposal proposal, How how, Consumer<Proposal> check) {
        timeline.readOnly().ifPresent(why -> {
            throw Problem.refused(409, "Read only", why);
        });
        Proposal ready = proposal;
        for (int i = 0; i < REBASED_OUTSIDE; i++) {
            // However long this takes, nobody waits for it.
            ready = timeline.onPresent(ready);
            check.accept(ready);
            Prepared prepared = prepare(ready, how);
            Optional<Published> published = exclusively(() -> {
                passTimeFirst();
                return timeline.present() == prepared.proposal.base()
                        ? publishNow(request, prepared, how)
                        : Optional.empty();
            });
            if (published.isPresent()) return published.get();
        }
        // Others are faster each time: they wait for once.
        Proposal last = ready;
        return exclusively(() -> publishInTurn(request, last, how, check));
    }

    private Published publishInTurn(Request request, Proposal proposal, How how, Consumer<Proposal> check) {
        Proposal ready = proposal;
        for (int i = 0; i < TRIES; i++) {
            passTimeFirst();
            ready = timeline.onPresent(ready);
            check.accept(ready);
            Optional<Published> published = publishNow(request, prepare(ready, how), how);
            if (published.isPresent()) return published.get();
        }
        throw Problem.refused(
                503, "Too busy", "Others publish without a pause; nothing was stored. Try again in a moment.");
    }

    /** A proposal, and what publishing it needs that takes long to compute. */
    private record Prepared(Proposal proposal, Ground edited, JsonNode ripple, PartTable.Parts parts) {}

    private static Prepared prepare(Proposal proposal, How how) {
        return new Prepared(
                proposal, proposal.book().after(), how.ripple.apply(proposal), PartTable.Parts.of(proposal.book()));
    }

    /**
     * Runs work while this server publishes nothing else and follows no change. Who waits for that too long, because another publish takes
     * long, is refused with a problem.
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
        Spent.add("waiting for others to publish", System.nanoTime() - began);
        if (!mine)
            throw Problem.refused(
                    503,
                    "Too busy",
                    "What others publish takes long; nothing of this was stored. Try again in a moment.");
        try {
            return publishing.get();
        } finally {
            turn.unlock();
        }
    }

    /** Publishes on the present estate; empty where another server was faster, which is followed then. */
    private Optional<Published> publishNow(Request request, Prepared prepared, How how) {
        Proposal ready = prepared.proposal;
        Snapshot base = ready.base();
        Instant at = instant();
        Ledger.Moved seats = ready.passedOn(at);
        Entry entry = new Entry(
                at,
                how.author,
                false,
                how.note,
                ready.edits(),
                ready.words(),
                prepared.ripple,
                how.planned,
                how.draft,
                mail.of(prepared.edited.estate(), base.change() + 1, ready.edits()));
        try {
            Change change = store.parts()
                    .publish(
                            request,
                            base.change(),
                            entry,
                            prepared.parts,
                            SeatRows.moved(base.ground(), prepared.edited.withLedger(seats.ledger()), at, false));
            Snapshot after = base.edited(
                    ready.book(), seats.ledger(), ready.rippleIfKnown(), change.number(), change.at(), timeline.now());
            // Where seats pass on, they are held since now, not since the draft was looked at.
            Optional<Snapshot> known =
                    ready.afterIfKnown().filter(k -> seats.moves().isEmpty());
            timeline.step(new Timeline.Step(
                    change,
                    known.isPresent() ? known.get().published(after) : after,
                    Optional.of(ready.book().footprint()),
                    changed(ready.book(), prepared.edited, at, ready.rippleIfKnown())));
            return Optional.of(new Published(change, ready));
        } catch (BaseMoved moved) {
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
    public void passTime() {
        turn.lock();
        try {
            passDueEdges();
        } finally {
            turn.unlock();
        }
    }

    /** Lets time pass before something is published (resolution.md, section 6); where that fails nothing can be published, and it is said why. */
    private void passTimeFirst() {
        try {
            passTime();
        } catch (Unavailable | Problem away) {
            throw away;
        } catch (RuntimeException failure) {
            if (Database.isFull(failure) || Database.isReadOnly(failure) || Database.isAway(failure)) throw failure;
            LOG.error("What was due at an edge of time could not be published", failure);
            throw Problem.refused(
                    503,
                    "Edge of time failed",
                    "Seats that pass on by themselves were due"
                            + Ledger.nextEdge(timeline.present().estate(), passed, instant())
                                    .map(edge -> " at " + edge)
                                    .orElse("")
                            + ", and that failed; it comes before everything else, so nothing was published. The server's log says more.");
        }
    }

    private void passDueEdges() {
        // Each turn passes an edge, or follows somebody who did: what is published next finds none that is due.
        while (!timeline.isEmpty() && timeline.readOnly().isEmpty()) {
            Snapshot base = timeline.present();
            if (passed.isBefore(base.at())) passed = base.at();
            Optional<Instant> edge = Ledger.nextEdge(base.estate(), passed, instant());
            if (edge.isEmpty()) return;
            // The journal counts microseconds: what is written never comes before the edge.
            Instant at = edge.get().truncatedTo(ChronoUnit.MICROS).equals(edge.get())
                    ? edge.get()
                    : edge.get().truncatedTo(ChronoUnit.MICROS).plus(1, ChronoUnit.MICROS);
            Ledger ledger = through(base, at);
            List<Ledger.Move> moves = ledger.since(base.ground().ledger());
            if (moves.isEmpty()) passed = at;
            else passTime(base, ledger, moves, at);
        }
    }

    private static Ledger through(Snapshot base, Instant at) {
        return base.ground().ledger().through(base.estate().plans(), base.directory(), at);
    }

    private void passTime(Snapshot base, Ledger ledger, List<Ledger.Move> moves, Instant at) {
        Ground after = base.ground().withLedger(ledger);
        ArrayNode words = Json.NODES.arrayNode();
        moves.forEach(m -> words.add(new SeatTelling(base.ground(), after, at, true, m).sentence()));
        Entry entry = new Entry(
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
                            Request.by(CLOCK, at),
                            base.change(),
                            entry,
                            List.of(),
                            List.of(),
                            SeatRows.moved(base.ground(), after, at, true));
            Footprint touched = ofPlans(moves);
            timeline.step(new Timeline.Step(
                    change,
                    base.passed(ledger, touched, change.number(), change.at()),
                    Optional.of(touched),
                    () -> Optional.of(seated(moves))));
        } catch (BaseMoved moved) {
            follow();
        }
    }

    /** Who got a seat or gave one back. */
    private static RoaringBitmap seated(List<Ledger.Move> moves) {
        RoaringBitmap seated = new RoaringBitmap();
        for (Ledger.Move move : moves) {
            seated.or(move.given());
            seated.or(move.returned());
        }
        return seated;
    }

    private static Footprint ofPlans(List<Ledger.Move> moves) {
        Footprint touched = Footprint.EMPTY;
        for (Ledger.Move move : moves) touched = touched.and(Footprint.ofPlan(move.plan()));
        return touched;
    }

    /**
     * Replaces everything by an estate file, as one change. The file is read before anybody has to wait.
     *
     * @param base the change that the sender knows as the last, where it named one
     * @throws InvalidEstate when the file has defects; nothing is stored then
     */
    public Change replace(Request request, InputStream file, Optional<Long> base, String note)
            throws IOException, InvalidEstate {
        checkBase(base);
        // Two would not fit into memory side by side.
        return files.<Change, IOException, InvalidEstate>run(() -> {
            List<StoredPart> parts = new ArrayList<>();
            EstateReader.Result read = EstateReader.read(file, part -> {
                parts.add(StoredPart.of(part));
                if (parts.size() % CHECKED_AFTER == 0) HeapLimit.check();
            });
            parts.addAll(StoredPart.frame(read.frame()));
            ArrayNode edits = Json.NODES.arrayNode();
            edits.addObject().put("kind", "replace-estate");
            return exclusively(() -> replace(request, read.estate(), parts, base, note, edits));
        });
    }

    private Change replace(
            Request request, Estate read, List<StoredPart> parts, Optional<Long> base, String note, ArrayNode edits) {
        Ground file = new Ground(read);
        for (int i = 0; i < TRIES; i++) {
            passTimeFirst();
            checkBase(base);
            Instant at = instant();
            Ground ground = file.withSeatsGiven(at);
            Entry entry = new Entry(
                    at,
                    request.actor(),
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
                                request, timeline.change(), entry, parts.stream(), () -> SeatRows.loaded(read, ground));
                timeline.step(new Timeline.Step(
                        change, new Snapshot(change.number(), change.at(), ground), Optional.empty(), Optional::empty));
                return change;
            } catch (BaseMoved moved) {
                follow();
            }
        }
        throw Problem.refused(
                503, "Too busy", "Others publish without a pause; nothing was stored. Try again in a moment.");
    }

    private void checkBase(Optional<Long> base) {
        long last = timeline.change();
        if (base.isPresent() && base.get() != last)
            throw Problem.refused(
                    412,
                    "Base moved",
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
        if (change.isOfTheClock()) {
            Ledger ledger = through(before, change.at());
            List<Ledger.Move> moves = ledger.since(before.ground().ledger());
            Footprint touched = ofPlans(moves);
            timeline.step(new Timeline.Step(
                    change,
                    before.passed(ledger, touched, change.number(), change.at()),
                    Optional.of(touched),
                    () -> Optional.of(seated(moves))));
            return;
        }
        Book book = timeline.book(before);
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects));
        // What the journal holds has been carried out once; should it not fit here, what is stored counts.
        if (!defects.isEmpty()) {
            timeline.step(
                    new Timeline.Step(change, timeline.loaded(change.number()), Optional.empty(), Optional::empty));
            return;
        }
        Ledger ledger = Ripple.seatsPassedOn(book, book.after(), change.at()).ledger();
        Snapshot after = before.edited(book, ledger, Optional.empty(), change.number(), change.at(), timeline.now());
        timeline.step(new Timeline.Step(
                change,
                after,
                Optional.of(book.footprint()),
                changed(book, after.ground(), change.at(), Optional.empty())));
    }

    /** Whose settings edits change: worked out when it is asked for. */
    private static Supplier<Optional<RoaringBitmap>> changed(
            Book book, Ground after, Instant at, Optional<Ripple> known) {
        return () -> {
            RoaringBitmap changed = new RoaringBitmap();
            List<Ripple> ripples =
                    new ArrayList<>(Ripple.inWorkspaces(book, after, at).values());
            ripples.add(known.orElseGet(() -> new Ripple(book, after, Question.at(at))));
            for (Ripple ripple : ripples)
                for (RoaringBitmap some :
                        List.of(ripple.changed(), ripple.decidedElsewhere(), ripple.joining(), ripple.leaving()))
                    changed.or(some);
            return Optional.of(changed);
        };
    }
}
