package leanladder.server.http;

import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Locale;

/** Takes so many bytes; what would go beyond is refused with a problem. */
final class BoundedOutputStream extends FilterOutputStream {
    private final long most;
    private long written;

    BoundedOutputStream(OutputStream out, long most) {
        super(out);
        this.most = most;
    }

    @Override
    public void write(int b) throws IOException {
        count(1);
        out.write(b);
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
        count(length);
        out.write(bytes, from, length);
    }

    private void count(int more) {
        written += more;
        if (written > most)
            throw ProblemException.refused(
                    413,
                    "Too large",
                    String.format(
                            Locale.ROOT,
                            "This list would have more than %,d bytes, and no more are written out at once. Narrow it by a filter.",
                            most));
    }
}
