package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.change.Book;
import leanladder.change.Ripple;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.estate.read.Parts;
import leanladder.estate.read.Section;
import leanladder.resolve.Ground;
import leanladder.store.db.Request;
import leanladder.store.journal.BaseMoved;
import leanladder.store.journal.Change;
import leanladder.store.journal.Entry;
import leanladder.store.parts.PartTable;
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

    private void replace(Change change, Entry entry, Request request) throws IOException, BaseMoved {
        Map<String, StoredPart> parts = new LinkedHashMap<>();
        Map<String, List<Plan.Holder>> listed = new HashMap<>();
        if (change.number() > 1) to.parts().all().forEach(p -> parts.put(p.section() + " " + p.key(), p));
        for (StoredPart part : from.parts().carriedBy(change.number())) {
            if (part.section().equals(StoredPart.HOLDERS))
                listed.put(part.key(), Parts.holders(Json.read(part.body())));
            else if (part.body().isEmpty()) parts.remove(part.section() + " " + part.key());
            else parts.put(part.section() + " " + part.key(), part);
        }
        Estate estate = assembled(parts.values()).withHolders(listed);
        ground = new Ground(estate).withSeatsGiven(change.at());
        to.parts()
                .replace(
                        request,
                        change.number() - 1,
                        entry,
                        parts.values().stream(),
                        () -> SeatRows.loaded(estate, ground));
    }

    /** Reads parts as the estate file that they make. */
    private static Estate assembled(Collection<StoredPart> parts) throws IOException {
        ObjectNode file = Json.NODES.objectNode();
        for (StoredPart part : parts)
            if (part.section().equals(StoredPart.FRAME)) file.setAll((ObjectNode) Json.read(part.body()));
        for (StoredPart part : parts) {
            JsonNode body = Json.read(part.body());
            if (part.section().equals(StoredPart.RANKING) || part.section().equals(StoredPart.RINGS))
                file.set(part.section(), body);
            else if (part.section().equals(Section.SETTINGS.member()))
                ((ObjectNode) file.get("catalogue")).withArray("settings").add(body);
            else if (!part.section().equals(StoredPart.FRAME))
                file.withArray(part.section()).add(body);
        }
        try {
            return EstateReader.readStored(new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(file)))
                    .estate();
        } catch (InvalidEstate broken) {
            throw new IOException("The journal holds an estate that is not valid: " + broken.getMessage(), broken);
        }
    }

    private void edit(Change change, Entry entry, Request request) throws IOException, BaseMoved {
        Book book = new Book(ground, to.parts().asOf(change.number() - 1));
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects));
        if (!defects.isEmpty())
            throw new IOException("Change " + change.number() + " of the journal does not fit: " + defects.all());
        Ground edited = book.after();
        Ground after = edited.withLedger(
                change.isOfTheClock()
                        ? ground.ledger().through(edited.estate().plans(), edited.directory(), change.at())
                        : Ripple.seatsPassedOn(book, edited, change.at()).ledger());
        to.parts()
                .publish(
                        request,
                        change.number() - 1,
                        entry,
                        PartTable.Parts.of(book),
                        SeatRows.moved(ground, after, change.at(), change.isOfTheClock()));
        ground = after;
    }
}
