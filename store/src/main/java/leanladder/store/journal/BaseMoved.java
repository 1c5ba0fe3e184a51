package leanladder.store.journal;

/** Says that somebody else published in between, so that nothing was stored. */
public final class BaseMoved extends Exception {
    private static final long serialVersionUID = 1;

    BaseMoved(long expected, long found) {
        super("The estate stands at change " + found + ", not " + expected);
    }
}
