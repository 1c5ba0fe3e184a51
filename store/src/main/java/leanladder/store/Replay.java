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
import leanladder.store.db.Request;
import leanladder.store.journal.BaseMoved;
import leanladder.store.journal.Change;
import leanladder.store.journal.Entry;
import leanladder.store.parts.StoredPart;

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
        for (Change change : from.journal().since(0)) {
            replay.one(change);
            count++;
        }
        return count;
    }

    private void one(Change change) throws IOException {
        Entry entry = new Entry(
                change.at(),
                change.author(),
                change.proven(),
                change.note(),
                change.edits(),
                change.words(),
                change.ripple(),
                change.planned(),
                Optional.empty());
        Request request = Request.by(change.author(), change.at());
        try {
            if (change.replacesEstate()) replace(change, entry, request);
            else edit(change, entry, request);
        } catch (BaseMoved moved) {
            throw new IOException("The store that is built anew is not left alone: " + moved.getMessage(), moved);
        }
    }

    private void replace(Change change, Entry entry, Request request) throws BaseMoved {
        Map<String, StoredPart> parts = new LinkedHashMap<>();
        if (change.number() > 1) to.parts().all().forEach(p -> parts.put(p.section() + " " + p.key(), p));
        for (StoredPart part : from.parts().carriedBy(change.number())) {
            if (part.body().isEmpty()) parts.remove(part.section() + " " + part.key());
            else parts.put(part.section() + " " + part.key(), part);
        }
        to.parts().replace(request, change.number() - 1, entry, parts.values().stream());
        ground = null;
    }

    private void edit(Change change, Entry entry, Request request) throws IOException, BaseMoved {
        if (ground == null) ground = new Ground(to.parts().read(Long.MAX_VALUE).estate());
        Book book = new Book(ground, to.parts().asOf(change.number() - 1));
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects));
        if (!defects.isEmpty())
            throw new IOException("Change " + change.number() + " of the journal does not fit: " + defects.all());
        to.parts().publish(request, change.number() - 1, entry, book);
        ground = book.after();
    }
}
