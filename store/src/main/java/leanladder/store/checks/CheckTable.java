package leanladder.store.checks;

import static leanladder.store.schema.Tables.ARRIVAL_CHECK;
import static leanladder.store.schema.Tables.CHANGE;

import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import leanladder.store.db.Database;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.Record;
import org.jooq.SortField;
import org.jooq.impl.DSL;
import org.jooq.impl.SQLDataType;
import org.jooq.types.YearToSecond;

/** Checks, and what was found. */
public final class CheckTable {
    private final Database database;

    /** The checks in a database. */
    public CheckTable(Database database) {
        this.database = database;
    }

    /**
     * What is to be looked at.
     *
     * @param who a target, as the estate file writes it
     */
    public record CheckSubject(String who, String setting, Optional<String> workspace) {}

    /** Writes a check that is looked at from an instant on; its id. */
    public long write(WriteRequest writeRequest, CheckSubject checkSubject, long change, Instant due) {
        return write(writeRequest, checkSubject, change, ARRIVAL_CHECK.DUE, Schema.micros(due), Map.of());
    }

    /** Writes a check into a draft: it is looked at so long after that is published; its id. */
    public long write(WriteRequest writeRequest, CheckSubject checkSubject, long change, long draft, Duration within) {
        return write(
                writeRequest,
                checkSubject,
                change,
                ARRIVAL_CHECK.DRAFT,
                draft,
                Map.of(ARRIVAL_CHECK.WITHIN, YearToSecond.valueOf(within)));
    }

    private <T> long write(
            WriteRequest writeRequest,
            CheckSubject checkSubject,
            long change,
            Field<T> when,
            T value,
            Map<Field<?>, Object> more) {
        return database.write(
                writeRequest,
                tx -> tx.insertInto(ARRIVAL_CHECK)
                        .set(ARRIVAL_CHECK.WHO, checkSubject.who)
                        .set(ARRIVAL_CHECK.SETTING, checkSubject.setting)
                        .set(ARRIVAL_CHECK.WORKSPACE, checkSubject.workspace.orElse(null))
                        .set(ARRIVAL_CHECK.CHANGE, change)
                        .set(ARRIVAL_CHECK.WRITTEN, Schema.micros(writeRequest.at()))
                        .set(ARRIVAL_CHECK.WRITTEN_BY, writeRequest.actor())
                        .set(when, value)
                        .set(more)
                        .returningResult(ARRIVAL_CHECK.ID)
                        .fetchSingle(ARRIVAL_CHECK.ID));
    }

    /** Has the checks that a draft carries begin: it is published, as a change. */
    public static void begin(DSLContext tx, long draft, long change) {
        tx.update(ARRIVAL_CHECK)
                .set(ARRIVAL_CHECK.CHANGE, change)
                .set(
                        ARRIVAL_CHECK.DUE,
                        DSL.field(
                                "{0} + {1}",
                                SQLDataType.TIMESTAMPWITHTIMEZONE,
                                DSL.select(CHANGE.AT)
                                        .from(CHANGE)
                                        .where(CHANGE.NUMBER.eq(change))
                                        .asField(),
                                ARRIVAL_CHECK.WITHIN))
                .setNull(ARRIVAL_CHECK.DRAFT)
                .where(ARRIVAL_CHECK.DRAFT.eq(draft))
                .execute();
    }

    /** Notes what was found; of one that was looked at already nothing is noted. */
    public void found(WriteRequest writeRequest, long id, ArrivalCheck.CheckState state, Instant at, String words) {
        database.write(writeRequest, tx -> {
            tx.update(ARRIVAL_CHECK)
                    .set(ARRIVAL_CHECK.STATE, state.word())
                    .set(ARRIVAL_CHECK.LOOKED, Schema.micros(at))
                    .set(ARRIVAL_CHECK.WORDS, words)
                    .where(ARRIVAL_CHECK.ID.eq(id).and(waiting()))
                    .execute();
            return id;
        });
    }

    /** Takes a check away. */
    public long remove(WriteRequest writeRequest, long id) {
        return database.write(writeRequest, tx -> {
            tx.deleteFrom(ARRIVAL_CHECK).where(ARRIVAL_CHECK.ID.eq(id)).execute();
            return id;
        });
    }

    /** Those that wait and are due by an instant, the first due first. */
    public List<ArrivalCheck> due(Instant at, int most) {
        return list(waiting().and(ARRIVAL_CHECK.DUE.le(Schema.micros(at))), ARRIVAL_CHECK.DUE.asc(), most);
    }

    /** Of which checks one wants to know; of all, as far as nothing is said. */
    public record CheckQuery(
            Optional<String> who, Optional<String> setting, Optional<String> workspace, Optional<Long> draft) {}

    /** The latest of some, the newest first. */
    public List<ArrivalCheck> latest(CheckQuery checkQuery, int most) {
        // The database holds no text with this character, and cannot be asked for one.
        boolean none = Stream.of(checkQuery.who, checkQuery.setting, checkQuery.workspace)
                .flatMap(Optional::stream)
                .anyMatch(text -> text.indexOf(0) >= 0);
        if (none) return List.of();
        Condition which = DSL.and(Stream.of(
                        checkQuery.who.map(ARRIVAL_CHECK.WHO::eq),
                        checkQuery.setting.map(ARRIVAL_CHECK.SETTING::eq),
                        checkQuery.workspace.map(ARRIVAL_CHECK.WORKSPACE::eq),
                        checkQuery.draft.map(ARRIVAL_CHECK.DRAFT::eq))
                .flatMap(Optional::stream)
                .toList());
        return list(which, ARRIVAL_CHECK.ID.desc(), most);
    }

    /** Those that were looked at after an instant, the newest first. */
    public List<ArrivalCheck> lookedAtSince(Instant since, int most) {
        return list(ARRIVAL_CHECK.LOOKED.gt(Schema.micros(since)), ARRIVAL_CHECK.ID.desc(), most);
    }

    /** The check of this id. */
    public Optional<ArrivalCheck> find(long id) {
        return list(ARRIVAL_CHECK.ID.eq(id), ARRIVAL_CHECK.ID.asc(), 1).stream().findFirst();
    }

    private static Condition waiting() {
        return ARRIVAL_CHECK.STATE.eq(ArrivalCheck.CheckState.WAITING.word());
    }

    private <T> List<ArrivalCheck> list(Condition which, SortField<T> order, int most) {
        return database.read(on -> on.select(ARRIVAL_CHECK.fields())
                .from(ARRIVAL_CHECK)
                .where(which)
                .orderBy(order)
                .limit(most)
                .fetch(CheckTable::read));
    }

    private static ArrivalCheck read(Record row) {
        return new ArrivalCheck(
                row.get(ARRIVAL_CHECK.ID),
                row.get(ARRIVAL_CHECK.WHO),
                row.get(ARRIVAL_CHECK.SETTING),
                Optional.ofNullable(row.get(ARRIVAL_CHECK.WORKSPACE)),
                row.get(ARRIVAL_CHECK.CHANGE),
                Optional.ofNullable(row.get(ARRIVAL_CHECK.DRAFT)),
                row.get(ARRIVAL_CHECK.WRITTEN).toInstant(),
                row.get(ARRIVAL_CHECK.WRITTEN_BY),
                Optional.ofNullable(row.get(ARRIVAL_CHECK.DUE)).map(OffsetDateTime::toInstant),
                ArrivalCheck.CheckState.valueOf(row.get(ARRIVAL_CHECK.STATE).toUpperCase(Locale.ROOT)),
                Optional.ofNullable(row.get(ARRIVAL_CHECK.LOOKED)).map(OffsetDateTime::toInstant),
                Optional.ofNullable(row.get(ARRIVAL_CHECK.WORDS)));
    }
}
