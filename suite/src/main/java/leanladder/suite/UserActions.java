package leanladder.suite;

import java.time.Instant;

/** When a person last did what makes things show. A restart signs in again, and a new sign-in refreshes. */
public record UserActions(Instant refreshed, Instant signedIn, Instant restarted) {
    /** After one more. */
    public UserActions and(UserAction userAction, Instant at) {
        return switch (userAction) {
            case REFRESH -> new UserActions(at, signedIn, restarted);
            case SIGN_IN -> new UserActions(at, at, restarted);
            case RESTART -> new UserActions(at, at, at);
        };
    }

    /** When a user action was last done. */
    public Instant last(UserAction userAction) {
        return switch (userAction) {
            case REFRESH -> refreshed;
            case SIGN_IN -> signedIn;
            case RESTART -> restarted;
        };
    }

    /** The earliest of them. */
    public Instant earliest() {
        Instant earliest = refreshed.isBefore(signedIn) ? refreshed : signedIn;
        return restarted.isBefore(earliest) ? restarted : earliest;
    }
}
