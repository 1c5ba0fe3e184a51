package leanladder.server.state;

/** The state does not do what was asked, and says why in a sentence. Nothing was stored. */
public final class StateException extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final Reason reason;

    /** Why. */
    public enum Reason {
        /** What was asked about does not exist, or did not exist then. */
        UNKNOWN,
        /** The estate breaks a limit of this version and cannot be changed. */
        READ_ONLY,
        /** Others keep the state busy; the same request can succeed in a moment. */
        BUSY,
        /** A due transition cannot be applied, and comes before everything else. */
        TRANSITION_FAILED,
        /** The estate is a later one than the request names. */
        STALE,
        /** It does not fit into memory. */
        TOO_LARGE
    }

    /** @param message a sentence for the person who asked */
    public StateException(Reason reason, String message) {
        super(message);
        this.reason = reason;
    }

    public Reason reason() {
        return reason;
    }

    /** Whether the same request can succeed later without a change of it. */
    public boolean isPassing() {
        return reason == Reason.BUSY || reason == Reason.TRANSITION_FAILED;
    }
}
