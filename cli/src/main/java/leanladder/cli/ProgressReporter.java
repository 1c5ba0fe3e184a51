package leanladder.cli;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;

/** Tells on standard error, when that is a terminal, how far a file has been read. */
final class ProgressReporter extends FilterInputStream {
    private static final long STEP = 4L << 20;
    private static final boolean TERMINAL = Boolean.getBoolean("ladder.progress");

    private final long size;
    private long read;
    private long told;

    ProgressReporter(InputStream in, long size) {
        super(in);
        this.size = size;
    }

    @Override
    public int read() throws IOException {
        int b = super.read();
        if (b >= 0) count(1);
        return b;
    }

    @Override
    public int read(byte[] into, int from, int length) throws IOException {
        int n = super.read(into, from, length);
        count(Math.max(0, n));
        return n;
    }

    private void count(int bytes) {
        read += bytes;
        if (size > 0 && read - told >= STEP) {
            told = read;
            tell("reading", read, size);
        }
    }

    /** Writes how much of something is done, on one line that the next call overwrites. */
    static void tell(String what, long done, long all) {
        if (TERMINAL) System.err.printf("\r%s %d %%   ", what, 100 * done / all);
    }

    /** Clears the line. */
    static void end() {
        if (TERMINAL) System.err.print("\r                        \r");
    }
}
