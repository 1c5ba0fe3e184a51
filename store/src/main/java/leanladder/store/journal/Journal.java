package leanladder.store.journal;

import static leanladder.store.schema.Tables.CHANGE;
import static leanladder.store.schema.Tables.DRAFT;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Stream;
import leanladder.json.Json;
import leanladder.store.checks.CheckTable;
import leanladder.store.db.Database;
import leanladder.store.db.PgText;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import leanladder.store.mail.MailTable;
import leanladder.store.seats.SeatTable;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.Record;
import org.jooq.Record2;
import org.jooq.SelectConditionStep;
import org.jooq.impl.DSL;
import org.jooq.impl.SQLDataType;

/** The journal of changes. Appending one moves the state in the same transaction, so that whoever reads sees both or neither. */
public final class Journal {
    /** All columns of a change but its subjects, in the order in which they are written. */
    private static final List<Field<?>> COLUMNS = List.of(
            CHANGE.NUMBER,
            CHANGE.AT,
            CHANGE.AUTHOR,
            CHANGE.PROVEN,
            CHANGE.NOTE,
            CHANGE.EDITS,
            CHANGE.WORDS,
            CHANGE.RIPPLE,
            CHANGE.PLANNED);

    private static final long LOCK = 0x1adde2;
    private static final int INDEXED_AT_ONCE = 100;

    private final Database database;

    /** The journal in a database. */
    public Journal(Database database) {
        this.database = database;
    }

    /** The number of the last change; 0 when nothing was ever published. */
    public long latest() {
        return database.read(Journal::latest);
    }

    /** The same, within a transaction. */
    public static long latest(DSLContext on) {
        return Optional.ofNullable(
                        on.select(DSL.max(CHANGE.NUMBER)).from(CHANGE).fetchOne(0, Long.class))
                .orElse(0L);
    }

    /** The number of the last change published until then; 0 when there was none. */
    public long numberAt(Instant at) {
        return database.read(on -> Optional.ofNullable(on.select(DSL.max(CHANGE.NUMBER))
                        .from(CHANGE)
                        .where(CHANGE.AT.le(at.atOffset(ZoneOffset.UTC)))
                        .fetchOne(0, Long.class))
                .orElse(0L));
    }

    /** The change of this number. */
    public Optional<Change> change(long number) {
        return database.read(on -> changes(on, CHANGE.NUMBER.eq(number)).fetchOptional(Journal::change));
    }

    /** When changes of these numbers were published. */
    public Map<Long, Instant> instants(Collection<Long> numbers) {
        return database.read(on -> on.select(CHANGE.NUMBER, CHANGE.AT)
                .from(CHANGE)
                .where(CHANGE.NUMBER.in(numbers))
                .fetchMap(CHANGE.NUMBER, row -> row.get(CHANGE.AT).toInstant()));
    }

    /** The changes after this one, oldest first. */
    public List<Change> since(long number) {
        return database.read(on ->
                changes(on, CHANGE.NUMBER.gt(number)).orderBy(CHANGE.NUMBER).fetch(Journal::change));
    }

    /** The changes after this one, oldest first, so many at most. */
    public List<Change> since(long number, int most) {
        return database.read(on -> changes(on, CHANGE.NUMBER.gt(number))
                .orderBy(CHANGE.NUMBER)
                .limit(most)
                .fetch(Journal::change));
    }

    /** The newest changes before this one, newest first, so many at most. */
    public List<Change> before(long number, int most) {
        return database.read(on -> changes(on, CHANGE.NUMBER.lt(number))
                .orderBy(CHANGE.NUMBER.desc())
                .limit(most)
                .fetch(Journal::change));
    }

    /**
     * The newest changes before this one that a filter lets through, newest first, so many at most. Changes whose subjects are too many
     * to be indexed, or that altered settings of too many accounts, are among them whatever their subjects: compare {@link ChangeSubjects#of}.
     */
    public List<Change> before(long number, int most, ChangeFilter filter) {
        return database.read(on -> changes(on, CHANGE.NUMBER.lt(number).and(condition(filter)))
                .orderBy(CHANGE.NUMBER.desc())
                .limit(most)
                .fetch(Journal::change));
    }

    private static Condition condition(ChangeFilter filter) {
        List<Condition> all = new ArrayList<>();
        filter.author().ifPresent(author -> all.add(CHANGE.AUTHOR.eq(author)));
        filter.text()
                .ifPresent(text -> all.add(CHANGE.NOTE
                        .containsIgnoreCase(text)
                        .or(CHANGE.AUTHOR.containsIgnoreCase(text))
                        .or(CHANGE.WORDS.cast(SQLDataType.CLOB).containsIgnoreCase(text))));
        filter.from().ifPresent(from -> all.add(CHANGE.AT.ge(from.atOffset(ZoneOffset.UTC))));
        filter.until().ifPresent(until -> all.add(CHANGE.AT.lt(until.atOffset(ZoneOffset.UTC))));
        filter.subjects().forEach(subjects -> all.add(hasOneOf(subjects)));
        filter.account()
                .ifPresent(account -> all.add(hasOneOf(List.of("account:" + account, ChangeSubjects.ANY_ACCOUNT))
                        .or(SeatTable.movedBy(account, CHANGE.NUMBER))));
        return DSL.and(all);
    }

    private static Condition hasOneOf(List<String> subjects) {
        List<String> wanted = new ArrayList<>(List.of(ChangeSubjects.ANY));
        subjects.forEach(subject -> wanted.add(PgText.stored(subject)));
        return DSL.arrayOverlap(CHANGE.SUBJECTS, DSL.val(wanted.toArray(new String[0]), CHANGE.SUBJECTS));
    }

    /** Works out the subjects of changes that were published before there were any. Costs a look where there are none left. */
    public void indexSubjects() {
        while (true) {
            List<Change> some = database.read(on -> changes(on, CHANGE.SUBJECTS.isNull())
                    .orderBy(CHANGE.NUMBER)
                    .limit(INDEXED_AT_ONCE)
                    .fetch(Journal::change));
            if (some.isEmpty()) return;
            for (Change change : some)
                database.read(on -> on.update(CHANGE)
                        .set(CHANGE.SUBJECTS, subjects(change.edits(), change.ripple()))
                        .where(CHANGE.NUMBER.eq(change.number()))
                        .execute());
        }
    }

    private static String[] subjects(JsonNode edits, JsonNode ripple) {
        return ChangeSubjects.indexed(edits, ripple).stream()
                .map(PgText::stored)
                .toArray(String[]::new);
    }

    private static SelectConditionStep<? extends Record> changes(DSLContext on, Condition which) {
        return on.select(COLUMNS).from(CHANGE).where(which);
    }

    private static Change change(Record row) {
        return new Change(
                row.get(CHANGE.NUMBER),
                row.get(CHANGE.AT).toInstant(),
                row.get(CHANGE.AUTHOR),
                row.get(CHANGE.PROVEN),
                row.get(CHANGE.NOTE),
                Json.read(row.get(CHANGE.EDITS).data()),
                Json.read(row.get(CHANGE.WORDS).data()),
                Json.read(row.get(CHANGE.RIPPLE).data()),
                Optional.ofNullable(row.get(CHANGE.PLANNED)).map(OffsetDateTime::toInstant));
    }

    /** How a change moves the state. */
    @FunctionalInterface
    public interface Move {
        void with(DSLContext tx, long number);
    }

    /**
     * Appends a change. Numbers are given one after the other, without gaps; instants never go back.
     *
     * @param base the number of the change that the writer knows as the last
     * @return the new change
     * @throws StaleBaseException when another change was published in between; then nothing is stored
     */
    public Change append(WriteRequest writeRequest, long base, NewChange newChange, Move move)
            throws StaleBaseException {
        AtomicReference<Change> appended = new AtomicReference<>();
        String[] subjects = subjects(newChange.edits(), newChange.ripple());
        try {
            database.write(writeRequest, tx -> {
                tx.execute("select pg_advisory_xact_lock(?)", LOCK);
                var last = tx.select(CHANGE.NUMBER, CHANGE.AT)
                        .from(CHANGE)
                        .orderBy(CHANGE.NUMBER.desc())
                        .limit(1)
                        .fetchOptional();
                long latest = last.map(Record2::value1).orElse(0L);
                if (latest != base) throw new StaleBaseException(base, latest);
                Instant notBefore = last.map(l -> l.value2().toInstant()).orElse(Instant.MIN);
                Instant wanted = newChange.at().truncatedTo(ChronoUnit.MICROS);
                Instant written = wanted.isBefore(notBefore) ? notBefore : wanted;
                long number = latest + 1;
                tx.insertInto(CHANGE)
                        .columns(Stream.concat(COLUMNS.stream(), Stream.of(CHANGE.SUBJECTS))
                                .toList())
                        .values(
                                number,
                                Schema.micros(written),
                                newChange.author(),
                                newChange.proven(),
                                newChange.note(),
                                JSON.json(Json.write(newChange.edits())),
                                JSON.json(Json.write(newChange.words())),
                                JSON.json(Json.write(newChange.ripple())),
                                newChange.planned().map(Schema::micros).orElse(null),
                                subjects)
                        .execute();
                newChange.draft().ifPresent(id -> {
                    CheckTable.begin(tx, id, number);
                    tx.deleteFrom(DRAFT).where(DRAFT.ID.eq(id)).execute();
                });
                move.with(tx, number);
                MailTable.record(tx, written, newChange.mail());
                tx.execute("select pg_notify('change', ?)", String.valueOf(number));
                appended.set(newChange.published(number, written));
                return number;
            });
            return Objects.requireNonNull(appended.get());
        } catch (RuntimeException e) {
            if (e.getCause() instanceof StaleBaseException moved) throw moved;
            throw e;
        }
    }
}
