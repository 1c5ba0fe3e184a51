package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
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
import leanladder.change.PolicyBook;
import leanladder.estate.EstateReader;
import leanladder.estate.InvalidEstate;
import leanladder.resolve.Ground;
import leanladder.store.BaseMoved;
import leanladder.store.Change;
import leanladder.store.Store;
import leanladder.store.StoredPart;
import leanladder.text.Json;

/** The present estate in memory and the store beneath it; the only place that writes. */
final class Estates {
    private static final int PAST_KEPT = 3;

    private final Store store;
    private final String author;
    private final Clock clock;
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
        ByteArrayOutputStream file = new ByteArrayOutputStream();
        long stood = store.export(file, number);
        try {
            Ground ground = new Ground(EstateReader.read(new ByteArrayInputStream(file.toByteArray()))
                    .estate());
            return new Present(stood, ground);
        } catch (InvalidEstate e) {
            throw new IOException("The stored estate is not valid: " + e.getMessage(), e);
        }
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
        return store.since(number - 1).stream()
                .filter(c -> c.number() == number)
                .findFirst();
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
            return new Change(number, entry.at(), author, false, note, edits, entry.words(), entry.ripple());
        } catch (BaseMoved moved) {
            throw new IllegalStateException("Another program writes to this database", moved);
        }
    }

    /** Publishes what a book of policies has become, on the present that the book was opened on. */
    synchronized Change publish(
            Present base, PolicyBook book, String note, JsonNode edits, JsonNode words, JsonNode ripple) {
        if (present() != base) throw new IllegalStateException("Published on an estate that is not the present one");
        List<StoredPart> put = new ArrayList<>();
        List<StoredPart> removed = new ArrayList<>();
        for (String id : book.written()) put.add(new StoredPart("policies", id, Json.write(book.body(id))));
        for (String id : book.removed()) removed.add(new StoredPart("policies", id, ""));
        if (book.isRankingChanged()) {
            ArrayNode ranking = Json.NODES.arrayNode();
            book.ranking().forEach(ranking::add);
            put.add(new StoredPart(StoredPart.RANKING, "", Json.write(ranking)));
        }
        Store.Entry entry = entry(note, edits, words, ripple);
        try {
            long number = store.publish(base.change(), entry, put, removed);
            List<String> ranking = book.isRankingChanged()
                    ? book.ranking()
                    : base.ground().estate().policies().stream()
                            .map(p -> p.id())
                            .toList();
            present = Optional.of(new Present(number, base.ground().withPolicies(book.policies(), ranking)));
            return new Change(number, entry.at(), author, false, note, edits, entry.words(), entry.ripple());
        } catch (BaseMoved moved) {
            throw new IllegalStateException("Another program writes to this database", moved);
        }
    }

    /** The changes after this one, oldest first. */
    List<Change> since(long number) {
        return store.since(number);
    }

    private Store.Entry entry(String note, JsonNode edits, JsonNode words, JsonNode ripple) {
        return new Store.Entry(now().truncatedTo(ChronoUnit.MILLIS), author, false, note, edits, words, ripple);
    }
}
