package leanladder.store.mail;

import static leanladder.store.schema.Tables.OUTGOING_MAIL;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import leanladder.store.db.Database;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import org.jooq.DSLContext;
import org.jooq.impl.DSL;

/** Texts to people, from when they are written until they are handed over. */
public final class MailTable {
    private static final int MOST_TRIES = 12;
    private static final int AT_ONCE = 1000;

    private final Database database;

    /** The texts in a database. */
    public MailTable(Database database) {
        this.database = database;
    }

    /** A text that waits. @param tries how often it could not be handed over */
    public record PendingMail(
            long id, String key, String address, String name, String subject, String body, int tries) {}

    /** A text that was written. @param key of which there is only one */
    public record NewMail(String key, String address, String name, String subject, String body) {}

    /** Keeps texts until they are handed over; what has the same key was written already, and stays as it is. How many are new. */
    public long put(WriteRequest writeRequest, List<NewMail> texts) {
        return database.write(writeRequest, tx -> record(tx, writeRequest.at(), texts));
    }

    /** Keeps texts as part of a transaction, so that they are kept if and only if it is committed. How many are new. */
    public static long record(DSLContext tx, Instant at, List<NewMail> texts) {
        long fresh = 0;
        for (int i = 0; i < texts.size(); i += AT_ONCE) {
            var insert = tx.insertInto(OUTGOING_MAIL)
                    .columns(
                            OUTGOING_MAIL.KEY,
                            OUTGOING_MAIL.ADDRESS,
                            OUTGOING_MAIL.NAME,
                            OUTGOING_MAIL.SUBJECT,
                            OUTGOING_MAIL.BODY,
                            OUTGOING_MAIL.MADE,
                            OUTGOING_MAIL.DUE);
            for (NewMail text : texts.subList(i, Math.min(texts.size(), i + AT_ONCE)))
                insert = insert.values(
                        text.key,
                        text.address,
                        text.name,
                        text.subject,
                        text.body,
                        Schema.micros(at),
                        Schema.micros(at));
            fresh += insert.onConflictDoNothing().execute();
        }
        return fresh;
    }

    /** Texts that the mail server does not take. @param trouble what it said @param ended whether they are given up */
    public record UndeliveredMail(String trouble, long texts, boolean ended, Instant since) {}

    /** What could not be handed over so far, by what the mail server said, of texts that were written since an instant. */
    public List<UndeliveredMail> stuck(Instant since) {
        var ended = DSL.field(OUTGOING_MAIL.TRIES.ge(DSL.inline(MOST_TRIES)));
        return database.read(on -> on.select(OUTGOING_MAIL.TROUBLE, DSL.count(), ended, DSL.min(OUTGOING_MAIL.MADE))
                .from(OUTGOING_MAIL)
                .where(OUTGOING_MAIL
                        .SENT
                        .isNull()
                        .and(OUTGOING_MAIL.TROUBLE.isNotNull())
                        .and(OUTGOING_MAIL.MADE.ge(Schema.micros(since))))
                .groupBy(OUTGOING_MAIL.TROUBLE, ended)
                .orderBy(DSL.min(OUTGOING_MAIL.MADE))
                .fetch(row -> new UndeliveredMail(
                        row.value1(), row.value2(), row.value3(), row.value4().toInstant())));
    }

    /** Those that are to be handed over by an instant; what failed too often is given up. */
    public List<PendingMail> due(Instant at, int most) {
        return database.read(on -> on.select(
                        OUTGOING_MAIL.ID,
                        OUTGOING_MAIL.KEY,
                        OUTGOING_MAIL.ADDRESS,
                        OUTGOING_MAIL.NAME,
                        OUTGOING_MAIL.SUBJECT,
                        OUTGOING_MAIL.BODY,
                        OUTGOING_MAIL.TRIES)
                .from(OUTGOING_MAIL)
                .where(OUTGOING_MAIL
                        .SENT
                        .isNull()
                        .and(OUTGOING_MAIL.DUE.le(Schema.micros(at)))
                        .and(OUTGOING_MAIL.TRIES.lt(MOST_TRIES)))
                .orderBy(OUTGOING_MAIL.ID)
                .limit(most)
                .fetch(row -> new PendingMail(
                        row.value1(),
                        row.value2(),
                        row.value3(),
                        row.value4(),
                        row.value5(),
                        row.value6(),
                        row.value7())));
    }

    /**
     * Claims one before it is handed over: it counts as tried, and is due again only after a pause. Where this cannot be stored it must not be
     * handed over, since nobody would know of it.
     *
     * @param again when it is tried again, should it never be said what became of it
     */
    public void claim(WriteRequest writeRequest, long id, Instant again) {
        database.write(writeRequest, tx -> {
            tx.update(OUTGOING_MAIL)
                    .set(OUTGOING_MAIL.TRIES, OUTGOING_MAIL.TRIES.plus(1))
                    .set(OUTGOING_MAIL.DUE, Schema.micros(again))
                    .where(OUTGOING_MAIL.ID.eq(id))
                    .execute();
            return id;
        });
    }

    /** Notes that these were handed over. */
    public void sent(WriteRequest writeRequest, Collection<Long> ids) {
        database.write(writeRequest, tx -> {
            tx.update(OUTGOING_MAIL)
                    .set(OUTGOING_MAIL.SENT, Schema.micros(writeRequest.at()))
                    .setNull(OUTGOING_MAIL.TROUBLE)
                    .where(OUTGOING_MAIL.ID.in(ids))
                    .execute();
            return ids.size();
        });
    }

    /** Notes why one that was claimed could not be handed over. */
    public void failed(WriteRequest writeRequest, long id, String trouble) {
        database.write(writeRequest, tx -> {
            tx.update(OUTGOING_MAIL)
                    .set(OUTGOING_MAIL.TROUBLE, trouble)
                    .where(OUTGOING_MAIL.ID.eq(id))
                    .execute();
            return id;
        });
    }

    /** Gives one up: it can never be handed over. */
    public void giveUp(WriteRequest writeRequest, long id, String trouble) {
        database.write(writeRequest, tx -> {
            tx.update(OUTGOING_MAIL)
                    .set(OUTGOING_MAIL.TRIES, MOST_TRIES)
                    .set(OUTGOING_MAIL.TROUBLE, trouble)
                    .where(OUTGOING_MAIL.ID.eq(id))
                    .execute();
            return id;
        });
    }
}
