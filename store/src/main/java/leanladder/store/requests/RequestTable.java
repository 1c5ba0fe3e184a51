package leanladder.store.requests;

import static leanladder.store.schema.Tables.FEATURE_REQUEST;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.store.db.Database;
import leanladder.store.db.PgText;
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
                tx -> tx.insertInto(FEATURE_REQUEST)
                        .columns(
                                FEATURE_REQUEST.ACCOUNT,
                                FEATURE_REQUEST.SETTING,
                                FEATURE_REQUEST.WORKSPACE,
                                FEATURE_REQUEST.WANTED,
                                FEATURE_REQUEST.WORDS,
                                FEATURE_REQUEST.ASKED)
                        .values(
                                PgText.stored(account),
                                PgText.stored(setting),
                                workspace.map(PgText::stored).orElse(null),
                                JSON.valueOf(Json.write(wanted)),
                                PgText.stored(words),
                                Schema.micros(writeRequest.at()))
                        .onConflictDoNothing()
                        .returningResult(FEATURE_REQUEST.ID)
                        .fetchOptional(FEATURE_REQUEST.ID)
                        .orElseGet(() -> tx.select(FEATURE_REQUEST.ID)
                                .from(FEATURE_REQUEST)
                                .where(open().and(FEATURE_REQUEST.ACCOUNT.eq(PgText.stored(account)))
                                        .and(FEATURE_REQUEST.SETTING.eq(PgText.stored(setting)))
                                        .and(DSL.coalesce(FEATURE_REQUEST.WORKSPACE, "")
                                                .eq(workspace
                                                        .map(PgText::stored)
                                                        .orElse(""))))
                                .fetchSingle(FEATURE_REQUEST.ID)));
    }

    /** Answers a request with a sentence for the person; nothing happens where it is not open any more. */
    public long decline(WriteRequest writeRequest, long id, String by, String sentence) {
        return database.write(writeRequest, tx -> {
            tx.update(FEATURE_REQUEST)
                    .set(FEATURE_REQUEST.STATE, FeatureRequest.RequestState.DECLINED.word())
                    .set(FEATURE_REQUEST.ANSWERED, Schema.micros(writeRequest.at()))
                    .set(FEATURE_REQUEST.ANSWERED_BY, by)
                    .set(FEATURE_REQUEST.SENTENCE, sentence)
                    .where(open().and(FEATURE_REQUEST.ID.eq(id)))
                    .execute();
            return id;
        });
    }

    /** Notes that a change granted requests; of those that are not open any more nothing is noted. */
    public void grant(WriteRequest writeRequest, List<Long> ids, String by, Instant at, long change) {
        database.write(writeRequest, tx -> {
            tx.update(FEATURE_REQUEST)
                    .set(FEATURE_REQUEST.STATE, FeatureRequest.RequestState.GRANTED.word())
                    .set(FEATURE_REQUEST.ANSWERED, Schema.micros(at))
                    .set(FEATURE_REQUEST.ANSWERED_BY, by)
                    .set(FEATURE_REQUEST.CHANGE, change)
                    .where(open().and(FEATURE_REQUEST.ID.in(ids)))
                    .execute();
            return change;
        });
    }

    /** The request of this id. */
    public Optional<FeatureRequest> find(long id) {
        return list(FEATURE_REQUEST.ID.eq(id), FEATURE_REQUEST.ID.asc(), 1).stream()
                .findFirst();
    }

    /** A page of those that are open, the oldest first. @param after the id of the last one of the page before; 0 for the first page */
    public List<FeatureRequest> open(long after, int most) {
        return list(open().and(FEATURE_REQUEST.ID.gt(after)), FEATURE_REQUEST.ID.asc(), most);
    }

    /** Those that are open for a setting, the oldest first. */
    public List<FeatureRequest> openFor(String setting, int most) {
        return list(open().and(FEATURE_REQUEST.SETTING.eq(PgText.stored(setting))), FEATURE_REQUEST.ID.asc(), most);
    }

    /** The open requests of one setting. @param first the oldest of them @param last the id of the newest */
    public record OpenRequests(String setting, FeatureRequest first, long last, long count) {}

    /** All open requests by setting, the setting first that has waited longest. */
    public List<OpenRequests> openBySetting() {
        record Count(String setting, long first, long last, long count) {}
        List<Count> counts = database.read(on -> on.select(
                        FEATURE_REQUEST.SETTING, DSL.min(FEATURE_REQUEST.ID), DSL.max(FEATURE_REQUEST.ID), DSL.count())
                .from(FEATURE_REQUEST)
                .where(open())
                .groupBy(FEATURE_REQUEST.SETTING)
                .orderBy(DSL.min(FEATURE_REQUEST.ID))
                .fetch(row -> new Count(row.value1(), row.value2(), row.value3(), row.value4())));
        return counts.stream()
                .flatMap(c -> find(c.first).map(r -> new OpenRequests(c.setting, r, c.last, c.count)).stream())
                .toList();
    }

    /** Closes requests that nobody can answer any more, with a sentence for the person. */
    public void close(WriteRequest writeRequest, List<Long> ids, String sentence) {
        database.write(writeRequest, tx -> {
            tx.update(FEATURE_REQUEST)
                    .set(FEATURE_REQUEST.STATE, FeatureRequest.RequestState.CLOSED.word())
                    .set(FEATURE_REQUEST.ANSWERED, Schema.micros(writeRequest.at()))
                    .set(FEATURE_REQUEST.SENTENCE, sentence)
                    .where(open().and(FEATURE_REQUEST.ID.in(ids)))
                    .execute();
            return ids.size();
        });
    }

    /** All that were made before the one of an id, the newest first. */
    public List<FeatureRequest> before(long id, int most) {
        return list(FEATURE_REQUEST.ID.lt(id), FEATURE_REQUEST.ID.desc(), most);
    }

    /** Those of an account, the newest first. */
    public List<FeatureRequest> of(String account, int most) {
        return list(FEATURE_REQUEST.ACCOUNT.eq(PgText.stored(account)), FEATURE_REQUEST.ID.desc(), most);
    }

    private static Condition open() {
        return FEATURE_REQUEST.STATE.eq(FeatureRequest.RequestState.OPEN.word());
    }

    private List<FeatureRequest> list(Condition which, SortField<Long> order, int most) {
        return database.read(on -> on.select(FEATURE_REQUEST.fields())
                .from(FEATURE_REQUEST)
                .where(which)
                .orderBy(order)
                .limit(most)
                .fetch(RequestTable::read));
    }

    private static FeatureRequest read(Record row) {
        return new FeatureRequest(
                row.get(FEATURE_REQUEST.ID),
                PgText.read(row.get(FEATURE_REQUEST.ACCOUNT)),
                PgText.read(row.get(FEATURE_REQUEST.SETTING)),
                Optional.ofNullable(row.get(FEATURE_REQUEST.WORKSPACE)).map(PgText::read),
                Json.read(row.get(FEATURE_REQUEST.WANTED).data()),
                PgText.read(row.get(FEATURE_REQUEST.WORDS)),
                row.get(FEATURE_REQUEST.ASKED).toInstant(),
                FeatureRequest.RequestState.valueOf(
                        row.get(FEATURE_REQUEST.STATE).toUpperCase(Locale.ROOT)),
                Optional.ofNullable(row.get(FEATURE_REQUEST.ANSWERED)).map(OffsetDateTime::toInstant),
                Optional.ofNullable(row.get(FEATURE_REQUEST.ANSWERED_BY)),
                Optional.ofNullable(row.get(FEATURE_REQUEST.SENTENCE)),
                Optional.ofNullable(row.get(FEATURE_REQUEST.CHANGE)));
    }
}
