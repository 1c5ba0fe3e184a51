package leanladder.store.db;

/** Says that a request with this key was carried out before; nothing was written. */
public final class DuplicateRequestException extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final long reference;

    DuplicateRequestException(String key, long reference) {
        super("The request " + key + " was carried out before");
        this.reference = reference;
    }

    /** The number of the change, or the id of the draft, that it wrote. */
    public long reference() {
        return reference;
    }
}
