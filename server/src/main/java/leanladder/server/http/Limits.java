package leanladder.server.http;

import java.util.Locale;
import leanladder.json.Json;

/** How much a request may bring, in one place. */
public final class Limits {
    /** Bytes of an ordinary body. */
    public static final long BODY = 1 << 20;

    /** Bytes of a body that holds many edits, or a pasted list. */
    public static final long BATCH = 32L << 20;

    /** Bytes of an uploaded picture before it is sanitised; afterwards it may have fewer. */
    public static final long PICTURE = 1 << 20;

    /** Bytes of a file with comma-separated values. */
    public static final long FILE = 64L << 20;

    /** Bytes of an estate file. */
    public static final long ESTATE = 2L << 30;

    /** Bytes of a list or file that is sent. */
    public static final long DOWNLOAD = 4L << 30;

    /** So many drafts that hold an edit are listed, and so many that hold none; beside them all that are planned. */
    public static final int DRAFTS = 500;

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

    /** Bytes that the edits of a draft may take, as text: so many that memory holds the draft several times over once it is carried out. */
    public static long draft() {
        return Long.getLong(
                "ladder.draft", Math.max(32L << 20, Runtime.getRuntime().maxMemory() / 32));
    }

    /** Bytes that all drafts together may take. */
    public static long drafts() {
        return Long.getLong("ladder.drafts", 4L << 30);
    }

    /** What a client must know of them, in words. */
    public static String words() {
        return String.format(
                Locale.ROOT,
                "An ordinary body holds at most %,d bytes, one with a batch of edits or a pasted list %,d, a file of comma-separated"
                        + " values %,d, an estate file %,d; one estate file is read at a time, and what it holds outside of its lists is bounded. A body of JSON holds at most %,d elements,"
                        + " members and values, %,d deep inside one another. A note has at most %,d characters, the name of a draft %,d, its edits"
                        + " %,d bytes, depending on the server's memory, all drafts together %,d; the %,d drafts touched last are listed, and all that are planned. Of a"
                        + " search the first %,d words and %,d characters are looked at. What is more is answered with 413 or 422 and a"
                        + " sentence. A client that makes more requests than it may for a while is answered with 429, a server that is busy"
                        + " answers 503; both say in Retry-After when to try again.",
                BODY,
                BATCH,
                FILE,
                ESTATE,
                TOKENS,
                Json.DEPTH,
                NOTE,
                NAME,
                draft(),
                drafts(),
                DRAFTS,
                WORDS,
                SEARCH);
    }
}
