package leanladder.server.http;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Locale;
import java.util.concurrent.TimeUnit;

/**
 * Reads a request body and fails when it arrives more slowly than a minimum rate. Only the time spent waiting for the client counts.
 */
final class MinimumRateInputStream extends FilterInputStream {
    private static final int PATIENCE_SECONDS = 10;
    private static final long BYTES_A_SECOND = 20_000;

    private long waited;
    private long taken;

    MinimumRateInputStream(InputStream coming) {
        super(coming);
    }

    @Override
    public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : Byte.toUnsignedInt(one[0]);
    }

    @Override
    public int read(byte[] into, int at, int most) throws IOException {
        long begun = System.nanoTime();
        int got = coming(into, at, most);
        waited += System.nanoTime() - begun;
        if (got > 0) taken += got;
        long seconds = TimeUnit.NANOSECONDS.toSeconds(waited);
        if (seconds > PATIENCE_SECONDS && taken < seconds * BYTES_A_SECOND)
            throw ProblemException.refused(
                    408,
                    "Too slow",
                    String.format(
                            Locale.ROOT,
                            "The body comes more slowly than %,d bytes a second, which a large one may not; nothing was stored.",
                            BYTES_A_SECOND));
        return got;
    }

    private int coming(byte[] into, int at, int most) throws IOException {
        try {
            return super.read(into, at, most);
        } catch (UploadPreemptedException uploadPreemptedException) {
            throw ProblemException.refused(
                    503,
                    "Too busy",
                    "Many large bodies are being sent at once, and this one came most slowly; nothing was stored. Try again in a moment.");
        }
    }
}
