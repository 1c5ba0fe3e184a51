package leanladder.suite;

import java.time.Instant;

/** When a person last did what makes things show. A restart signs in again, and a new sign-in refreshes. */
public record Doings(Instant refreshed, Instant signedIn, Instant restarted) {
    /** After one more. */
    public Doings and(Deed deed, Instant at) {
        return switch (deed) {
            case REFRESH -> new Doings(at, signedIn, restarted);
            case SIGN_IN -> new Doings(at, at, restarted);
            case RESTART -> new Doings(at, at, at);
        };
    }

    /** When a deed was last done. */
    public Instant last(Deed deed) {
        return switch (deed) {
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
