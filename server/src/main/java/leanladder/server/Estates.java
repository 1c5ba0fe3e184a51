package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import leanladder.change.Book;
import leanladder.document.Json;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.resolve.Ground;
import leanladder.store.BaseMoved;
import leanladder.store.Change;
import leanladder.store.Store;
import leanladder.store.StoredPart;

/** The present estate in memory and the store beneath it; the only place that writes. */
final class Estates {
    private static final int PAST_KEPT = 3;

    private final Store store;
    private final String author;
    private final Clock clock;
    private final List<Consumer<Change>> published = new CopyOnWriteArrayList<>();
    private final Drafts drafts = new Drafts(this);
    private volatile Optional<Present> present = Optional.empty();
    private final Map<Long, Present> past = new LinkedHashMap<>(8, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Long, Present> eldest) {
            return size() > PAST_KEPT;
        }
    };

    /** Reads the present estate from the store, where there is one. */
    Estates(Store store, String author, Clock clock) throws IOException {
        this.store = store;
        this.author = author;
        this.clock = clock;
        if (store.latest() > 0) load();
    }

    private void load() throws IOException {
        present = Optional.of(read(Long.MAX_VALUE));
    }

    private Present read(long number) throws IOException {
        Store.Stood stood = store.read(number);
        return new Present(stood.number(), new Ground(stood.estate()));
    }

    /** The estate as it stood at an instant: the present one from now on, an earlier one before. */
    Present standingAt(Instant at) throws IOException {
        Present now = present();
        if (!at.isBefore(now())) return now;
        long number = store.numberAt(at);
        if (number == 0) throw Problem.unknown("There was no estate yet at that time; the first change is younger.");
        return after(number);
    }

    /** The estate as it stood after a change. */
    Present after(long number) throws IOException {
        if (number == present().change()) return present();
        synchronized (past) {
            Present known = past.get(number);
            if (known == null) {
                known = read(number);
                past.put(number, known);
            }
            return known;
        }
    }

    /** The newest changes before this one, newest first. */
    List<Change> before(long number, int most) {
        return store.before(number, most);
    }

    Instant now() {
        return clock.instant();
    }

    String author() {
        return author;
    }

    boolean isEmpty() {
        return present.isEmpty();
    }

    /** The estate as it stands; a problem when there is none yet. */
    Present present() {
        return present.orElseThrow(() -> Problem.unknown(
                "There is no estate yet. Load one with PUT /api/v1/estate, or start with --estate FILE."));
    }

    /** Writes the estate file. */
    long export(OutputStream to) throws IOException {
        return store.export(to);
    }

    /** The published change of this number. */
    Optional<Change> change(long number) {
        return store.change(number);
    }

    /**
     * Replaces everything by an estate file, as one change.
     *
     * @param base the change that the sender knows as the last, where it named one
     * @throws InvalidEstate when the file has defects; nothing is stored then
     */
    synchronized Change replace(InputStream file, Optional<Long> base, String note) throws IOException, InvalidEstate {
        long last = present.map(Present::change).orElse(0L);
        if (base.isPresent() && base.get() != last)
            throw Problem.refused(
                    412,
                    "Base moved",
                    "The estate stands at change " + last + ", not " + base.get()
                            + ". Get it again first; nothing was stored.");
        List<StoredPart> parts = new ArrayList<>();
        EstateReader.Result read = EstateReader.read(file, part -> parts.add(StoredPart.of(part)));
        parts.addAll(Store.frameParts(read.frame()));
        ArrayNode edits = Json.NODES.arrayNode();
        edits.addObject().put("kind", "replace-estate");
        Store.Entry entry =
                entry(note, edits, Json.NODES.arrayNode().add("The whole estate is replaced"), Json.NODES.objectNode());
        try {
            long number = store.replace(last, entry, parts.stream());
            present = Optional.of(new Present(number, new Ground(read.estate())));
            Change change = change(number, entry);
            published.forEach(listener -> listener.accept(change));
            return change;
        } catch (BaseMoved moved) {
            throw new IllegalStateException("Another program writes to this database", moved);
        }
    }

    /** An empty book on an estate that stands here: its parts are found in the store. */
    Book book(Present on) {
        return new Book(on.ground(), store.bodies(on.change()));
    }

    /** How a draft is published. */
    record Publication(String author, String note, JsonNode ripple, Optional<Instant> planned, Optional<Long> draft) {}

    /** Publishes edits that were carried onto the present; whoever calls holds this object's lock since they were. */
    synchronized Change publish(Carried carried, Publication how) {
        Present base = carried.base();
        if (present() != base) throw new IllegalStateException("Published on an estate that is not the present one");
        Store.Entry entry = new Store.Entry(
                now().truncatedTo(ChronoUnit.MILLIS),
                how.author(),
                false,
                how.note(),
                carried.edits(),
                carried.words(),
                how.ripple(),
                how.planned(),
                how.draft());
        try {
            long number = store.publish(base.change(), entry, carried.book());
            present = Optional.of(base.edited(number, carried.after().ground()));
            Change change = change(number, entry);
            published.forEach(listener -> listener.accept(change));
            return change;
        } catch (BaseMoved moved) {
            throw new IllegalStateException("Another program writes to this database", moved);
        }
    }

    private static Change change(long number, Store.Entry entry) {
        return new Change(
                number,
                entry.at(),
                entry.author(),
                entry.proven(),
                entry.note(),
                entry.edits(),
                entry.words(),
                entry.ripple(),
                entry.planned());
    }

    /** Has somebody told of every change from now on, while nothing else can be published. */
    void whenPublished(Consumer<Change> listener) {
        published.add(listener);
    }

    /** The drafts on this estate. */
    Drafts drafts() {
        return drafts;
    }

    /** The estate as it would be after a draft, named as a parameter names it. */
    Present after(String draft) {
        if (!draft.matches("\\d{1,18}")) throw Problem.unknown("There is no draft \"" + draft + "\".");
        return drafts.carried(drafts.draft(Long.parseLong(draft))).after();
    }

    Store store() {
        return store;
    }

    /** The changes after this one, oldest first. */
    List<Change> since(long number) {
        return store.since(number);
    }

    private Store.Entry entry(String note, JsonNode edits, JsonNode words, JsonNode ripple) {
        return new Store.Entry(
                now().truncatedTo(ChronoUnit.MILLIS),
                author,
                false,
                note,
                edits,
                words,
                ripple,
                Optional.empty(),
                Optional.empty());
    }
}
