package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.PipedInputStream;
import java.io.PipedOutputStream;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.change.Book;
import leanladder.estate.Defects;
import leanladder.estate.EstateReader;
import leanladder.estate.InvalidEstate;
import leanladder.estate.Place;
import leanladder.resolve.Ground;
import leanladder.text.Json;

/**
 * Builds the state from the journal alone: every change is carried out again, in its order, in an empty database. What comes out
 * is the same estate, with the same numbers, authors, notes and instants.
 */
public final class Replay {
    private static final int PIPE = 1 << 20;

    private final Store from;
    private final Store to;
    private Ground ground;

    private Replay(Store from, Store to) {
        this.from = from;
        this.to = to;
    }

    /**
     * Carries all changes over.
     *
     * @param to an empty store
     * @return how many changes were carried over
     * @throws IOException when a change of the journal cannot be carried out; those before it are there then
     */
    public static long all(Store from, Store to) throws IOException {
        Replay replay = new Replay(from, to);
        long count = 0;
        for (Change change : from.since(0)) {
            replay.one(change);
            count++;
        }
        return count;
    }

    private void one(Change change) throws IOException {
        Store.Entry entry = new Store.Entry(
                change.at(),
                change.author(),
                change.proven(),
                change.note(),
                change.edits(),
                change.words(),
                change.ripple(),
                change.planned(),
                Optional.empty());
        try {
            if (change.edits().path(0).path("kind").asText().equals("replace-estate")) replace(change, entry);
            else edit(change, entry);
        } catch (BaseMoved moved) {
            throw new IOException("The store that is built anew is not left alone: " + moved.getMessage(), moved);
        }
    }

    private void replace(Change change, Store.Entry entry) throws IOException, BaseMoved {
        Map<String, StoredPart> parts = new LinkedHashMap<>();
        if (change.number() > 1) to.parts().forEach(p -> parts.put(p.section() + " " + p.key(), p));
        for (StoredPart part : from.carriedBy(change.number())) {
            if (part.body().isEmpty()) parts.remove(part.section() + " " + part.key());
            else parts.put(part.section() + " " + part.key(), part);
        }
        to.replace(change.number() - 1, entry, parts.values().stream());
        ground = null;
    }

    private void edit(Change change, Store.Entry entry) throws IOException, BaseMoved {
        if (ground == null) ground = read();
        Book book = new Book(ground, (section, key) -> (ObjectNode) to.part(section.member(), key)
                .orElseThrow(() -> new IllegalStateException("There is no " + section + " " + key)));
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects));
        if (!defects.isEmpty())
            throw new IOException("Change " + change.number() + " of the journal does not fit: " + defects.all());
        List<StoredPart> put = new ArrayList<>();
        List<StoredPart> removed = new ArrayList<>();
        book.written().forEach(p -> put.add(new StoredPart(p.section(), p.key(), Json.write(p.body()))));
        book.removed().forEach(p -> removed.add(new StoredPart(p.section(), p.key(), "")));
        book.writtenRanking().ifPresent(r -> put.add(new StoredPart(StoredPart.RANKING, "", Json.write(r))));
        to.publish(change.number() - 1, entry, put, removed);
        ground = book.after();
    }

    private Ground read() throws IOException {
        try (PipedInputStream in = new PipedInputStream(PIPE)) {
            PipedOutputStream out = new PipedOutputStream(in);
            Thread writer = new Thread(() -> {
                try (out) {
                    to.export(out);
                } catch (IOException e) {
                    // The reader finds the file cut short and says so.
                    Thread.currentThread().interrupt();
                }
            });
            writer.start();
            return new Ground(EstateReader.read(in).estate());
        } catch (InvalidEstate e) {
            throw new IOException("The state built so far is not valid: " + e.getMessage(), e);
        }
    }
}
