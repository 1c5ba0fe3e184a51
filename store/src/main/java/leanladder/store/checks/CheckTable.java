package leanladder.store.checks;

import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import leanladder.store.db.Database;
import leanladder.store.db.Request;
import leanladder.store.db.Schema;
import org.jooq.Condition;
import org.jooq.Record;
import org.jooq.SortField;

/** Checks, and what was found. */
public final class CheckTable {
    private final Database database;

    /** The checks in a database. */
    public CheckTable(Database database) {
        this.database = database;
    }

    /** Writes a check; its id. */
    public long write(Request request, String who, String setting, long change, String by, Instant due) {
        return database.write(
                request,
                tx -> tx.insertInto(Schema.ARRIVAL_CHECK)
                        .columns(
                                Schema.WHO,
                                Schema.SETTING,
                                Schema.AS_OF,
                                Schema.WRITTEN,
                                Schema.WRITTEN_BY,
                                Schema.LOOKED_AT_FROM)
                        .values(who, setting, change, Schema.micros(request.at()), by, Schema.micros(due))
                        .returningResult(Schema.ID)
                        .fetchSingle(Schema.ID));
    }

    /** Notes what was found; of one that was looked at already nothing is noted. */
    public void found(Request request, long id, ArrivalCheck.CheckState state, Instant at, String words) {
        database.write(request, tx -> {
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
    public long remove(Request request, long id) {
        return database.write(request, tx -> {
            tx.deleteFrom(Schema.ARRIVAL_CHECK).where(Schema.ID.eq(id)).execute();
            return id;
        });
    }

    /** Those that wait and are due by an instant, the first due first. */
    public List<ArrivalCheck> due(Instant at, int most) {
        return list(waiting().and(Schema.LOOKED_AT_FROM.le(Schema.micros(at))), Schema.LOOKED_AT_FROM.asc(), most);
    }

    /** The latest, the newest first. */
    public List<ArrivalCheck> latest(int most) {
        return list(Schema.ID.isNotNull(), Schema.ID.desc(), most);
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
                row.get(Schema.AS_OF),
                row.get(Schema.WRITTEN).toInstant(),
                row.get(Schema.WRITTEN_BY),
                row.get(Schema.LOOKED_AT_FROM).toInstant(),
                ArrivalCheck.CheckState.valueOf(row.get(Schema.STATE).toUpperCase(Locale.ROOT)),
                Optional.ofNullable(row.get(Schema.LOOKED)).map(OffsetDateTime::toInstant),
                Optional.ofNullable(row.get(Schema.SAID)));
    }
}
