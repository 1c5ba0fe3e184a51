package leanladder.store.journal;

/** Says that somebody else published in between, so that nothing was stored. */
public final class StaleBaseException extends Exception {
    private static final long serialVersionUID = 1;

    StaleBaseException(long expected, long found) {
        super("The estate stands at change " + found + ", not " + expected);
    }
}
