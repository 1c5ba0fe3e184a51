package leanladder.store.drafts;

/** Says that a draft was altered, published or discarded since the version that was named; nothing was stored. */
public final class StaleDraftException extends Exception {
    private static final long serialVersionUID = 1;

    StaleDraftException(long id) {
        super("The draft " + id + " has another version by now, or is gone");
    }
}
