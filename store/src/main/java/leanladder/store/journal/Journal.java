package leanladder.store.journal;

import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import leanladder.json.Json;
import leanladder.store.checks.CheckTable;
import leanladder.store.db.Database;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import leanladder.store.mail.MailTable;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.JSON;
import org.jooq.Record;
import org.jooq.Record2;
import org.jooq.SelectConditionStep;
import org.jooq.impl.DSL;

/** The journal of changes. Appending one moves the state in the same transaction, so that whoever reads sees both or neither. */
public final class Journal {
    private static final long LOCK = 0x1adde2;

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
                        on.select(DSL.max(Schema.NUMBER)).from(Schema.CHANGE).fetchOne(0, Long.class))
                .orElse(0L);
    }

    /** The number of the last change published until then; 0 when there was none. */
    public long numberAt(Instant at) {
        return database.read(on -> Optional.ofNullable(on.select(DSL.max(Schema.NUMBER))
                        .from(Schema.CHANGE)
                        .where(Schema.AT.le(at.atOffset(ZoneOffset.UTC)))
                        .fetchOne(0, Long.class))
                .orElse(0L));
    }

    /** The change of this number. */
    public Optional<Change> change(long number) {
        return database.read(on -> changes(on, Schema.NUMBER.eq(number)).fetchOptional(Journal::change));
    }

    /** When changes of these numbers were published. */
    public Map<Long, Instant> instants(Collection<Long> numbers) {
        return database.read(on -> on.select(Schema.NUMBER, Schema.AT)
                .from(Schema.CHANGE)
                .where(Schema.NUMBER.in(numbers))
                .fetchMap(Schema.NUMBER, row -> row.get(Schema.AT).toInstant()));
    }

    /** The changes after this one, oldest first. */
    public List<Change> since(long number) {
        return database.read(on ->
                changes(on, Schema.NUMBER.gt(number)).orderBy(Schema.NUMBER).fetch(Journal::change));
    }

    /** The changes after this one, oldest first, so many at most. */
    public List<Change> since(long number, int most) {
        return database.read(on -> changes(on, Schema.NUMBER.gt(number))
                .orderBy(Schema.NUMBER)
                .limit(most)
                .fetch(Journal::change));
    }

    /** The newest changes before this one, newest first, so many at most. */
    public List<Change> before(long number, int most) {
        return database.read(on -> changes(on, Schema.NUMBER.lt(number))
                .orderBy(Schema.NUMBER.desc())
                .limit(most)
                .fetch(Journal::change));
    }

    private static SelectConditionStep<? extends Record> changes(DSLContext on, Condition which) {
        return on.select(Schema.CHANGE_COLUMNS).from(Schema.CHANGE).where(which);
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
        try {
            database.write(writeRequest, tx -> {
                tx.execute("select pg_advisory_xact_lock(?)", LOCK);
                var last = tx.select(Schema.NUMBER, Schema.AT)
                        .from(Schema.CHANGE)
                        .orderBy(Schema.NUMBER.desc())
                        .limit(1)
                        .fetchOptional();
                long latest = last.map(Record2::value1).orElse(0L);
                if (latest != base) throw new StaleBaseException(base, latest);
                Instant notBefore = last.map(l -> l.value2().toInstant()).orElse(Instant.MIN);
                Instant wanted = newChange.at().truncatedTo(ChronoUnit.MICROS);
                Instant written = wanted.isBefore(notBefore) ? notBefore : wanted;
                long number = latest + 1;
                tx.insertInto(Schema.CHANGE)
                        .columns(Schema.CHANGE_COLUMNS)
                        .values(
                                number,
                                Schema.micros(written),
                                newChange.author(),
                                newChange.proven(),
                                newChange.note(),
                                JSON.json(Json.write(newChange.edits())),
                                JSON.json(Json.write(newChange.words())),
                                JSON.json(Json.write(newChange.ripple())),
                                newChange.planned().map(Schema::micros).orElse(null))
                        .execute();
                newChange.draft().ifPresent(id -> {
                    CheckTable.begin(tx, id, number);
                    tx.deleteFrom(Schema.DRAFT).where(Schema.ID.eq(id)).execute();
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
