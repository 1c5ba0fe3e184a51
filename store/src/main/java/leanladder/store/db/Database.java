package leanladder.store.db;

import static leanladder.store.schema.Tables.REQUEST;

import com.fasterxml.jackson.databind.JsonNode;
import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import com.zaxxer.hikari.HikariPoolMXBean;
import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.json.Json;
import org.flywaydb.core.Flyway;
import org.flywaydb.core.api.MigrationInfo;
import org.flywaydb.core.api.MigrationState;
import org.jooq.DSLContext;
import org.jooq.JSON;
import org.jooq.SQLDialect;
import org.jooq.TransactionalCallable;
import org.jooq.conf.Settings;
import org.jooq.exception.DataAccessException;
import org.jooq.impl.DSL;
import org.jspecify.annotations.Nullable;

/**
 * The connection to PostgreSQL. Reading goes through {@link #read}; each write is one transaction under the key of its request, see
 * {@link #write}. When the database does not answer, both say so within seconds by {@link DatabaseUnavailableException}.
 */
public final class Database implements AutoCloseable {
    private static final int CONNECTIONS = 8;
    private static final long CONNECT_MILLIS = 1500;
    private static final long VALID_MILLIS = 1000;
    private static final int READ_MILLIS = 5000;
    private static final int WRITE_SECONDS = 30;
    private static final long ASKED_FOR = TimeUnit.MILLISECONDS.toNanos(1500);
    private static final String DATABASE = "the database";
    private static final String DISK_FULL = "53100";
    private static final String READ_ONLY = "25006";
    private static final String PAUSED_TOO_LONG = "25P03";
    private static final int PAUSED_SECONDS = 4;
    private static final long PAUSE = TimeUnit.MILLISECONDS.toNanos(200);

    private static final long LATELY = TimeUnit.SECONDS.toNanos(2);
    private static final long ASKED_AGAIN_AFTER = TimeUnit.MILLISECONDS.toNanos(500);
    /** How many requests that were carried out are known without asking. */
    private static final int REMEMBERED = 10_000;

    private final String url;
    private final String user;
    private final String password;
    private final HikariDataSource source;
    private final DSLContext db;
    private volatile @Nullable DatabaseUnavailableException away;
    private volatile long awaySince;
    private volatile long heard = System.nanoTime();
    private volatile Storing storing = Storing.STORES;
    private final Set<String> stored = Collections.newSetFromMap(Collections.synchronizedMap(new LinkedHashMap<>() {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Boolean> eldest) {
            return size() > REMEMBERED;
        }
    }));

    /**
     * Connects and brings the tables up to date.
     *
     * @param url a JDBC address of a database that this program has to itself, or shares with its like
     */
    public Database(String url, String user, String password) {
        this.url = url;
        this.user = user;
        this.password = password;
        HikariConfig config = new HikariConfig();
        config.setJdbcUrl(url);
        config.setUsername(user);
        config.setPassword(password);
        config.setMaximumPoolSize(CONNECTIONS);
        config.setConnectionTimeout(CONNECT_MILLIS);
        config.setValidationTimeout(VALID_MILLIS);
        // A database that is there and says nothing is as good as away.
        config.addDataSourceProperty("socketTimeout", Integer.toString(WRITE_SECONDS));
        config.addDataSourceProperty("reWriteBatchedInserts", "true");
        // A server that is paused in the middle of a write must not keep the others from theirs.
        config.setConnectionInitSql("set idle_in_transaction_session_timeout = '" + PAUSED_SECONDS + "s'");
        source = new HikariDataSource(config);
        try {
            migrate();
        } catch (RuntimeException e) {
            source.close();
            throw e;
        }
        db = DSL.using(source, SQLDialect.POSTGRES, new Settings().withExecuteLogging(false));
    }

    /** Brings the tables up to date. Tables that a newer program has altered are left alone. */
    private void migrate() {
        Flyway flyway = Flyway.configure().dataSource(url, user, password).load();
        for (MigrationInfo applied : flyway.info().applied())
            if (applied.getState() == MigrationState.FUTURE_SUCCESS)
                throw new IllegalStateException(
                        "The database was altered by a newer Lean Ladder, whose tables have version "
                                + applied.getVersion()
                                + "; this one does not know them. Update this program, or restore a backup from before. Nothing was changed.");
        flyway.migrate();
    }

    @Override
    public void close() {
        source.close();
    }

    /** A connection of one's own, which the pool does not count. */
    public Connection connect() throws SQLException {
        return DriverManager.getConnection(url, user, password);
    }

    /**
     * Reads.
     *
     * @throws DatabaseUnavailableException when the database does not answer
     */
    public <T> T read(Function<DSLContext, T> question) {
        failFastIfDown();
        try {
            T answer = RequestTimings.on(DATABASE, () -> query(question));
            heard();
            return answer;
        } catch (RuntimeException e) {
            throw isAway(e) ? unavailable(e) : e;
        }
    }

    /** On one connection, whose answers are not waited for longer than a read may take. */
    private <T> T query(Function<DSLContext, T> question) {
        try (Connection connection = source.getConnection()) {
            connection.setNetworkTimeout(Runnable::run, READ_MILLIS);
            return question.apply(DSL.using(connection, SQLDialect.POSTGRES, db.settings()));
        } catch (SQLException e) {
            throw new DataAccessException("There is no connection to the database", e);
        }
    }

    /** Whoever asks right after it was found away is told at once; one after the other would wait in vain. */
    private void failFastIfDown() {
        DatabaseUnavailableException lately = away;
        if (lately == null) return;
        if (System.nanoTime() - awaySince < ASKED_AGAIN_AFTER)
            throw new DatabaseUnavailableException(String.valueOf(lately.getMessage()), lately.getCause());
        away = null;
    }

    /** It has answered just now, here or on a connection that the pool does not count. */
    public void heard() {
        heard = System.nanoTime();
        away = null;
    }

    /** Says that no connection could be made: reads and writes are refused at once until it is heard of again. */
    public void noticeFailure(Exception failure) {
        if (!isAway(failure)) return;
        awaySince = System.nanoTime();
        away = new DatabaseUnavailableException("The database does not answer", failure);
    }

    /** Whether it was found away, and not found back yet. */
    public boolean isAwayNow() {
        return away != null;
    }

    /** How the last attempt to store something ended. */
    public enum Storing {
        STORES,
        DISK_FULL,
        READ_ONLY
    }

    /** How the last attempt to store something ended, as far as the database answered it. */
    public Storing storing() {
        return storing;
    }

    /** Connections: in use, idle, and how many wait for one. */
    public record Connections(int active, int idle, int waiting) {}

    /** How the connections are used. */
    public Connections connections() {
        HikariPoolMXBean pool = source.getHikariPoolMXBean();
        return new Connections(
                pool.getActiveConnections(), pool.getIdleConnections(), pool.getThreadsAwaitingConnection());
    }

    private DatabaseUnavailableException unavailable(RuntimeException e) {
        DatabaseUnavailableException databaseUnavailableException =
                new DatabaseUnavailableException("The database does not answer", e);
        if (isUnreachable(e)) {
            if (isBusy()) return new DatabaseUnavailableException.BusyException(e);
            awaySince = System.nanoTime();
            away = databaseUnavailableException;
        }
        return databaseUnavailableException;
    }

    /** Whether there is no connection because all are in use, by a database that answers. */
    private boolean isBusy() {
        return source.getHikariPoolMXBean().getActiveConnections() == CONNECTIONS && System.nanoTime() - heard < LATELY;
    }

    private static boolean isUnreachable(Throwable failure) {
        for (Throwable e = failure; e != null && e.getCause() != e; e = e.getCause())
            if (e instanceof SQLTransientConnectionException) return true;
        return false;
    }

    /**
     * Reads from one moment, in one transaction.
     *
     * @throws IOException when whoever takes what is read cannot
     */
    public <T> T readSnapshot(Reading<T> reading) throws IOException {
        failFastIfDown();
        try {
            return inTransaction(configuration -> {
                DSLContext tx = configuration.dsl();
                tx.execute("set transaction isolation level repeatable read, read only");
                disableTimeouts(tx);
                return reading.from(tx);
            });
        } catch (RuntimeException e) {
            if (e.getCause() instanceof IOException io) throw io;
            throw isAway(e) ? unavailable(e) : e;
        }
    }

    /** In a transaction on one connection: where there is none, it is asked for once and not again in order to roll back. */
    private <T> T inTransaction(TransactionalCallable<T> work) {
        long began = System.nanoTime();
        try (Connection connection = source.getConnection()) {
            return DSL.using(connection, SQLDialect.POSTGRES, db.settings()).transactionResult(work);
        } catch (SQLException e) {
            throw new DataAccessException("There is no connection to the database", e);
        } finally {
            RequestTimings.add(DATABASE, System.nanoTime() - began);
        }
    }

    /** What is read in one transaction. */
    @FunctionalInterface
    public interface Reading<T> {
        T from(DSLContext tx) throws IOException;
    }

    /** Lets this transaction, and each answer in it, take as long as it takes: a whole estate is moved, and worked on in between. */
    public static void disableTimeouts(DSLContext tx) {
        tx.execute("set local idle_in_transaction_session_timeout = 0");
        tx.connection(connection -> connection.setNetworkTimeout(Runnable::run, 0));
    }

    /** What is written in one transaction; gives the number of the change, or the id of the draft, that is written. */
    @FunctionalInterface
    public interface Writing {
        long with(DSLContext tx) throws Exception;
    }

    /**
     * Writes in one transaction, whose key goes with it: where the answer to its COMMIT is lost, what became of it is found out.
     *
     * @return what the writing gave
     * @throws DuplicateRequestException when a request with this key was carried out before; nothing is written
     * @throws DatabaseUnavailableException when the database does not answer; nothing is written
     * @throws DatabaseUnavailableException.Unknown when it went away and could not be asked whether it was written
     */
    public long write(WriteRequest writeRequest, Writing writing) {
        failFastIfDown();
        boolean[] committing = {false};
        try {
            long written = inTransaction(configuration -> {
                long reference = write(configuration.dsl(), writeRequest, writing);
                committing[0] = true;
                return reference;
            });
            heard();
            storing = Storing.STORES;
            remember(writeRequest);
            return written;
        } catch (RuntimeException e) {
            if (e.getCause() instanceof DuplicateRequestException duplicateRequestException)
                throw duplicateRequestException;
            if (isFull(e)) storing = Storing.DISK_FULL;
            if (isReadOnly(e)) storing = Storing.READ_ONLY;
            if (!isAway(e)) throw e;
            // What was not yet to be committed was not; nothing needs to be found out.
            if (!committing[0]) throw unavailable(e);
            long written = lookUpOutcome(writeRequest.key(), e)
                    .orElseThrow(() -> new DatabaseUnavailableException("The database does not answer", e));
            remember(writeRequest);
            return written;
        }
    }

    private void remember(WriteRequest writeRequest) {
        writeRequest.all().forEach(one -> stored.add(one.key()));
    }

    /** Whether the request of this key was carried out from here a while ago; the database is not asked. */
    public boolean hasStored(String key) {
        return stored.contains(key);
    }

    private static long write(DSLContext tx, WriteRequest writeRequest, Writing writing) throws Exception {
        String[] keys = writeRequest.all().stream().map(WriteRequest::key).toArray(String[]::new);
        lock(tx, keys);
        var before = tx.select(REQUEST.KEY, REQUEST.REFERENCE)
                .from(REQUEST)
                .where(REQUEST.KEY.in(keys))
                .limit(1)
                .fetchOptional();
        if (before.isPresent())
            throw new DuplicateRequestException(
                    before.get().value1(), before.get().value2());
        long reference = writing.with(tx);
        var rows = tx.insertInto(REQUEST)
                .columns(REQUEST.KEY, REQUEST.ACTOR, REQUEST.FINGERPRINT, REQUEST.AT, REQUEST.REFERENCE);
        for (WriteRequest one : writeRequest.all())
            rows = rows.values(one.key(), one.actor(), one.fingerprint(), Schema.micros(one.at()), reference);
        rows.execute();
        return reference;
    }

    /** Waits for whoever carries out requests with these keys, one after the other in their order. */
    private static void lock(DSLContext tx, String... keys) {
        tx.execute("select pg_advisory_xact_lock(hashtextextended(k, 0)) from unnest(?) as k", (Object) keys);
    }

    private static Optional<Long> reference(DSLContext on, String key) {
        return on.select(REQUEST.REFERENCE)
                .from(REQUEST)
                .where(REQUEST.KEY.eq(key))
                .fetchOptional(REQUEST.REFERENCE);
    }

    /**
     * What became of a request whose answer was lost. Its transaction holds the lock of its key as long as it may still be
     * committed, so that whoever holds the lock knows. It is not asked for long: whoever sends the request again is told.
     */
    private Optional<Long> lookUpOutcome(String key, RuntimeException lost) {
        long until = System.nanoTime() + ASKED_FOR;
        do {
            try {
                return inTransaction(configuration -> {
                    lock(configuration.dsl(), key);
                    return reference(configuration.dsl(), key);
                });
            } catch (RuntimeException e) {
                if (!isAway(e)) throw e;
                lost.addSuppressed(e);
                LockSupport.parkNanos(PAUSE);
            }
        } while (System.nanoTime() < until);
        throw new DatabaseUnavailableException.UnknownOutcomeException(lost);
    }

    /** What is known of a request that was carried out. @param answer as it was given; empty when that was not noted */
    public record Done(String fingerprint, long reference, Optional<JsonNode> answer) {}

    /** What became of the request of this key. */
    public Optional<Done> done(String key) {
        return read(on -> on.select(REQUEST.FINGERPRINT, REQUEST.REFERENCE, REQUEST.ANSWER)
                .from(REQUEST)
                .where(REQUEST.KEY.eq(key))
                .fetchOptional(row -> new Done(
                        row.value1(),
                        row.value2(),
                        Optional.ofNullable(row.value3()).map(json -> Json.read(json.data())))));
    }

    /** Notes the answer that a request was given. */
    public void note(String key, JsonNode answer) {
        read(on -> on.update(REQUEST)
                .set(REQUEST.ANSWER, JSON.json(Json.write(answer)))
                .where(REQUEST.KEY.eq(key))
                .execute());
    }

    /** Forgets requests from before an instant. */
    public int forget(Instant before) {
        return read(on -> on.deleteFrom(REQUEST)
                .where(REQUEST.AT.lt(Schema.micros(before)))
                .execute());
    }

    /** Whether a failure means that the disk of the database is full. */
    public static boolean isFull(Throwable failure) {
        for (Throwable e = failure; e != null && e != e.getCause(); e = e.getCause())
            if (String.valueOf(e.getMessage()).contains("No space left on device")) return true;
        return hasState(failure, DISK_FULL::equals);
    }

    /** Whether a failure means that the database takes no changes, as a standby does not. */
    public static boolean isReadOnly(Throwable failure) {
        return hasState(failure, READ_ONLY::equals);
    }

    /** Whether a failure means that the database does not answer, rather than that it refused what was asked. */
    public static boolean isAway(Throwable failure) {
        // Connection trouble, and a server that is shut down, crashed, not up yet, takes no more connections, or has
        // let
        // go of a writer that was silent for too long.
        return isUnreachable(failure)
                || hasState(
                        failure,
                        state -> state.startsWith("08")
                                || state.startsWith("57P0")
                                || state.equals("53300")
                                || state.equals(PAUSED_TOO_LONG));
    }

    /** Whether a failure, or what it came of, has such a state of SQL. */
    private static boolean hasState(Throwable failure, Predicate<String> such) {
        for (Throwable e = failure; e != null; e = e.getCause()) {
            String state = e instanceof SQLException sql
                    ? sql.getSQLState()
                    : e instanceof DataAccessException access ? access.sqlState() : null;
            if (state != null && such.test(state)) return true;
            if (e.getCause() == e) break;
        }
        return false;
    }
}
