package leanladder.store.db;

/** Says that the database does not answer; what was asked of it was not done. */
public class Unavailable extends RuntimeException {
    private static final long serialVersionUID = 1;

    /** Names what went wrong. */
    public Unavailable(String message, Throwable cause) {
        super(message, cause);
    }

    /** Says that the database answers, and others ask so much of it that there was no connection in time. */
    public static final class Busy extends Unavailable {
        private static final long serialVersionUID = 1;

        Busy(Throwable cause) {
            super("More is asked of the database than it answers at once", cause);
        }
    }

    /** Says that the database went away before it said whether something was stored, and could not be asked since. */
    public static final class Unknown extends Unavailable {
        private static final long serialVersionUID = 1;

        Unknown(Throwable cause) {
            super("It is not known whether this was stored", cause);
        }
    }
}
