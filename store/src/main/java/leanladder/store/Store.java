package leanladder.store;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PipedInputStream;
import java.io.PipedOutputStream;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.stream.Stream;
import leanladder.change.Bodies;
import leanladder.change.Book;
import leanladder.document.Json;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.estate.read.Section;
import org.flywaydb.core.Flyway;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.Record;
import org.jooq.SQLDialect;
import org.jooq.SelectConditionStep;
import org.jooq.conf.Settings;
import org.jooq.impl.DSL;

/**
 * The journal of changes and the present state, in PostgreSQL. Every write is one transaction that appends to the journal and
 * moves the state, so that whoever reads sees the estate before or after a change, never between.
 */
public final class Store implements AutoCloseable {
    private static final long JOURNAL_LOCK = 0x1adde2;
    private static final int PIPE = 1 << 20;
    private static final int BATCH = 1000;
    private static final int FETCH = 1000;
    private static final Condition PRESENT = Schema.UNTIL.isNull();

    private final HikariDataSource source;
    private final DSLContext db;

    /**
     * Connects and brings the tables up to date.
     *
     * @param url a JDBC address of a database that this program has to itself
     */
    public Store(String url, String user, String password) {
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(url);
        config.setUsername(user);
        config.setPassword(password);
        config.setMaximumPoolSize(8);
        config.addDataSourceProperty("reWriteBatchedInserts", "true");
        source = new HikariDataSource(config);
        Flyway.configure().dataSource(source).load().migrate();
        db = DSL.using(source, SQLDialect.POSTGRES, new Settings().withExecuteLogging(false));
    }

    @Override
    public void close() {
        source.close();
    }

    /** The number of the last change; 0 when nothing was ever published. */
    public long latest() {
        return latest(db);
    }

    private static long latest(DSLContext on) {
        return Optional.ofNullable(
                        on.select(DSL.max(Schema.NUMBER)).from(Schema.CHANGE).fetchOne(0, Long.class))
                .orElse(0L);
    }

    /** The number of the last change published until then; 0 when there was none. */
    public long numberAt(Instant at) {
        return Optional.ofNullable(db.select(DSL.max(Schema.NUMBER))
                        .from(Schema.CHANGE)
                        .where(Schema.AT.le(at.atOffset(ZoneOffset.UTC)))
                        .fetchOne(0, Long.class))
                .orElse(0L);
    }

    /** The change of this number. */
    public Optional<Change> change(long number) {
        return changes(Schema.NUMBER.eq(number)).fetchOptional(Store::change);
    }

    /** The changes after this one, oldest first. */
    public List<Change> since(long number) {
        return changes(Schema.NUMBER.gt(number)).orderBy(Schema.NUMBER).fetch(Store::change);
    }

    /** The newest changes before this one, newest first, so many at most. */
    public List<Change> before(long number, int most) {
        return changes(Schema.NUMBER.lt(number))
                .orderBy(Schema.NUMBER.desc())
                .limit(most)
                .fetch(Store::change);
    }

    private SelectConditionStep<? extends Record> changes(Condition which) {
        return db.select(Schema.CHANGE_COLUMNS).from(Schema.CHANGE).where(which);
    }

    private static Change change(Record row) {
        return new Change(
                row.get(Schema.NUMBER),
                row.get(Schema.AT).toInstant(),
                row.get(Schema.AUTHOR),
                row.get(Schema.PROVEN),
                row.get(Schema.NOTE),
                Json.read(row.get(Schema.EDITS).data()),
                Json.read(row.get(Schema.WORDS).data()),
                Json.read(row.get(Schema.RIPPLE).data()),
                Optional.ofNullable(row.get(Schema.PLANNED)).map(OffsetDateTime::toInstant));
    }

    /** The part of a section as it stands now, as it was written. */
    public Optional<JsonNode> part(String section, String key) {
        return part(section, key, PRESENT);
    }

    /** The part of a section as it stood after a change. */
    public Optional<JsonNode> part(String section, String key, long asOf) {
        return part(section, key, holdingAt(asOf));
    }

    private Optional<JsonNode> part(String section, String key, Condition holding) {
        return db.select(Schema.BODY)
                .from(Schema.PART)
                .where(holding, Schema.SECTION.eq(section), Schema.KEY.eq(StoredPart.storedKey(key)))
                .fetchOptional(Schema.BODY)
                .map(json -> Json.read(json.data()));
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
        db.select(Schema.KEY, Schema.SINCE, Schema.UNTIL, Schema.BODY)
                .from(Schema.PART)
                .where(
                        Schema.SECTION.eq(section),
                        Schema.KEY.in(keys.stream().map(StoredPart::storedKey).toList()),
                        Schema.SINCE.le(asOf))
                .orderBy(Schema.SINCE.desc())
                .forEach(row -> {
                    String key = StoredPart.readKey(row.value1());
                    Long until = row.value3();
                    boolean stands = until == null || until > asOf;
                    if (!stands && !until.equals(reach.get(key))) return;
                    reach.put(key, row.value2());
                    versions.computeIfAbsent(key, k -> new ArrayList<>())
                            .add(new Version(
                                    row.value2(), Json.read(row.value4().data())));
                });
        return versions;
    }

    /** All parts as they stand now. */
    public List<StoredPart> parts() {
        return db.select(Schema.SECTION, Schema.KEY, Schema.BODY)
                .from(Schema.PART)
                .where(PRESENT)
                .fetch(row -> new StoredPart(
                        row.value1(),
                        StoredPart.readKey(row.value2()),
                        row.value3().data()));
    }

    /** What a change that replaced the whole estate put in place, and took away: the body is empty then. */
    public List<StoredPart> carriedBy(long number) {
        return db.select(Schema.SECTION, Schema.KEY, Schema.BODY)
                .from(Schema.CARRIED)
                .where(Schema.NUMBER.eq(number))
                .fetch(row -> new StoredPart(
                        row.value1(),
                        StoredPart.readKey(row.value2()),
                        row.value3() == null ? "" : row.value3().data()));
    }

    /** All drafts, the one touched last first. */
    public List<Draft> drafts() {
        return db.select(Schema.DRAFT_COLUMNS)
                .from(Schema.DRAFT)
                .orderBy(Schema.TOUCHED.desc())
                .fetch(Store::draft);
    }

    public Optional<Draft> draft(long id) {
        return db.select(Schema.DRAFT_COLUMNS)
                .from(Schema.DRAFT)
                .where(Schema.ID.eq(id))
                .fetchOptional(Store::draft);
    }

    private static Draft draft(Record row) {
        return new Draft(
                row.get(Schema.ID),
                row.get(Schema.NAME),
                row.get(Schema.AUTHOR),
                row.get(Schema.VERSION),
                Json.read(row.get(Schema.STEPS).data()),
                Json.read(row.get(Schema.UNDONE).data()),
                row.get(Schema.NOTE),
                Optional.ofNullable(row.get(Schema.DUE)).map(OffsetDateTime::toInstant),
                Optional.ofNullable(row.get(Schema.STUCK)),
                row.get(Schema.TOUCHED).toInstant());
    }

    /** Keeps a new draft; the id and version given are not looked at. */
    public Draft keep(Draft draft) {
        return db.insertInto(Schema.DRAFT)
                .set(columns(draft))
                .set(Schema.VERSION, 1L)
                .returning(Schema.DRAFT_COLUMNS)
                .fetchSingle(Store::draft);
    }

    /**
     * Writes a draft anew under the next version.
     *
     * @return the draft as it is kept; empty when it was altered or taken away since the version given
     */
    public Optional<Draft> alter(Draft draft) {
        return db.update(Schema.DRAFT)
                .set(columns(draft))
                .set(Schema.VERSION, draft.version() + 1)
                .where(Schema.ID.eq(draft.id()), Schema.VERSION.eq(draft.version()))
                .returning(Schema.DRAFT_COLUMNS)
                .fetchOptional(Store::draft);
    }

    private static Map<Field<?>, Object> columns(Draft draft) {
        Map<Field<?>, Object> columns = new LinkedHashMap<>();
        columns.put(Schema.NAME, draft.name());
        columns.put(Schema.AUTHOR, draft.author());
        columns.put(Schema.STEPS, JSON.json(Json.write(draft.steps())));
        columns.put(Schema.UNDONE, JSON.json(Json.write(draft.undone())));
        columns.put(Schema.NOTE, draft.note());
        columns.put(Schema.DUE, draft.due().map(Store::micros).orElse(null));
        columns.put(Schema.STUCK, draft.stuck().orElse(null));
        columns.put(Schema.TOUCHED, micros(draft.touched()));
        return columns;
    }

    private static OffsetDateTime micros(Instant at) {
        return at.truncatedTo(ChronoUnit.MICROS).atOffset(ZoneOffset.UTC);
    }

    /** Takes a draft away; whether it was there in this version. */
    public boolean discard(long id, long version) {
        return db.deleteFrom(Schema.DRAFT)
                        .where(Schema.ID.eq(id), Schema.VERSION.eq(version))
                        .execute()
                > 0;
    }

    /**
     * What a change is beside its effect on the state; see {@link Change}.
     *
     * @param draft the draft that it was, which is taken away with the same transaction
     */
    public record Entry(
            Instant at,
            String author,
            boolean proven,
            String note,
            JsonNode edits,
            JsonNode words,
            JsonNode ripple,
            Optional<Instant> planned,
            Optional<Long> draft) {}

    /**
     * Publishes what edits made of the estate: the parts that they wrote and took away.
     *
     * @return the number of the new change
     * @throws BaseMoved when another change was published in between; then nothing is stored
     */
    public long publish(long base, Entry entry, Book book) throws BaseMoved {
        List<StoredPart> put = new ArrayList<>();
        List<StoredPart> removed = new ArrayList<>();
        book.written().forEach(p -> put.add(new StoredPart(p.section(), p.key(), Json.write(p.body()))));
        book.removed().forEach(p -> removed.add(new StoredPart(p.section(), p.key(), "")));
        book.writtenRanking().ifPresent(r -> put.add(new StoredPart(StoredPart.RANKING, "", Json.write(r))));
        return publish(base, entry, put, removed);
    }

    /** Finds the stored bodies of parts as they stood after a change. */
    public Bodies bodies(long asOf) {
        return (section, key) -> (ObjectNode) part(section.member(), key, asOf)
                .orElseThrow(() -> new IllegalStateException("The store lacks " + section + " " + key));
    }

    /**
     * An estate that was read from the store.
     *
     * @param number the change after which it stood so
     */
    public record Stood(long number, Estate estate) {}

    /**
     * Reads the estate as it stood after a change, or the present one where the number is that of no change yet. It is read while
     * it is written out, so that the file is never held.
     *
     * @throws IOException when the store cannot be read, or what it holds is not valid
     */
    public Stood read(long asOf) throws IOException {
        try (PipedInputStream in = new PipedInputStream(PIPE)) {
            PipedOutputStream pipe = new PipedOutputStream(in);
            FutureTask<Long> written = new FutureTask<>(() -> {
                try (OutputStream out = new BufferedOutputStream(pipe, PIPE)) {
                    return export(out, asOf);
                }
            });
            new Thread(written, "reading the store").start();
            try {
                Estate estate = EstateReader.read(in).estate();
                return new Stood(written.get(), estate);
            } catch (InvalidEstate cutShort) {
                // Where writing failed the reader finds a file that ends too early; the failure of the writer is the
                // reason. What was not read is let through, so that the writer ends.
                in.transferTo(OutputStream.nullOutputStream());
                written.get();
                throw new IOException("The stored estate is not valid: " + cutShort.getMessage(), cutShort);
            }
        } catch (ExecutionException e) {
            throw new IOException(
                    "The stored estate cannot be read: " + e.getCause().getMessage(), e.getCause());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException(e);
        }
    }

    /**
     * Publishes a change that writes and removes single parts.
     *
     * @param base the number of the change that the writer knows as the last
     * @param put parts as they shall be from now on
     * @param removed parts that shall be no more; their bodies are not looked at
     * @return the number of the new change
     * @throws BaseMoved when another change was published in between; then nothing is stored
     */
    public long publish(long base, Entry entry, List<StoredPart> put, List<StoredPart> removed) throws BaseMoved {
        return inOneTransaction(base, entry, (tx, number) -> {
            var ended = Stream.concat(put.stream(), removed.stream())
                    .map(p -> tx.update(Schema.PART)
                            .set(Schema.UNTIL, number)
                            .where(
                                    PRESENT,
                                    Schema.SECTION.eq(p.section()),
                                    Schema.KEY.eq(StoredPart.storedKey(p.key()))))
                    .toList();
            tx.batch(ended).execute();
            insert(tx, Schema.PART, number, put.stream());
        });
    }

    /**
     * Publishes a change that replaces the whole estate. Parts that stay the same are left alone.
     *
     * @return the number of the new change
     * @throws BaseMoved when another change was published in between; then nothing is stored
     */
    public long replace(long base, Entry entry, Stream<StoredPart> parts) throws BaseMoved {
        return inOneTransaction(base, entry, (tx, number) -> {
            tx.execute(
                    "create temporary table incoming (section text, key text, since bigint, body json) on commit drop");
            insert(tx, Schema.INCOMING, number, parts);
            tx.execute("create index on incoming (section, key)");
            tx.execute("analyze incoming");
            tx.execute(
                    "insert into carried (number, section, key, body) select ?, section, key, null from part where until is null"
                            + " and not exists (select from incoming i where i.section = part.section and i.key = part.key)",
                    number);
            tx.execute(
                    "insert into carried (number, section, key, body) select ?, section, key, body from incoming i"
                            + " where not exists (select from part p where p.until is null and p.section = i.section"
                            + " and p.key = i.key and p.body::text = i.body::text)",
                    number);
            tx.execute(
                    "update part set until = ? where until is null and not exists (select from incoming i"
                            + " where i.section = part.section and i.key = part.key and i.body::text = part.body::text)",
                    number);
            tx.execute(
                    "insert into part (section, key, since, body) select section, key, since, body from incoming i"
                            + " where not exists (select from part p where p.until is null and p.section = i.section and p.key = i.key)");
        });
    }

    private interface Work {
        void run(DSLContext tx, long number);
    }

    private long inOneTransaction(long base, Entry entry, Work work) throws BaseMoved {
        try {
            return db.transactionResult(configuration -> {
                DSLContext tx = configuration.dsl();
                tx.execute("select pg_advisory_xact_lock(?)", JOURNAL_LOCK);
                long latest = latest(tx);
                if (latest != base) throw new BaseMoved(base, latest);
                long number = latest + 1;
                tx.insertInto(Schema.CHANGE)
                        .columns(Schema.CHANGE_COLUMNS)
                        .values(
                                number,
                                micros(entry.at()),
                                entry.author(),
                                entry.proven(),
                                entry.note(),
                                JSON.json(Json.write(entry.edits())),
                                JSON.json(Json.write(entry.words())),
                                JSON.json(Json.write(entry.ripple())),
                                entry.planned().map(Store::micros).orElse(null))
                        .execute();
                entry.draft()
                        .ifPresent(id -> tx.deleteFrom(Schema.DRAFT)
                                .where(Schema.ID.eq(id))
                                .execute());
                work.run(tx, number);
                tx.execute("select pg_notify('change', ?)", String.valueOf(number));
                return number;
            });
        } catch (RuntimeException e) {
            if (e.getCause() instanceof BaseMoved moved) throw moved;
            throw e;
        }
    }

    private static void insert(DSLContext tx, org.jooq.Table<?> into, long number, Stream<StoredPart> parts) {
        var iterator = parts.iterator();
        while (iterator.hasNext()) {
            var batch = tx.batch(tx.insertInto(into)
                    .columns(Schema.SECTION, Schema.KEY, Schema.SINCE, Schema.BODY)
                    .values((String) null, null, null, null));
            for (int i = 0; i < BATCH && iterator.hasNext(); i++) {
                StoredPart part = iterator.next();
                batch.bind(part.section(), StoredPart.storedKey(part.key()), number, JSON.json(part.body()));
            }
            batch.execute();
        }
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
        try {
            return db.transactionResult(configuration -> {
                DSLContext tx = configuration.dsl();
                tx.execute("set transaction isolation level repeatable read, read only");
                long number = Math.min(asOf, latest(tx));
                try (JsonGenerator out = Json.MAPPER.getFactory().createGenerator(to)) {
                    out.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
                    new Export(tx, out, holdingAt(number)).write();
                }
                return number;
            });
        } catch (RuntimeException e) {
            if (e.getCause() instanceof IOException io) throw io;
            throw e;
        }
    }

    /** The rows that hold after a change. */
    private static Condition holdingAt(long number) {
        return Schema.SINCE.le(number).and(Schema.UNTIL.isNull().or(Schema.UNTIL.gt(number)));
    }

    /** Puts the frame and the lists together again. */
    private record Export(DSLContext tx, JsonGenerator out, Condition holding) {
        void write() throws IOException {
            ObjectNode frame = (ObjectNode)
                    single(StoredPart.FRAME).orElseThrow(() -> new IllegalStateException("There is no estate yet"));
            Optional<JsonNode> ranking = single(StoredPart.RANKING);
            if (ranking.isPresent()) frame.set("ranking", ranking.get());
            for (Section section : Section.values())
                if (section != Section.SETTINGS && !frame.has(section.member()) && !isEmpty(section))
                    frame.set(section.member(), Json.NODES.arrayNode());
            out.writeStartObject();
            var members = frame.fields();
            while (members.hasNext()) {
                var member = members.next();
                out.writeFieldName(member.getKey());
                Optional<Section> section = Arrays.stream(Section.values())
                        .filter(s -> s != Section.SETTINGS && s.member().equals(member.getKey()))
                        .findFirst();
                if (section.isPresent()) list(section.get());
                else if (member.getKey().equals("catalogue")) catalogue((ObjectNode) member.getValue());
                else Json.MAPPER.writeTree(out, member.getValue());
            }
            out.writeEndObject();
        }

        private void catalogue(ObjectNode catalogue) throws IOException {
            out.writeStartObject();
            var members = catalogue.fields();
            while (members.hasNext()) {
                var member = members.next();
                out.writeFieldName(member.getKey());
                if (member.getKey().equals(Section.SETTINGS.member())) list(Section.SETTINGS);
                else Json.MAPPER.writeTree(out, member.getValue());
            }
            out.writeEndObject();
        }

        private void list(Section section) throws IOException {
            out.writeStartArray();
            try (var rows = tx.select(Schema.BODY)
                    .from(Schema.PART)
                    .where(holding, Schema.SECTION.eq(section.member()))
                    .orderBy(Schema.KEY.collate(DSL.collation("C")))
                    .fetchSize(FETCH)
                    .fetchLazy()) {
                for (var row : rows) out.writeRawValue(row.value1().data());
            }
            out.writeEndArray();
        }

        private boolean isEmpty(Section section) {
            return !tx.fetchExists(
                    DSL.selectOne().from(Schema.PART).where(holding, Schema.SECTION.eq(section.member())));
        }

        private Optional<JsonNode> single(String section) {
            return tx.select(Schema.BODY)
                    .from(Schema.PART)
                    .where(holding, Schema.SECTION.eq(section))
                    .fetchOptional(Schema.BODY)
                    .map(json -> Json.read(json.data()));
        }
    }

    /** Splits an estate file's frame into the two parts that hold it; the ranking is a part of its own. */
    public static List<StoredPart> frameParts(ObjectNode frame) {
        ObjectNode rest = frame.deepCopy();
        JsonNode ranking = rest.remove("ranking");
        ArrayNode none = Json.NODES.arrayNode();
        StoredPart frameRow = new StoredPart(StoredPart.FRAME, "", Json.write(rest));
        return ranking == null
                ? List.of(frameRow)
                : List.of(
                        frameRow,
                        new StoredPart(StoredPart.RANKING, "", Json.write(ranking.isArray() ? ranking : none)));
    }
}
