package leanladder.store.calendars;

import static leanladder.store.schema.Tables.CALENDAR;

import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.Optional;
import leanladder.store.db.Database;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import org.jooq.Condition;

/** Calendars of what comes, and the secrets by which they are found. */
public final class CalendarTable {
    private final Database database;

    /** The calendars in a database. */
    public CalendarTable(Database database) {
        this.database = database;
    }

    /**
     * A calendar.
     *
     * @param scope whose it is: {@code everyone}, {@code ring:ID}, {@code unit:ID} or {@code account:ID}
     * @param secret by which it is found
     * @param made when the secret was
     */
    public record Calendar(long id, String scope, String secret, Instant made) {}

    /** The calendar of this scope, where one was made. */
    public Optional<Calendar> of(String scope) {
        return find(CALENDAR.SCOPE.eq(scope));
    }

    /** The calendar that is found by this secret. */
    public Optional<Calendar> by(String secret) {
        return find(CALENDAR.SECRET.eq(secret));
    }

    /** The calendar of this id. */
    public Optional<Calendar> find(long id) {
        return find(CALENDAR.ID.eq(id));
    }

    private Optional<Calendar> find(Condition which) {
        return database.read(on -> on.select(CALENDAR.ID, CALENDAR.SCOPE, CALENDAR.SECRET, CALENDAR.MADE)
                .from(CALENDAR)
                .where(which)
                .fetchOptional(row -> new Calendar(
                        row.value1(), row.value2(), row.value3(), row.value4().toInstant())));
    }

    /** Makes the calendar of a scope, or gives it another secret; who knows the one before finds it no more. Its id. */
    public long renew(WriteRequest writeRequest, String scope, String secret) {
        OffsetDateTime made = Schema.micros(writeRequest.at());
        return database.write(
                writeRequest,
                tx -> tx.insertInto(CALENDAR)
                        .columns(CALENDAR.SCOPE, CALENDAR.SECRET, CALENDAR.MADE)
                        .values(scope, secret, made)
                        .onConflict(CALENDAR.SCOPE)
                        .doUpdate()
                        .set(CALENDAR.SECRET, secret)
                        .set(CALENDAR.MADE, made)
                        .returningResult(CALENDAR.ID)
                        .fetchOne(CALENDAR.ID));
    }
}
