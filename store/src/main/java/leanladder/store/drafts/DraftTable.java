package leanladder.store.drafts;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.store.db.Database;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.Record;
import org.jooq.Record1;
import org.jooq.Select;
import org.jooq.SelectConditionStep;
import org.jooq.impl.DSL;
import org.jooq.impl.SQLDataType;

/**
 * Drafts as they are kept. Every alteration names the version that it was made on, and is refused by {@link StaleDraftException} when the
 * draft has another by then; each costs what it alters, however much the draft holds. Servers tell one another of each.
 */
public final class DraftTable {
    /** So many bytes a draft counts for by itself. */
    public static final int EMPTY = 1024;

    private static final Field<Long> DRAFT_ID = DSL.field(DSL.name("draft", "id"), SQLDataType.BIGINT);

    private final Database database;

    /** The drafts in a database. */
    public DraftTable(Database database) {
        this.database = database;
    }

    /**
     * Drafts without their edits, the one touched last first: those that are planned, whether or not they are stuck, and those touched last,
     * so that no number of empty ones hides one that holds something. Reads none of their edits.
     *
     * @param most so many of those touched last that hold an edit, and so many of those that hold none
     */
    public List<DraftLine> lines(int most) {
        Field<Integer> edits = DSL.coalesce(
                DSL.field(DSL.select(DSL.sum(Schema.STEP_EDITS).cast(SQLDataType.INTEGER))
                        .from(Schema.STEP)
                        .where(Schema.DRAFT_OF.eq(DRAFT_ID), Schema.UNDONE.isFalse())),
                0);
        return database.read(on -> {
            List<Field<?>> columns = new ArrayList<>(Schema.DRAFT_COLUMNS);
            columns.add(edits);
            return on.select(columns)
                    .from(Schema.DRAFT)
                    .where(DRAFT_ID.in(DSL.select(DRAFT_ID)
                            .from(Schema.DRAFT)
                            .where(Schema.DUE.isNotNull())
                            .union(touchedLast(DRAFT_ID.in(holding()), most))
                            .union(touchedLast(DSL.notExists(holding().and(Schema.DRAFT_OF.eq(DRAFT_ID))), most))))
                    .orderBy(Schema.TOUCHED.desc())
                    .fetch(row -> new DraftLine(
                            row.get(Schema.ID),
                            row.get(Schema.NAME),
                            row.get(Schema.AUTHOR),
                            row.get(Schema.VERSION),
                            row.get(edits),
                            row.get(Schema.NOTE),
                            due(row),
                            Optional.ofNullable(row.get(Schema.STUCK)),
                            row.get(Schema.TOUCHED).toInstant()));
        });
    }

    private static Select<Record1<Long>> touchedLast(Condition which, int most) {
        return DSL.select(DRAFT_ID)
                .from(Schema.DRAFT)
                .where(which)
                .orderBy(Schema.TOUCHED.desc())
                .limit(most);
    }

    /** The drafts that hold an edit which is not undone. */
    private static SelectConditionStep<Record1<Long>> holding() {
        return DSL.select(Schema.DRAFT_OF).from(Schema.STEP).where(Schema.UNDONE.isFalse());
    }

    /** How many bytes the edits of a draft take as text, those undone included; 0 where there is none of this id. */
    public long size(long id) {
        return database.read(on -> on.select(
                        DSL.coalesce(DSL.sum(Schema.STEP_SIZE).cast(SQLDataType.BIGINT), 0L))
                .from(Schema.STEP)
                .where(Schema.DRAFT_OF.eq(id))
                .fetchSingle()
                .value1());
    }

    /** How many bytes all drafts take: their edits as text, those undone included, and {@value #EMPTY} for each. Looks at each step's size. */
    public long size() {
        return database.read(on ->
                on.select(DSL.coalesce(DSL.sum(Schema.STEP_SIZE).cast(SQLDataType.BIGINT), 0L))
                                .from(Schema.STEP)
                                .fetchSingle()
                                .value1()
                        + (long) EMPTY * on.fetchCount(Schema.DRAFT));
    }

    /** The draft of this id. */
    public Optional<Draft> find(long id) {
        return database.read(on -> drafts(on, Schema.ID.eq(id)).stream().findFirst());
    }

    /** The version of a draft; empty when there is none of this id. */
    public Optional<Long> version(long id) {
        return database.read(on -> on.select(Schema.VERSION)
                .from(Schema.DRAFT)
                .where(Schema.ID.eq(id))
                .fetchOptional(Schema.VERSION));
    }

    /** The ids of drafts that were to publish themselves by then and are not stuck, the one due longest first. Does not look at the others. */
    public List<Long> due(Instant by) {
        return database.read(on -> on.select(Schema.ID)
                .from(Schema.DRAFT)
                .where(Schema.DUE.le(Schema.micros(by)).and(Schema.STUCK.isNull()))
                .orderBy(Schema.DUE, Schema.ID)
                .fetch(Schema.ID));
    }

    private static List<Draft> drafts(DSLContext on, Condition which) {
        List<? extends Record> rows = on.select(Schema.DRAFT_COLUMNS)
                .from(Schema.DRAFT)
                .where(which)
                .orderBy(Schema.TOUCHED.desc())
                .fetch();
        if (rows.isEmpty()) return new ArrayList<>();
        Map<Long, List<Draft.Step>> steps = new LinkedHashMap<>();
        Map<Long, List<Draft.Step>> undone = new LinkedHashMap<>();
        on.select(Schema.DRAFT_OF, Schema.STEP_NUMBER, Schema.UNDONE, Schema.STEP_JSON)
                .from(Schema.STEP)
                .where(Schema.DRAFT_OF.in(
                        rows.stream().map(row -> row.get(Schema.ID)).toList()))
                .orderBy(Schema.STEP_NUMBER)
                .forEach(row -> (row.value3() ? undone : steps)
                        .computeIfAbsent(row.value1(), k -> new ArrayList<>())
                        .add(step(row.value2(), row.value4())));
        List<Draft> drafts = new ArrayList<>();
        for (Record row : rows)
            drafts.add(new Draft(
                    row.get(Schema.ID),
                    row.get(Schema.NAME),
                    row.get(Schema.AUTHOR),
                    row.get(Schema.VERSION),
                    List.copyOf(steps.getOrDefault(row.get(Schema.ID), List.of())),
                    List.copyOf(undone.getOrDefault(row.get(Schema.ID), List.of())),
                    row.get(Schema.NOTE),
                    due(row),
                    Optional.ofNullable(row.get(Schema.STUCK)),
                    row.get(Schema.TOUCHED).toInstant()));
        return drafts;
    }

    private static Optional<Instant> due(Record row) {
        return Optional.ofNullable(row.get(Schema.DUE)).map(OffsetDateTime::toInstant);
    }

    private static Draft.Step step(int number, JSON written) {
        List<Draft.Item> items = new ArrayList<>();
        for (JsonNode item : Json.read(written.data()))
            items.add(new Draft.Item(item.get("base").longValue(), item.get("edit")));
        return new Draft.Step(number, List.copyOf(items));
    }

    private static JSON written(List<Draft.Item> items) {
        ArrayNode list = Json.NODES.arrayNode();
        for (Draft.Item item : items) list.addObject().put("base", item.base()).set("edit", item.edit());
        return JSON.json(Json.write(list));
    }

    /** A new draft with no edit; its id. */
    public long begin(WriteRequest writeRequest, String name) {
        return begin(writeRequest, name, "", List.of());
    }

    /** A new draft with a note and steps; its id. */
    public long begin(WriteRequest writeRequest, String name, String note, List<List<Draft.Item>> steps) {
        return database.write(writeRequest, tx -> {
            long id = tx.insertInto(Schema.DRAFT)
                    .set(Schema.NAME, name)
                    .set(Schema.AUTHOR, writeRequest.actor())
                    .set(Schema.VERSION, 1L)
                    .set(Schema.NOTE, note)
                    .set(Schema.TOUCHED, Schema.micros(writeRequest.at()))
                    .returningResult(Schema.ID)
                    .fetchSingle(Schema.ID);
            int number = 1;
            for (List<Draft.Item> step : steps) insert(tx, id, number++, step);
            tell(tx, id);
            return id;
        });
    }

    private static void insert(DSLContext tx, long draft, int number, List<Draft.Item> step) {
        tx.insertInto(Schema.STEP)
                .set(Schema.DRAFT_OF, draft)
                .set(Schema.STEP_NUMBER, number)
                .set(Schema.UNDONE, false)
                .set(Schema.STEP_JSON, written(step))
                .execute();
    }

    private static void tell(DSLContext tx, long draft) {
        tx.execute("select pg_notify('draft', ?)", String.valueOf(draft));
    }

    /** What happens to a draft while nobody else alters it. */
    @FunctionalInterface
    private interface Alteration {
        void with(DSLContext tx);
    }

    private void alter(WriteRequest writeRequest, Draft draft, Map<Field<?>, Object> columns, Alteration alteration)
            throws StaleDraftException {
        try {
            database.write(writeRequest, tx -> {
                Map<Field<?>, Object> all = new LinkedHashMap<>(columns);
                all.put(Schema.VERSION, draft.version() + 1);
                all.put(Schema.TOUCHED, Schema.micros(writeRequest.at()));
                int altered = tx.update(Schema.DRAFT)
                        .set(all)
                        .where(Schema.ID.eq(draft.id()), Schema.VERSION.eq(draft.version()))
                        .execute();
                if (altered == 0) throw new StaleDraftException(draft.id());
                alteration.with(tx);
                tell(tx, draft.id());
                return draft.id();
            });
        } catch (RuntimeException e) {
            if (e.getCause() instanceof StaleDraftException moved) throw moved;
            throw e;
        }
    }

    /** What was read over when a draft was told to publish itself is not what it holds now; so it does not. */
    private static Map<Field<?>, Object> unplanned() {
        Map<Field<?>, Object> columns = new LinkedHashMap<>();
        columns.put(Schema.DUE, null);
        columns.put(Schema.STUCK, null);
        return columns;
    }

    /** Adds a step; what was undone cannot be redone any more. */
    public void stage(WriteRequest writeRequest, Draft draft, List<Draft.Item> step) throws StaleDraftException {
        alter(writeRequest, draft, unplanned(), tx -> {
            tx.deleteFrom(Schema.STEP)
                    .where(Schema.DRAFT_OF.eq(draft.id()), Schema.UNDONE.isTrue())
                    .execute();
            insert(tx, draft.id(), lastNumber(draft.steps()) + 1, step);
        });
    }

    private static int lastNumber(List<Draft.Step> steps) {
        return steps.isEmpty() ? 0 : steps.get(steps.size() - 1).number();
    }

    /** Takes a step back, or forth again. */
    public void turn(WriteRequest writeRequest, Draft draft, Draft.Step step, boolean back) throws StaleDraftException {
        alter(
                writeRequest,
                draft,
                unplanned(),
                tx -> tx.update(Schema.STEP)
                        .set(Schema.UNDONE, back)
                        .where(Schema.DRAFT_OF.eq(draft.id()), Schema.STEP_NUMBER.eq(step.number()))
                        .execute());
    }

    /** Puts other edits in the place of a step; none take it away. */
    public void rewrite(WriteRequest writeRequest, Draft draft, Draft.Step step) throws StaleDraftException {
        Condition here = Schema.DRAFT_OF.eq(draft.id()).and(Schema.STEP_NUMBER.eq(step.number()));
        alter(writeRequest, draft, unplanned(), tx -> {
            if (step.items().isEmpty()) tx.deleteFrom(Schema.STEP).where(here).execute();
            else
                tx.update(Schema.STEP)
                        .set(Schema.STEP_JSON, written(step.items()))
                        .where(here)
                        .execute();
        });
    }

    /** Gives a draft another name or note, or another instant at which it publishes itself. */
    public void amend(
            WriteRequest writeRequest,
            Draft draft,
            String name,
            String note,
            Optional<Instant> due,
            Optional<String> stuck)
            throws StaleDraftException {
        Map<Field<?>, Object> columns = new LinkedHashMap<>();
        columns.put(Schema.NAME, name);
        columns.put(Schema.NOTE, note);
        columns.put(Schema.DUE, due.map(Schema::micros).orElse(null));
        columns.put(Schema.STUCK, stuck.orElse(null));
        alter(writeRequest, draft, columns, tx -> {});
    }

    /** Marks a scheduled draft, in whatever version, as one that could not be published, and says why; one that is gone stays gone. */
    public void markStuck(WriteRequest writeRequest, long id, String why) {
        database.write(writeRequest, tx -> {
            tx.update(Schema.DRAFT)
                    .set(Schema.STUCK, why)
                    .set(Schema.VERSION, Schema.VERSION.plus(1))
                    .set(Schema.TOUCHED, Schema.micros(writeRequest.at()))
                    .where(Schema.ID.eq(id), Schema.DUE.isNotNull())
                    .execute();
            tell(tx, id);
            return id;
        });
    }

    /** Throws a draft away. */
    public void discard(WriteRequest writeRequest, Draft draft) throws StaleDraftException {
        alter(
                writeRequest,
                draft,
                Map.of(),
                tx -> tx.deleteFrom(Schema.DRAFT)
                        .where(Schema.ID.eq(draft.id()))
                        .execute());
    }
}
