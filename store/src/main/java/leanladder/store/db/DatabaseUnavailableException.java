package leanladder.store.db;

import org.jspecify.annotations.Nullable;

/** Says that the database does not answer; what was asked of it was not done. */
public class DatabaseUnavailableException extends RuntimeException {
    private static final long serialVersionUID = 1;

    /** Names what went wrong. */
    public DatabaseUnavailableException(String message, @Nullable Throwable cause) {
        super(message, cause);
    }

    /** Says that the database answers, and others ask so much of it that there was no connection in time. */
    public static final class BusyException extends DatabaseUnavailableException {
        private static final long serialVersionUID = 1;

        BusyException(Throwable cause) {
            super("More is asked of the database than it answers at once", cause);
        }
    }

    /** Says that the database went away before it said whether something was stored, and could not be asked since. */
    public static final class UnknownOutcomeException extends DatabaseUnavailableException {
        private static final long serialVersionUID = 1;

        UnknownOutcomeException(Throwable cause) {
            super("It is not known whether this was stored", cause);
        }
    }
}
