package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import leanladder.change.Book;
import leanladder.document.Defects;
import leanladder.document.Place;
import leanladder.resolve.Ground;

/**
 * Builds the state from the journal alone: every change is carried out again, in its order, in an empty database. What comes out
 * is the same estate, with the same numbers, authors, notes and instants.
 */
public final class Replay {
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
        if (ground == null) ground = new Ground(to.read(Long.MAX_VALUE).estate());
        Book book = new Book(ground, to.bodies(change.number() - 1));
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects));
        if (!defects.isEmpty())
            throw new IOException("Change " + change.number() + " of the journal does not fit: " + defects.all());
        to.publish(change.number() - 1, entry, book);
        ground = book.after();
    }
}
