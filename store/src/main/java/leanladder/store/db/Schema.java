package leanladder.store.db;

import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import org.jooq.Condition;
import org.jooq.Field;

/** What columns of several tables have in common. The tables themselves are generated from the migrations, into {@code leanladder.store.schema}. */
public final class Schema {
    private Schema() {}

    /** An instant as a column holds it. */
    public static OffsetDateTime micros(Instant at) {
        return at.truncatedTo(ChronoUnit.MICROS).atOffset(ZoneOffset.UTC);
    }

    /** The changes from which on, and until which, a row holds; one that holds now has no end. */
    public record Span(Field<Long> since, Field<Long> until) {
        /** The rows that held after one change and not after another, before or after it. */
        public Condition holdsOnlyAt(long number, long not) {
            return number < not
                    ? since.le(number).and(until.gt(number)).and(until.le(not))
                    : since.gt(not).and(since.le(number)).and(until.isNull().or(until.gt(number)));
        }

        /** The rows that held after a change. */
        public Condition holdsAt(long number) {
            return since.le(number).and(until.isNull().or(until.gt(number)));
        }
    }
}
