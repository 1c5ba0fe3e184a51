package leanladder.store.entities;

import static leanladder.store.schema.Tables.CARRIED;
import static leanladder.store.schema.Tables.PART;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PipedInputStream;
import java.io.PipedOutputStream;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.edit.session.EditSession;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.seat.SeatLedger;
import leanladder.store.db.Database;
import leanladder.store.db.PgText;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import leanladder.store.journal.Change;
import leanladder.store.journal.Journal;
import leanladder.store.journal.NewChange;
import leanladder.store.journal.StaleBaseException;
import leanladder.store.schema.tables.Part;
import leanladder.store.seats.HeldSeat;
import leanladder.store.seats.MovedSeat;
import leanladder.store.seats.SeatTable;
import leanladder.workingcopy.EntityStore;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.impl.DSL;
import org.jooq.impl.SQLDataType;

/** The parts of the estate as they stand and as they stood, and how changes write them. */
public final class EntityTable {
    /** A temporary table of the same columns. */
    private static final Part INCOMING = PART.rename("incoming");

    /** From when until when an entity holds. */
    static final Schema.Span SPAN = new Schema.Span(PART.SINCE, PART.UNTIL);

    private static final int BODIES_AT_ONCE = 20_000;
    private static final int PIPE = 1 << 20;
    private static final int BATCH = 5000;
    private static final long BATCH_CHARACTERS = 4L << 20;

    private final Database database;
    private final Journal journal;

    /** The parts in a database. */
    public EntityTable(Database database, Journal journal) {
        this.database = database;
        this.journal = journal;
    }

    /** The part of a section as it stands now, as it was written. */
    public Optional<JsonNode> part(String section, String key) {
        return database.read(on -> on.select(PART.BODY)
                .from(PART)
                .where(PART.UNTIL.isNull(), PART.SECTION.eq(section), PART.KEY.eq(PgText.stored(key)))
                .fetchOptional(PART.BODY)
                .map(json -> Json.read(json.data())));
    }

    /** The file's frame as it stood after a change: all but the elements of its lists. */
    public JsonNode frame(long number) {
        return Objects.requireNonNull(
                bodies(StoredEntity.FRAME, List.of(""), number).get(""));
    }

    /** How a part read between two changes. */
    public record Version(long since, JsonNode body) {}

    /**
     * How parts came to read as they stand after a change: for each its versions, the newest first, back to where it was made. Parts
     * that did not stand then are left out. Linear in the versions.
     */
    public Map<String, List<Version>> versions(String section, Collection<String> keys, long asOf) {
        Map<String, List<Version>> versions = new HashMap<>();
        Map<String, Long> reach = new HashMap<>();
        database.read(on -> {
            on.select(PART.KEY, PART.SINCE, PART.UNTIL, PART.BODY)
                    .from(PART)
                    .where(PART.SECTION.eq(section), contains(keys), PART.SINCE.le(asOf))
                    .orderBy(PART.SINCE.desc())
                    .forEach(row -> {
                        String key = PgText.read(row.value1());
                        Long until = row.value3();
                        boolean stands = until == null || until > asOf;
                        if (!stands && !until.equals(reach.get(key))) return;
                        reach.put(key, row.value2());
                        versions.computeIfAbsent(key, k -> new ArrayList<>())
                                .add(new Version(
                                        row.value2(), Json.read(row.value4().data())));
                    });
            return null;
        });
        return versions;
    }

    /** How a part read from one change on. @param until the change from which on it did not any more; empty where it still does */
    public record Span(long since, Optional<Long> until, JsonNode body) {}

    /** How all parts of a section ever read, by key, the oldest first; those that are no more among them. Linear in the versions. */
    public Map<String, List<Span>> spans(String section) {
        Map<String, List<Span>> spans = new HashMap<>();
        database.read(on -> {
            on.select(PART.KEY, PART.SINCE, PART.UNTIL, PART.BODY)
                    .from(PART)
                    .where(PART.SECTION.eq(section))
                    .orderBy(PART.SINCE)
                    .forEach(row -> spans.computeIfAbsent(PgText.read(row.value1()), k -> new ArrayList<>())
                            .add(new Span(
                                    row.value2(),
                                    Optional.ofNullable(row.value3()),
                                    Json.read(row.value4().data()))));
            return null;
        });
        return spans;
    }

    /** As a join, which stays fast for a hundred thousand keys whatever plan is chosen; a list is compared item by item in some plans. */
    private static Condition contains(Collection<String> keys) {
        String[] stored = keys.stream().map(PgText::stored).toArray(String[]::new);
        return PART.KEY.in(DSL.select(DSL.field("unnest({0})", String.class, DSL.val(stored))));
    }

    /** All parts as they stand now. */
    public List<StoredEntity> all() {
        return database.read(on -> on.select(PART.SECTION, PART.KEY, PART.BODY)
                .from(PART)
                .where(PART.UNTIL.isNull())
                .fetch(row -> new StoredEntity(
                        row.value1(), PgText.read(row.value2()), row.value3().data())));
    }

    /** What a change that replaced the whole estate put in place, and took away: the body is empty then. */
    public List<StoredEntity> writtenBy(long number) {
        return database.read(on -> on.select(CARRIED.SECTION, CARRIED.KEY, CARRIED.BODY)
                .from(CARRIED)
                .where(CARRIED.NUMBER.eq(number))
                .fetch(row -> new StoredEntity(
                        row.value1(),
                        PgText.read(row.value2()),
                        row.value3() == null ? "" : row.value3().data())));
    }

    /** Finds the stored bodies of parts as they stood after a change. */
    public EntityStore asOf(long number) {
        return new EntityBodyCache(this, number);
    }

    boolean hasPicture(String sha256) {
        return new PictureTable(database).has(sha256);
    }

    /** The bodies of parts of a section as they stood after a change, by key; those that did not stand then are left out. */
    Map<String, ObjectNode> bodies(Section section, Collection<String> keys, long number) {
        return bodies(section.member(), keys, number);
    }

    private Map<String, ObjectNode> bodies(String section, Collection<String> keys, long number) {
        Map<String, ObjectNode> bodies = new HashMap<>(keys.size() * 2);
        List<String> all = List.copyOf(keys);
        // Each query stays within the time that a read may take.
        for (int from = 0; from < all.size(); from += BODIES_AT_ONCE) {
            List<String> some = all.subList(from, Math.min(all.size(), from + BODIES_AT_ONCE));
            database.read(on -> on.select(PART.KEY, PART.BODY)
                            .from(PART)
                            .where(PART.SECTION.eq(section), contains(some), SPAN.holdsAt(number))
                            .fetch())
                    .forEach(row -> bodies.put(PgText.read(row.value1()), (ObjectNode)
                            Json.read(row.value2().data())));
        }
        return bodies;
    }

    /**
     * An estate that was read from the store.
     *
     * @param number the change after which it stood so
     */
    public record StoredEstate(long number, Estate estate) {}

    /**
     * Reads the estate as it stood after a change, or the present one where the number is that of no change yet. It is read while
     * it is written out, so that the file is never held.
     *
     * @throws IOException when the store cannot be read, or what it holds is not valid
     */
    public StoredEstate read(long asOf) throws IOException {
        try (PipedInputStream in = new PipedInputStream(PIPE)) {
            PipedOutputStream pipe = new PipedOutputStream(in);
            // What held after a change never alters, so that parts and seats need not be read at one moment.
            long number = Math.min(asOf, journal.latest());
            FutureTask<Long> written = new FutureTask<>(() -> {
                try (OutputStream out = new BufferedOutputStream(pipe, PIPE)) {
                    return database.readSnapshot(tx -> {
                        EstateExport.write(tx, out, number, EnumSet.of(Section.ACCOUNTS, Section.GROUPS));
                        return number;
                    });
                }
            });
            FutureTask<Map<String, List<Plan.Holder>>> held =
                    new FutureTask<>(() -> database.readSnapshot(tx -> SeatTable.all(tx, number)));
            new Thread(written, "reading the store").start();
            new Thread(held, "reading the ledger").start();
            try (EntityCursor accounts = new EntityCursor(database, Section.ACCOUNTS, number);
                    EntityCursor groups = new EntityCursor(database, Section.GROUPS, number)) {
                Estate estate = EstateReader.read(in, accounts, groups).estate();
                return new StoredEstate(written.get(), estate.withHolders(held.get()));
            } catch (InvalidEstateException cutShort) {
                // Where writing failed the reader finds a file that ends too early; the failure of the writer is the
                // reason. A writer that had not ended finds its reader gone, which says nothing.
                try {
                    written.get();
                } catch (ExecutionException e) {
                    if (e.getCause() instanceof RuntimeException failure) throw failure;
                }
                throw new IOException("The stored estate is not valid: " + cutShort.getMessage(), cutShort);
            }
        } catch (ExecutionException e) {
            if (e.getCause() instanceof RuntimeException failure) throw failure;
            throw new IOException("The stored estate cannot be read: " + e.getMessage(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException(e);
        }
    }

    /**
     * What stood otherwise after one change than after another.
     *
     * @param parts as they stood then; the body is empty of one that did not
     * @param seats as they were held then
     */
    public record Difference(List<StoredEntity> entities, List<SeatLedger.Seat> seats) {}

    /**
     * What stood otherwise after a change than after another, before or after it; empty where that is more than so many parts or
     * seats, or where an estate was loaded in between. Costs what differs.
     */
    public Optional<Difference> difference(long then, long here, int most) {
        long first = Math.min(then, here);
        long last = Math.max(then, here);
        return database.read(on -> {
            boolean loaded = on.fetchExists(CARRIED, CARRIED.NUMBER.gt(first).and(CARRIED.NUMBER.le(last)));
            if (loaded) return Optional.empty();
            Map<List<String>, StoredEntity> parts = new HashMap<>();
            on.select(PART.SECTION, PART.KEY)
                    .from(PART)
                    .where(SPAN.holdsOnlyAt(here, then))
                    .limit(most + 1)
                    .forEach(row -> put(parts, new StoredEntity(row.value1(), PgText.read(row.value2()), "")));
            on.select(PART.SECTION, PART.KEY, PART.BODY)
                    .from(PART)
                    .where(SPAN.holdsOnlyAt(then, here))
                    .limit(most + 1)
                    .forEach(row -> put(
                            parts,
                            new StoredEntity(
                                    row.value1(),
                                    PgText.read(row.value2()),
                                    row.value3().data())));
            if (parts.size() > most) return Optional.empty();
            return SeatTable.difference(on, then, here, most)
                    .map(seats -> new Difference(List.copyOf(parts.values()), seats));
        });
    }

    private static void put(Map<List<String>, StoredEntity> parts, StoredEntity part) {
        parts.put(List.of(part.section(), part.key()), part);
    }

    /**
     * Writes the present estate as an estate file, its lists sorted by key, from one moment of the database. Holds one
     * element at a time.
     *
     * @return the number of the change at which the estate stands
     * @throws IOException when the stream cannot be written
     */
    public long export(OutputStream to) throws IOException {
        return export(to, Long.MAX_VALUE);
    }

    /**
     * Writes the estate as it stood after a change, or the present one where the number is that of no change yet.
     *
     * @return the number of the change at which the estate written stood
     * @throws IOException when the stream cannot be written
     */
    public long export(OutputStream to, long asOf) throws IOException {
        return database.readSnapshot(tx -> {
            long number = Math.min(asOf, Journal.latest(tx));
            EstateExport.write(tx, to, number);
            return number;
        });
    }

    /** The parts that edits wrote, and those that they removed, whose bodies are empty. */
    public record EntityWrites(List<StoredEntity> put, List<StoredEntity> removed) {
        /** Those of an edit session. Costs what its edits touch. */
        public static EntityWrites of(EditSession editSession) {
            List<StoredEntity> put = new ArrayList<>();
            List<StoredEntity> removed = new ArrayList<>();
            editSession.written().forEach(p -> put.add(new StoredEntity(p.section(), p.key(), Json.write(p.body()))));
            editSession.removed().forEach(p -> removed.add(new StoredEntity(p.section(), p.key(), "")));
            editSession
                    .writtenRanking()
                    .ifPresent(r -> put.add(new StoredEntity(StoredEntity.RANKING, "", Json.write(r))));
            editSession
                    .writtenFrame()
                    .ifPresent(f -> put.add(new StoredEntity(StoredEntity.CATALOGUE, "", Json.write(f))));
            editSession.writtenRings().ifPresent(r -> put.add(new StoredEntity(StoredEntity.RINGS, "", Json.write(r))));
            editSession
                    .writtenTracks()
                    .ifPresent(t -> put.add(new StoredEntity(StoredEntity.TRACKS, "", Json.write(t))));
            return new EntityWrites(put, removed);
        }
    }

    /**
     * Publishes what edits made of the estate, and the seats that pass on by that.
     *
     * @return the new change
     * @throws StaleBaseException when another change was published in between; then nothing is stored
     */
    public Change publish(
            WriteRequest writeRequest, long base, NewChange newChange, EntityWrites entityWrites, List<MovedSeat> seats)
            throws StaleBaseException {
        return publish(writeRequest, base, newChange, entityWrites.put, entityWrites.removed, seats);
    }

    /**
     * Publishes a change that writes and removes single parts.
     *
     * @param base the number of the change that the writer knows as the last
     * @param put parts as they shall be from now on
     * @param removed parts that shall be no more; their bodies are not looked at
     * @return the new change
     * @throws StaleBaseException when another change was published in between; then nothing is stored
     */
    public Change publish(
            WriteRequest writeRequest,
            long base,
            NewChange newChange,
            List<StoredEntity> put,
            List<StoredEntity> removed,
            List<MovedSeat> seats)
            throws StaleBaseException {
        return journal.append(writeRequest, base, newChange, (tx, number) -> {
            Stream.concat(put.stream(), removed.stream())
                    .collect(Collectors.groupingBy(StoredEntity::section))
                    .forEach((section, parts) -> tx.update(PART)
                            .set(PART.UNTIL, number)
                            .where(
                                    PART.UNTIL.isNull(),
                                    PART.SECTION.eq(section),
                                    contains(parts.stream()
                                            .map(StoredEntity::key)
                                            .toList()))
                            .execute());
            insert(tx, PART, number, put.stream());
            SeatTable.move(tx, number, seats);
        });
    }

    /**
     * The ledger that comes with a file.
     *
     * @param listed by plan the holders as the file lists them, JSON text: the file's share of the journal
     * @param held the seats as they are held once all that are free have been given
     */
    public record Seats(Map<String, String> listed, Stream<HeldSeat> held) {
        /** That of a file without holders whose plans have no seats. */
        public static Seats none() {
            return new Seats(Map.of(), Stream.empty());
        }
    }

    /**
     * Publishes a change that replaces the whole estate. Parts and seats that stay the same are left alone.
     *
     * @param seats asked for when all parts have been read
     * @return the new change
     * @throws StaleBaseException when another change was published in between; then nothing is stored
     */
    public Change replace(
            WriteRequest writeRequest,
            long base,
            NewChange newChange,
            Stream<StoredEntity> parts,
            Supplier<Seats> seats)
            throws StaleBaseException {
        return journal.append(writeRequest, base, newChange, (tx, number) -> {
            Database.disableTimeouts(tx);
            tx.execute("create temporary table incoming (like part including compression) on commit drop");
            insert(tx, INCOMING, number, parts);
            tx.execute("create index on incoming (section, key)");
            tx.execute("analyze incoming");
            Condition same = INCOMING.SECTION.eq(PART.SECTION).and(INCOMING.KEY.eq(PART.KEY));
            Condition unchanged = same.and(text(INCOMING).eq(text(PART)));
            Condition present = PART.UNTIL.isNull();
            tx.insertInto(CARRIED, CARRIED.NUMBER, CARRIED.SECTION, CARRIED.KEY)
                    .select(DSL.select(DSL.val(number), PART.SECTION, PART.KEY)
                            .from(PART)
                            .where(
                                    present,
                                    DSL.notExists(DSL.selectOne().from(INCOMING).where(same))))
                    .execute();
            tx.insertInto(CARRIED, CARRIED.NUMBER, CARRIED.SECTION, CARRIED.KEY, CARRIED.BODY)
                    .select(DSL.select(DSL.val(number), INCOMING.SECTION, INCOMING.KEY, INCOMING.BODY)
                            .from(INCOMING)
                            .where(DSL.notExists(DSL.selectOne().from(PART).where(present, unchanged))))
                    .execute();
            tx.update(PART)
                    .set(PART.UNTIL, number)
                    .where(present, DSL.notExists(DSL.selectOne().from(INCOMING).where(unchanged)))
                    .execute();
            tx.insertInto(PART, PART.SECTION, PART.KEY, PART.SINCE, PART.BODY)
                    .select(DSL.select(INCOMING.SECTION, INCOMING.KEY, INCOMING.SINCE, INCOMING.BODY)
                            .from(INCOMING)
                            .where(DSL.notExists(DSL.selectOne().from(PART).where(present, same))))
                    .execute();
            // Until PostgreSQL has looked at what is there now, it would look single parts up among all that stand.
            tx.execute("analyze part");
            Seats ledger = seats.get();
            ledger.listed()
                    .forEach((plan, holders) -> tx.insertInto(CARRIED)
                            .set(CARRIED.NUMBER, number)
                            .set(CARRIED.SECTION, StoredEntity.HOLDERS)
                            .set(CARRIED.KEY, PgText.stored(plan))
                            .set(CARRIED.BODY, JSON.json(holders))
                            .execute());
            SeatTable.replace(tx, number, ledger.held());
        });
    }

    /** The body as it was written; JSON itself has no equality. */
    private static Field<String> text(Part part) {
        return part.BODY.cast(SQLDataType.CLOB);
    }

    /** Inserts entities, some in each statement: one row a statement takes several times as long. */
    private static void insert(DSLContext tx, Part into, long number, Stream<StoredEntity> parts) {
        List<StoredEntity> some = new ArrayList<>();
        long characters = 0;
        var iterator = parts.iterator();
        while (iterator.hasNext()) {
            StoredEntity part = iterator.next();
            some.add(part);
            characters += part.body().length();
            if (some.size() < BATCH && characters < BATCH_CHARACTERS && iterator.hasNext()) continue;
            tx.execute(
                    "insert into " + into.getName() + " (section, key, since, body)"
                            + " select s, k, ?, b::json from unnest(?::text[], ?::text[], ?::text[]) as t (s, k, b)",
                    number,
                    some.stream().map(StoredEntity::section).toArray(String[]::new),
                    some.stream().map(p -> PgText.stored(p.key())).toArray(String[]::new),
                    some.stream().map(StoredEntity::body).toArray(String[]::new));
            some.clear();
            characters = 0;
        }
    }
}
