package leanladder.store;

import leanladder.store.calendars.CalendarTable;
import leanladder.store.checks.CheckTable;
import leanladder.store.cluster.ClusterListener;
import leanladder.store.db.Database;
import leanladder.store.drafts.DraftTable;
import leanladder.store.entities.EntityTable;
import leanladder.store.entities.PictureTable;
import leanladder.store.journal.Journal;
import leanladder.store.mail.MailTable;
import leanladder.store.requests.RequestTable;
import leanladder.store.seats.SeatTable;
import leanladder.store.usage.UsageTable;

/** What is kept in PostgreSQL: the journal of changes, the parts of the estate, the ledger, drafts, pictures, usage, calendars, what people ask for, checks, and outgoing mail. */
public final class Store implements AutoCloseable {
    private final Database database;
    private final Journal journal;
    private final EntityTable entities;
    private final DraftTable drafts;
    private final SeatTable seats;
    private final CalendarTable calendars;
    private final RequestTable requests;
    private final CheckTable checks;
    private final MailTable mail;
    private final PictureTable pictures;
    private final UsageTable usage;

    /**
     * Connects and brings the tables up to date.
     *
     * @param url a JDBC address of a database that this program has to itself, or shares with its like
     */
    public Store(String url, String user, String password) {
        database = new Database(url, user, password);
        journal = new Journal(database);
        entities = new EntityTable(database, journal);
        drafts = new DraftTable(database);
        seats = new SeatTable(database);
        calendars = new CalendarTable(database);
        requests = new RequestTable(database);
        checks = new CheckTable(database);
        mail = new MailTable(database);
        pictures = new PictureTable(database);
        usage = new UsageTable(database);
        journal.indexSubjects();
    }

    @Override
    public void close() {
        database.close();
    }

    /** The connection, and what became of requests. */
    public Database database() {
        return database;
    }

    /** The journal of changes. */
    public Journal journal() {
        return journal;
    }

    /** The parts of the estate, as they stand and as they stood. */
    public EntityTable parts() {
        return entities;
    }

    /** The ledger. */
    public SeatTable seats() {
        return seats;
    }

    /** The drafts. */
    public DraftTable drafts() {
        return drafts;
    }

    /** Starts to listen to what any server on the same database publishes and drafts. */
    public ClusterListener watch(ClusterListener.Listener listener) {
        return new ClusterListener(database, listener);
    }

    /** Calendars of what comes. */
    public CalendarTable calendars() {
        return calendars;
    }

    /** What people ask for. */
    public RequestTable requests() {
        return requests;
    }

    /** Checks that changes have arrived. */
    public CheckTable checks() {
        return checks;
    }

    /** Who used what. */
    public UsageTable usage() {
        return usage;
    }

    /** The contents of pictures. */
    public PictureTable pictures() {
        return pictures;
    }

    /** Texts to people that wait to be handed over. */
    public MailTable mail() {
        return mail;
    }
}
