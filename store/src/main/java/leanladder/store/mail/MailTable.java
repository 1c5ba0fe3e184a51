package leanladder.store.mail;

import java.time.Instant;
import java.util.List;
import leanladder.store.db.Database;
import leanladder.store.db.Request;
import leanladder.store.db.Schema;

/** Texts to people, from when they are written until they are handed over. */
public final class MailTable {
    private static final int MOST_TRIES = 12;

    private final Database database;

    /** The texts in a database. */
    public MailTable(Database database) {
        this.database = database;
    }

    /** A text that waits. @param tries how often it could not be handed over */
    public record Waiting(long id, String key, String address, String name, String subject, String body, int tries) {}

    /** Keeps a text until it is handed over; what has the same key was written already, and stays as it is. */
    public void put(Request request, String key, String address, String name, String subject, String body) {
        database.write(request, tx -> {
            tx.insertInto(Schema.OUTGOING_MAIL)
                    .columns(
                            Schema.KEY,
                            Schema.ADDRESS,
                            Schema.NAME,
                            Schema.SUBJECT,
                            Schema.MAIL_BODY,
                            Schema.MADE,
                            Schema.DUE)
                    .values(key, address, name, subject, body, Schema.micros(request.at()), Schema.micros(request.at()))
                    .onConflictDoNothing()
                    .execute();
            return 0L;
        });
    }

    /** Those that are to be handed over by an instant; what failed too often is given up. */
    public List<Waiting> due(Instant at, int most) {
        return database.read(on -> on.select(
                        Schema.ID,
                        Schema.KEY,
                        Schema.ADDRESS,
                        Schema.NAME,
                        Schema.SUBJECT,
                        Schema.MAIL_BODY,
                        Schema.TRIES)
                .from(Schema.OUTGOING_MAIL)
                .where(Schema.SENT
                        .isNull()
                        .and(Schema.DUE.le(Schema.micros(at)))
                        .and(Schema.TRIES.lt(MOST_TRIES)))
                .orderBy(Schema.ID)
                .limit(most)
                .fetch(row -> new Waiting(
                        row.value1(),
                        row.value2(),
                        row.value3(),
                        row.value4(),
                        row.value5(),
                        row.value6(),
                        row.value7())));
    }

    /** Notes that one was handed over. */
    public void sent(Request request, long id) {
        database.write(request, tx -> {
            tx.update(Schema.OUTGOING_MAIL)
                    .set(Schema.SENT, Schema.micros(request.at()))
                    .setNull(Schema.TROUBLE)
                    .where(Schema.ID.eq(id))
                    .execute();
            return id;
        });
    }

    /** Notes that one could not be handed over, and why, and when it is tried again. */
    public void failed(Request request, long id, String trouble, Instant again) {
        database.write(request, tx -> {
            tx.update(Schema.OUTGOING_MAIL)
                    .set(Schema.TRIES, Schema.TRIES.plus(1))
                    .set(Schema.TROUBLE, trouble)
                    .set(Schema.DUE, Schema.micros(again))
                    .where(Schema.ID.eq(id))
                    .execute();
            return id;
        });
    }
}
