package leanladder.store.requests;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.store.db.Database;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import org.jooq.Condition;
import org.jooq.JSON;
import org.jooq.Record;
import org.jooq.SortField;
import org.jooq.impl.DSL;

/** What people ask for, and what became of it. */
public final class RequestTable {
    private final Database database;

    /** The requests in a database. */
    public RequestTable(Database database) {
        this.database = database;
    }

    /**
     * Keeps what somebody asks for; where the same is open already, that one stands.
     *
     * @return its id
     */
    public long ask(
            WriteRequest writeRequest,
            String account,
            String setting,
            Optional<String> workspace,
            JsonNode wanted,
            String words) {
        return database.write(
                writeRequest,
                tx -> tx.insertInto(Schema.FEATURE_REQUEST)
                        .columns(
                                Schema.ACCOUNT,
                                Schema.SETTING,
                                Schema.WORKSPACE,
                                Schema.WANTED,
                                Schema.SAID,
                                Schema.ASKED)
                        .values(
                                account,
                                setting,
                                workspace.orElse(null),
                                JSON.valueOf(Json.write(wanted)),
                                words,
                                Schema.micros(writeRequest.at()))
                        .onConflictDoNothing()
                        .returningResult(Schema.ID)
                        .fetchOptional(Schema.ID)
                        .orElseGet(() -> tx.select(Schema.ID)
                                .from(Schema.FEATURE_REQUEST)
                                .where(open().and(Schema.ACCOUNT.eq(account))
                                        .and(Schema.SETTING.eq(setting))
                                        .and(DSL.coalesce(Schema.WORKSPACE, "").eq(workspace.orElse(""))))
                                .fetchSingle(Schema.ID)));
    }

    /** Answers a request with a sentence for the person; nothing happens where it is not open any more. */
    public long decline(WriteRequest writeRequest, long id, String by, String sentence) {
        return database.write(writeRequest, tx -> {
            tx.update(Schema.FEATURE_REQUEST)
                    .set(Schema.STATE, FeatureRequest.RequestState.DECLINED.word())
                    .set(Schema.ANSWERED, Schema.micros(writeRequest.at()))
                    .set(Schema.ANSWERED_BY, by)
                    .set(Schema.SENTENCE, sentence)
                    .where(open().and(Schema.ID.eq(id)))
                    .execute();
            return id;
        });
    }

    /** Notes that a change granted requests; of those that are not open any more nothing is noted. */
    public void grant(WriteRequest writeRequest, List<Long> ids, String by, Instant at, long change) {
        database.write(writeRequest, tx -> {
            tx.update(Schema.FEATURE_REQUEST)
                    .set(Schema.STATE, FeatureRequest.RequestState.GRANTED.word())
                    .set(Schema.ANSWERED, Schema.micros(at))
                    .set(Schema.ANSWERED_BY, by)
                    .set(Schema.GRANTED_BY, change)
                    .where(open().and(Schema.ID.in(ids)))
                    .execute();
            return change;
        });
    }

    /** The request of this id. */
    public Optional<FeatureRequest> find(long id) {
        return list(Schema.ID.eq(id), Schema.ID.asc(), 1).stream().findFirst();
    }

    /** A page of those that are open, the oldest first. @param after the id of the last one of the page before; 0 for the first page */
    public List<FeatureRequest> open(long after, int most) {
        return list(open().and(Schema.ID.gt(after)), Schema.ID.asc(), most);
    }

    /** Those that are open for a setting, the oldest first. */
    public List<FeatureRequest> openFor(String setting, int most) {
        return list(open().and(Schema.SETTING.eq(setting)), Schema.ID.asc(), most);
    }

    /** The open requests of one setting. @param first the oldest of them @param last the id of the newest */
    public record OpenRequests(String setting, FeatureRequest first, long last, long count) {}

    /** All open requests by setting, the setting first that has waited longest. */
    public List<OpenRequests> openBySetting() {
        record Count(String setting, long first, long last, long count) {}
        List<Count> counts =
                database.read(on -> on.select(Schema.SETTING, DSL.min(Schema.ID), DSL.max(Schema.ID), DSL.count())
                        .from(Schema.FEATURE_REQUEST)
                        .where(open())
                        .groupBy(Schema.SETTING)
                        .orderBy(DSL.min(Schema.ID))
                        .fetch(row -> new Count(row.value1(), row.value2(), row.value3(), row.value4())));
        return counts.stream()
                .flatMap(c -> find(c.first).map(r -> new OpenRequests(c.setting, r, c.last, c.count)).stream())
                .toList();
    }

    /** Closes requests that nobody can answer any more, with a sentence for the person. */
    public void close(WriteRequest writeRequest, List<Long> ids, String sentence) {
        database.write(writeRequest, tx -> {
            tx.update(Schema.FEATURE_REQUEST)
                    .set(Schema.STATE, FeatureRequest.RequestState.CLOSED.word())
                    .set(Schema.ANSWERED, Schema.micros(writeRequest.at()))
                    .set(Schema.SENTENCE, sentence)
                    .where(open().and(Schema.ID.in(ids)))
                    .execute();
            return ids.size();
        });
    }

    /** All that were made before the one of an id, the newest first. */
    public List<FeatureRequest> before(long id, int most) {
        return list(Schema.ID.lt(id), Schema.ID.desc(), most);
    }

    /** Those of an account, the newest first. */
    public List<FeatureRequest> of(String account, int most) {
        return list(Schema.ACCOUNT.eq(account), Schema.ID.desc(), most);
    }

    private static Condition open() {
        return Schema.STATE.eq(FeatureRequest.RequestState.OPEN.word());
    }

    private List<FeatureRequest> list(Condition which, SortField<Long> order, int most) {
        return database.read(on -> on.select(Schema.FEATURE_REQUEST_COLUMNS)
                .from(Schema.FEATURE_REQUEST)
                .where(which)
                .orderBy(order)
                .limit(most)
                .fetch(RequestTable::read));
    }

    private static FeatureRequest read(Record row) {
        return new FeatureRequest(
                row.get(Schema.ID),
                row.get(Schema.ACCOUNT),
                row.get(Schema.SETTING),
                Optional.ofNullable(row.get(Schema.WORKSPACE)),
                Json.read(row.get(Schema.WANTED).data()),
                row.get(Schema.SAID),
                row.get(Schema.ASKED).toInstant(),
                FeatureRequest.RequestState.valueOf(row.get(Schema.STATE).toUpperCase(Locale.ROOT)),
                Optional.ofNullable(row.get(Schema.ANSWERED)).map(OffsetDateTime::toInstant),
                Optional.ofNullable(row.get(Schema.ANSWERED_BY)),
                Optional.ofNullable(row.get(Schema.SENTENCE)),
                Optional.ofNullable(row.get(Schema.GRANTED_BY)));
    }
}
