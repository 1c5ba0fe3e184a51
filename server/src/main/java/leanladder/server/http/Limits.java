package leanladder.server.http;

/** How much a request may bring, in one place. */
public final class Limits {
    /** Bytes of an ordinary body. */
    public static final long BODY = 1 << 20;

    /** Bytes of a body that holds many edits, or a pasted list. */
    public static final long BATCH = 32L << 20;

    /** Bytes of a file with comma-separated values. */
    public static final long FILE = 64L << 20;

    /** Elements, members and values of a JSON body. */
    public static final long TOKENS = 6_000_000;

    /** Characters of a note. */
    public static final int NOTE = 4000;

    /** Characters of the name of a draft. */
    public static final int NAME = 200;

    /** Words of a search; further ones are not looked at. */
    public static final int WORDS = 12;

    /** Characters of a search; what goes beyond is not looked at. */
    public static final int SEARCH = 200;

    private Limits() {}
}
