package leanladder.store.drafts;

import static leanladder.store.schema.Tables.DRAFT;
import static leanladder.store.schema.Tables.DRAFT_STEP;

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
                DSL.field(DSL.select(DSL.sum(DRAFT_STEP.EDITS).cast(SQLDataType.INTEGER))
                        .from(DRAFT_STEP)
                        .where(DRAFT_STEP.DRAFT.eq(DRAFT.ID), DRAFT_STEP.UNDONE.isFalse())),
                0);
        return database.read(on -> {
            List<Field<?>> columns = new ArrayList<>(List.of(DRAFT.fields()));
            columns.add(edits);
            return on.select(columns)
                    .from(DRAFT)
                    .where(DRAFT.ID.in(DSL.select(DRAFT.ID)
                            .from(DRAFT)
                            .where(DRAFT.DUE.isNotNull())
                            .union(touchedLast(DRAFT.ID.in(holding()), most))
                            .union(touchedLast(DSL.notExists(holding().and(DRAFT_STEP.DRAFT.eq(DRAFT.ID))), most))))
                    .orderBy(DRAFT.TOUCHED.desc())
                    .fetch(row -> new DraftLine(
                            row.get(DRAFT.ID),
                            row.get(DRAFT.NAME),
                            row.get(DRAFT.AUTHOR),
                            row.get(DRAFT.VERSION),
                            row.get(edits),
                            row.get(DRAFT.NOTE),
                            due(row),
                            Optional.ofNullable(row.get(DRAFT.STUCK)),
                            row.get(DRAFT.TOUCHED).toInstant()));
        });
    }

    private static Select<Record1<Long>> touchedLast(Condition which, int most) {
        return DSL.select(DRAFT.ID)
                .from(DRAFT)
                .where(which)
                .orderBy(DRAFT.TOUCHED.desc())
                .limit(most);
    }

    /** The drafts that hold an edit which is not undone. */
    private static SelectConditionStep<Record1<Long>> holding() {
        return DSL.select(DRAFT_STEP.DRAFT).from(DRAFT_STEP).where(DRAFT_STEP.UNDONE.isFalse());
    }

    /** How many bytes the edits of a draft take as text, those undone included; 0 where there is none of this id. */
    public long size(long id) {
        return database.read(on -> on.select(
                        DSL.coalesce(DSL.sum(DRAFT_STEP.SIZE).cast(SQLDataType.BIGINT), 0L))
                .from(DRAFT_STEP)
                .where(DRAFT_STEP.DRAFT.eq(id))
                .fetchSingle()
                .value1());
    }

    /** How many bytes all drafts take: their edits as text, those undone included, and {@value #EMPTY} for each. Looks at each step's size. */
    public long size() {
        return database.read(on ->
                on.select(DSL.coalesce(DSL.sum(DRAFT_STEP.SIZE).cast(SQLDataType.BIGINT), 0L))
                                .from(DRAFT_STEP)
                                .fetchSingle()
                                .value1()
                        + (long) EMPTY * on.fetchCount(DRAFT));
    }

    /** The draft of this id. */
    public Optional<Draft> find(long id) {
        return database.read(on -> drafts(on, DRAFT.ID.eq(id)).stream().findFirst());
    }

    /** The version of a draft; empty when there is none of this id. */
    public Optional<Long> version(long id) {
        return database.read(on ->
                on.select(DRAFT.VERSION).from(DRAFT).where(DRAFT.ID.eq(id)).fetchOptional(DRAFT.VERSION));
    }

    /** The ids of drafts that were to publish themselves by then and are not stuck, the one due longest first. Does not look at the others. */
    public List<Long> due(Instant by) {
        return database.read(on -> on.select(DRAFT.ID)
                .from(DRAFT)
                .where(DRAFT.DUE.le(Schema.micros(by)).and(DRAFT.STUCK.isNull()))
                .orderBy(DRAFT.DUE, DRAFT.ID)
                .fetch(DRAFT.ID));
    }

    private static List<Draft> drafts(DSLContext on, Condition which) {
        List<? extends Record> rows = on.select(List.of(DRAFT.fields()))
                .from(DRAFT)
                .where(which)
                .orderBy(DRAFT.TOUCHED.desc())
                .fetch();
        if (rows.isEmpty()) return new ArrayList<>();
        Map<Long, List<Draft.Step>> steps = new LinkedHashMap<>();
        Map<Long, List<Draft.Step>> undone = new LinkedHashMap<>();
        on.select(DRAFT_STEP.DRAFT, DRAFT_STEP.NUMBER, DRAFT_STEP.UNDONE, DRAFT_STEP.STEP)
                .from(DRAFT_STEP)
                .where(DRAFT_STEP.DRAFT.in(
                        rows.stream().map(row -> row.get(DRAFT.ID)).toList()))
                .orderBy(DRAFT_STEP.NUMBER)
                .forEach(row -> (row.value3() ? undone : steps)
                        .computeIfAbsent(row.value1(), k -> new ArrayList<>())
                        .add(step(row.value2(), row.value4())));
        List<Draft> drafts = new ArrayList<>();
        for (Record row : rows)
            drafts.add(new Draft(
                    row.get(DRAFT.ID),
                    row.get(DRAFT.NAME),
                    row.get(DRAFT.AUTHOR),
                    row.get(DRAFT.VERSION),
                    List.copyOf(steps.getOrDefault(row.get(DRAFT.ID), List.of())),
                    List.copyOf(undone.getOrDefault(row.get(DRAFT.ID), List.of())),
                    row.get(DRAFT.NOTE),
                    due(row),
                    Optional.ofNullable(row.get(DRAFT.STUCK)),
                    row.get(DRAFT.TOUCHED).toInstant()));
        return drafts;
    }

    private static Optional<Instant> due(Record row) {
        return Optional.ofNullable(row.get(DRAFT.DUE)).map(OffsetDateTime::toInstant);
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
            long id = tx.insertInto(DRAFT)
                    .set(DRAFT.NAME, name)
                    .set(DRAFT.AUTHOR, writeRequest.actor())
                    .set(DRAFT.VERSION, 1L)
                    .set(DRAFT.NOTE, note)
                    .set(DRAFT.TOUCHED, Schema.micros(writeRequest.at()))
                    .returningResult(DRAFT.ID)
                    .fetchSingle(DRAFT.ID);
            int number = 1;
            for (List<Draft.Item> step : steps) insert(tx, id, number++, step);
            tell(tx, id);
            return id;
        });
    }

    private static void insert(DSLContext tx, long draft, int number, List<Draft.Item> step) {
        tx.insertInto(DRAFT_STEP)
                .set(DRAFT_STEP.DRAFT, draft)
                .set(DRAFT_STEP.NUMBER, number)
                .set(DRAFT_STEP.UNDONE, false)
                .set(DRAFT_STEP.STEP, written(step))
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
                all.put(DRAFT.VERSION, draft.version() + 1);
                all.put(DRAFT.TOUCHED, Schema.micros(writeRequest.at()));
                int altered = tx.update(DRAFT)
                        .set(all)
                        .where(DRAFT.ID.eq(draft.id()), DRAFT.VERSION.eq(draft.version()))
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
        columns.put(DRAFT.DUE, null);
        columns.put(DRAFT.STUCK, null);
        return columns;
    }

    /** Adds a step; what was undone cannot be redone any more. */
    public void stage(WriteRequest writeRequest, Draft draft, List<Draft.Item> step) throws StaleDraftException {
        alter(writeRequest, draft, unplanned(), tx -> {
            tx.deleteFrom(DRAFT_STEP)
                    .where(DRAFT_STEP.DRAFT.eq(draft.id()), DRAFT_STEP.UNDONE.isTrue())
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
                tx -> tx.update(DRAFT_STEP)
                        .set(DRAFT_STEP.UNDONE, back)
                        .where(DRAFT_STEP.DRAFT.eq(draft.id()), DRAFT_STEP.NUMBER.eq(step.number()))
                        .execute());
    }

    /** Puts other edits in the place of a step; none take it away. */
    public void rewrite(WriteRequest writeRequest, Draft draft, Draft.Step step) throws StaleDraftException {
        Condition here = DRAFT_STEP.DRAFT.eq(draft.id()).and(DRAFT_STEP.NUMBER.eq(step.number()));
        alter(writeRequest, draft, unplanned(), tx -> {
            if (step.items().isEmpty()) tx.deleteFrom(DRAFT_STEP).where(here).execute();
            else
                tx.update(DRAFT_STEP)
                        .set(DRAFT_STEP.STEP, written(step.items()))
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
        columns.put(DRAFT.NAME, name);
        columns.put(DRAFT.NOTE, note);
        columns.put(DRAFT.DUE, due.map(Schema::micros).orElse(null));
        columns.put(DRAFT.STUCK, stuck.orElse(null));
        alter(writeRequest, draft, columns, tx -> {});
    }

    /** Marks a scheduled draft, in whatever version, as one that could not be published, and says why; one that is gone stays gone. */
    public void markStuck(WriteRequest writeRequest, long id, String why) {
        database.write(writeRequest, tx -> {
            tx.update(DRAFT)
                    .set(DRAFT.STUCK, why)
                    .set(DRAFT.VERSION, DRAFT.VERSION.plus(1))
                    .set(DRAFT.TOUCHED, Schema.micros(writeRequest.at()))
                    .where(DRAFT.ID.eq(id), DRAFT.DUE.isNotNull())
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
                tx -> tx.deleteFrom(DRAFT).where(DRAFT.ID.eq(draft.id())).execute());
    }
}
