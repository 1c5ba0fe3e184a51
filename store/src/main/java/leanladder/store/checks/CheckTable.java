package leanladder.store.checks;

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
        return write(writeRequest, checkSubject, change, Schema.LOOKED_AT_FROM, Schema.micros(due), Map.of());
    }

    /** Writes a check into a draft: it is looked at so long after that is published; its id. */
    public long write(WriteRequest writeRequest, CheckSubject checkSubject, long change, long draft, Duration within) {
        return write(
                writeRequest,
                checkSubject,
                change,
                Schema.DRAFT_OF,
                draft,
                Map.of(Schema.WITHIN, YearToSecond.valueOf(within)));
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
                tx -> tx.insertInto(Schema.ARRIVAL_CHECK)
                        .set(Schema.WHO, checkSubject.who)
                        .set(Schema.SETTING, checkSubject.setting)
                        .set(Schema.WORKSPACE, checkSubject.workspace.orElse(null))
                        .set(Schema.AS_OF, change)
                        .set(Schema.WRITTEN, Schema.micros(writeRequest.at()))
                        .set(Schema.WRITTEN_BY, writeRequest.actor())
                        .set(when, value)
                        .set(more)
                        .returningResult(Schema.ID)
                        .fetchSingle(Schema.ID));
    }

    /** Has the checks that a draft carries begin: it is published, as a change. */
    public static void begin(DSLContext tx, long draft, long change) {
        tx.update(Schema.ARRIVAL_CHECK)
                .set(Schema.AS_OF, change)
                .set(
                        Schema.LOOKED_AT_FROM,
                        DSL.field(
                                "{0} + {1}",
                                SQLDataType.TIMESTAMPWITHTIMEZONE,
                                DSL.select(Schema.AT)
                                        .from(Schema.CHANGE)
                                        .where(Schema.NUMBER.eq(change))
                                        .asField(),
                                Schema.WITHIN))
                .setNull(Schema.DRAFT_OF)
                .where(Schema.DRAFT_OF.eq(draft))
                .execute();
    }

    /** Notes what was found; of one that was looked at already nothing is noted. */
    public void found(WriteRequest writeRequest, long id, ArrivalCheck.CheckState state, Instant at, String words) {
        database.write(writeRequest, tx -> {
            tx.update(Schema.ARRIVAL_CHECK)
                    .set(Schema.STATE, state.word())
                    .set(Schema.LOOKED, Schema.micros(at))
                    .set(Schema.SAID, words)
                    .where(Schema.ID.eq(id).and(waiting()))
                    .execute();
            return id;
        });
    }

    /** Takes a check away. */
    public long remove(WriteRequest writeRequest, long id) {
        return database.write(writeRequest, tx -> {
            tx.deleteFrom(Schema.ARRIVAL_CHECK).where(Schema.ID.eq(id)).execute();
            return id;
        });
    }

    /** Those that wait and are due by an instant, the first due first. */
    public List<ArrivalCheck> due(Instant at, int most) {
        return list(waiting().and(Schema.LOOKED_AT_FROM.le(Schema.micros(at))), Schema.LOOKED_AT_FROM.asc(), most);
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
                        checkQuery.who.map(Schema.WHO::eq),
                        checkQuery.setting.map(Schema.SETTING::eq),
                        checkQuery.workspace.map(Schema.WORKSPACE::eq),
                        checkQuery.draft.map(Schema.DRAFT_OF::eq))
                .flatMap(Optional::stream)
                .toList());
        return list(which, Schema.ID.desc(), most);
    }

    /** Those that were looked at after an instant, the newest first. */
    public List<ArrivalCheck> lookedAtSince(Instant since, int most) {
        return list(Schema.LOOKED.gt(Schema.micros(since)), Schema.ID.desc(), most);
    }

    /** The check of this id. */
    public Optional<ArrivalCheck> find(long id) {
        return list(Schema.ID.eq(id), Schema.ID.asc(), 1).stream().findFirst();
    }

    private static Condition waiting() {
        return Schema.STATE.eq(ArrivalCheck.CheckState.WAITING.word());
    }

    private <T> List<ArrivalCheck> list(Condition which, SortField<T> order, int most) {
        return database.read(on -> on.select(Schema.ARRIVAL_CHECK_COLUMNS)
                .from(Schema.ARRIVAL_CHECK)
                .where(which)
                .orderBy(order)
                .limit(most)
                .fetch(CheckTable::read));
    }

    private static ArrivalCheck read(Record row) {
        return new ArrivalCheck(
                row.get(Schema.ID),
                row.get(Schema.WHO),
                row.get(Schema.SETTING),
                Optional.ofNullable(row.get(Schema.WORKSPACE)),
                row.get(Schema.AS_OF),
                Optional.ofNullable(row.get(Schema.DRAFT_OF)),
                row.get(Schema.WRITTEN).toInstant(),
                row.get(Schema.WRITTEN_BY),
                Optional.ofNullable(row.get(Schema.LOOKED_AT_FROM)).map(OffsetDateTime::toInstant),
                ArrivalCheck.CheckState.valueOf(row.get(Schema.STATE).toUpperCase(Locale.ROOT)),
                Optional.ofNullable(row.get(Schema.LOOKED)).map(OffsetDateTime::toInstant),
                Optional.ofNullable(row.get(Schema.SAID)));
    }
}
