package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.session.EditSession;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.estate.read.Section;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.ripple.Ripple;
import leanladder.store.db.WriteRequest;
import leanladder.store.entities.EntityTable;
import leanladder.store.entities.StoredEntity;
import leanladder.store.journal.Change;
import leanladder.store.journal.NewChange;
import leanladder.store.journal.StaleBaseException;
import org.jspecify.annotations.Nullable;

/**
 * Builds the state from the journal alone: every change is carried out again, in its order, in an empty database. What comes out
 * is the same estate, with the same numbers, authors, notes and instants.
 */
public final class Replay {
    private final Store from;
    private final Store to;
    private @Nullable CompiledEstate compiledEstate;

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
        to.pictures().putAll(from.pictures().media(), Instant.now());
        Replay replay = new Replay(from, to);
        long count = 0;
        for (Change change : from.journal().since(0)) {
            replay.one(change);
            count++;
        }
        return count;
    }

    private void one(Change change) throws IOException {
        NewChange newChange = new NewChange(
                change.at(),
                change.author(),
                change.proven(),
                change.note(),
                change.edits(),
                change.words(),
                change.ripple(),
                change.planned(),
                Optional.empty());
        WriteRequest writeRequest = WriteRequest.by(change.author(), change.at());
        try {
            if (change.replacesEstate()) replace(change, newChange, writeRequest);
            else edit(change, newChange, writeRequest);
        } catch (StaleBaseException moved) {
            throw new IOException("The store that is built anew is not left alone: " + moved.getMessage(), moved);
        }
    }

    private void replace(Change change, NewChange newChange, WriteRequest writeRequest)
            throws IOException, StaleBaseException {
        Map<String, StoredEntity> parts = new LinkedHashMap<>();
        Map<String, List<Plan.Holder>> listed = new HashMap<>();
        if (change.number() > 1) to.parts().all().forEach(p -> parts.put(p.section() + " " + p.key(), p));
        for (StoredEntity part : from.parts().writtenBy(change.number())) {
            if (part.section().equals(StoredEntity.HOLDERS))
                listed.put(part.key(), EntityParsers.holders(Json.read(part.body())));
            else if (part.body().isEmpty()) parts.remove(part.section() + " " + part.key());
            else parts.put(part.section() + " " + part.key(), part);
        }
        Estate estate = assembled(parts.values()).withHolders(listed);
        compiledEstate = new CompiledEstate(estate).withSeatsGiven(change.at());
        to.parts()
                .replace(
                        writeRequest,
                        change.number() - 1,
                        newChange,
                        parts.values().stream(),
                        () -> SeatRows.loaded(estate, present()));
    }

    /** Reads parts as the estate file that they make. */
    private Estate assembled(Collection<StoredEntity> parts) throws IOException {
        ObjectNode file = Json.NODES.objectNode();
        for (StoredEntity part : parts)
            if (part.section().equals(StoredEntity.FRAME)) file.setAll((ObjectNode) Json.read(part.body()));
        for (StoredEntity part : parts)
            if (part.section().equals(StoredEntity.CATALOGUE)) file.set(part.section(), Json.read(part.body()));
        for (StoredEntity part : parts) {
            JsonNode body = Json.read(part.body());
            if (Set.of(StoredEntity.RANKING, StoredEntity.RINGS, StoredEntity.TRACKS)
                    .contains(part.section())) file.set(part.section(), body);
            else if (part.section().equals(Section.SETTINGS.member()))
                ((ObjectNode) file.get("catalogue")).withArray("settings").add(body);
            else if (!part.section().equals(StoredEntity.FRAME)
                    && !part.section().equals(StoredEntity.CATALOGUE))
                file.withArray(part.section()).add(body);
        }
        file.withObject("/media").setAll(from.pictures().media());
        try {
            return EstateReader.readStored(new ByteArrayInputStream(Json.MAPPER.writeValueAsBytes(file)))
                    .estate();
        } catch (InvalidEstateException broken) {
            throw new IOException("The journal holds an estate that is not valid: " + broken.getMessage(), broken);
        }
    }

    private CompiledEstate present() {
        return Objects.requireNonNull(compiledEstate, "The first change of a journal is an estate");
    }

    private void edit(Change change, NewChange newChange, WriteRequest writeRequest)
            throws IOException, StaleBaseException {
        EditSession editSession = new EditSession(present(), to.parts().asOf(change.number() - 1));
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) editSession.apply(new JsonCursor(edit, "", defects));
        if (!defects.isEmpty())
            throw new IOException("Change " + change.number() + " of the journal does not fit: " + defects.all());
        CompiledEstate edited = editSession.compile();
        CompiledEstate after = edited.withLedger(
                change.isAutomatic()
                        ? present().seatLedger().advanceTo(edited.estate().plans(), edited.directory(), change.at())
                        : Ripple.seatsPassedOn(editSession, edited, change.at()).ledger());
        to.parts()
                .publish(
                        writeRequest,
                        change.number() - 1,
                        newChange,
                        EntityTable.EntityWrites.of(editSession),
                        SeatRows.moved(present(), after, change.at(), change.isAutomatic()));
        compiledEstate = after;
    }
}
