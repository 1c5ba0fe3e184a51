package leanladder.store.cluster;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import leanladder.store.db.Database;
import org.postgresql.PGConnection;
import org.postgresql.PGNotification;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Listens to what any server on the same database publishes and drafts, on a connection and a thread of its own; lost connections
 * are made again. The same connection holds the lock by which one server among all does what time brings: when that server dies
 * PostgreSQL drops its connection, and another takes the lock at its next look, within a second. A server that is there and does
 * nothing, because its machine is overwhelmed or it was paused, holds the lock as well; it is noticed by its silence, and another
 * has PostgreSQL drop its connection.
 */
public final class ClusterListener implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(ClusterListener.class);
    private static final long CLOCK_LOCK = 0xc10c2;
    private static final int LOOK_MILLIS = 500;
    private static final long BEAT = TimeUnit.SECONDS.toNanos(1);
    /** How long the holder of the clock may be silent before it is taken from it. */
    private static final int SILENT_SECONDS = 4;

    private static final String TAKE = "select pg_try_advisory_lock(?)";
    private static final String END_THE_SILENT =
            "select pg_terminate_backend(held.pid) from pg_locks held join pg_stat_activity holder using (pid)"
                    + " where held.locktype = 'advisory' and held.granted and held.objsubid = 1"
                    + " and held.database = (select oid from pg_database where datname = current_database())"
                    + " and held.classid::bigint << 32 | held.objid::bigint = ?"
                    + " and holder.state_change < clock_timestamp() - make_interval(secs => " + SILENT_SECONDS + ")";
    private static final long PAUSE = TimeUnit.MILLISECONDS.toNanos(250);

    /** Who is told; on the watch's own thread, one after the other. */
    public interface Listener {
        /** A connection was made, for the first time or again: whatever happened before it was not told. */
        void onConnect();

        /** Somebody published. @param change the number */
        void onChange(long change);

        /** Somebody began, altered, published or threw away a draft. */
        void onDraft(long draft);

        /** Half a second passed. */
        void tick();
    }

    private final Database database;
    private final Listener listener;
    private final Thread thread;
    private volatile boolean closed;
    private volatile boolean leads;

    /** Starts to listen. */
    public ClusterListener(Database database, Listener listener) {
        this.database = database;
        this.listener = listener;
        this.thread = new Thread(this::run, "watching the database");
        thread.setDaemon(true);
        thread.start();
    }

    /** Whether this server, and no other, does what time brings. */
    public boolean isLeader() {
        return leads;
    }

    private void run() {
        while (!closed) {
            try (Connection connection = connect()) {
                listen(connection);
            } catch (SQLException | RuntimeException e) {
                if (!closed) LOG.warn("The database does not answer; the connection is made again: {}", e.getMessage());
            }
            leads = false;
            LockSupport.parkNanos(PAUSE);
        }
    }

    /** A connection that was cut says nothing of the database; one that cannot be made says that it is away. */
    private Connection connect() throws SQLException {
        try {
            return database.connect();
        } catch (SQLException failure) {
            database.noticeFailure(failure);
            throw failure;
        }
    }

    private void listen(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("listen change; listen draft");
        }
        PGConnection heard = connection.unwrap(PGConnection.class);
        listener.onConnect();
        long spoke = System.nanoTime();
        while (!closed) {
            if (!leads) leads = tryLead(connection);
            PGNotification[] notifications = heard.getNotifications(LOOK_MILLIS);
            boolean none = notifications == null || notifications.length == 0;
            // However much there is to hear, the others notice by this that the server is well.
            if (none || System.nanoTime() - spoke > BEAT) {
                if (!connection.isValid(2)) throw new SQLException("The connection is gone");
                database.heard();
                spoke = System.nanoTime();
            }
            if (!none) for (PGNotification n : notifications) tell(n.getName(), Long.parseLong(n.getParameter()));
            logErrors(listener::tick);
        }
    }

    private void tell(String channel, long number) {
        logErrors(() -> {
            if (channel.equals("change")) listener.onChange(number);
            else listener.onDraft(number);
        });
    }

    private static void logErrors(Runnable told) {
        try {
            told.run();
        } catch (RuntimeException e) {
            LOG.warn("What was heard could not be followed yet", e);
        }
    }

    private static boolean tryLead(Connection connection) throws SQLException {
        if (queryBoolean(connection, TAKE)) return true;
        if (queryBoolean(connection, END_THE_SILENT))
            LOG.warn("The server that held the clock was silent for {} s; it is taken from it", SILENT_SECONDS);
        return false;
    }

    /** What a question about the lock of the clock is answered; false where there is no answer. */
    private static boolean queryBoolean(Connection connection, String question) throws SQLException {
        try (PreparedStatement ask = connection.prepareStatement(question)) {
            ask.setLong(1, CLOCK_LOCK);
            try (ResultSet answer = ask.executeQuery()) {
                return answer.next() && answer.getBoolean(1);
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        thread.interrupt();
    }
}
