package leanladder.server.http;

import io.javalin.http.Context;
import jakarta.servlet.ServletOutputStream;
import jakarta.servlet.WriteListener;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Comparator;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.zip.GZIPOutputStream;
import org.eclipse.jetty.ee10.servlet.ServletContextRequest;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Sends responses of any length. Each is written to a temporary file first, so that its source, such as a database connection, is free before the
 * client starts to read, and so that a failure gives a problem instead of a truncated file. Few are written at the same time. The file is then sent
 * at the client's speed, without a thread. When too many are being sent, the slowest one is aborted. Only this process's user can read the file, and
 * it is deleted when the response has ended.
 */
final class SpooledResponses {
    private static final Logger LOG = LoggerFactory.getLogger(SpooledResponses.class);

    /** Of those that read the database. */
    private static final int READ_AT_ONCE = 2;

    private static final int WRITTEN_AT_ONCE = 10;
    private static final int SENT_AT_ONCE = 16;
    private static final Duration OWN_TIME = Duration.ofSeconds(2);
    private static final int BUFFER = 1 << 16;

    private final Semaphore reading = new Semaphore(READ_AT_ONCE, true);
    private final Semaphore writing = new Semaphore(WRITTEN_AT_ONCE);
    private final Set<Sending> sent = ConcurrentHashMap.newKeySet();

    /** Sends a list, or what is read from the database while it is written. Nothing is sent where writing it fails. */
    void send(Context ctx, Response.ContentWriter content, boolean reads) throws IOException {
        boolean packed = String.valueOf(ctx.header("Accept-Encoding")).contains("gzip");
        Path file = written(content, reads, packed);
        try {
            makeRoom();
            if (packed) ctx.header("Content-Encoding", "gzip");
            ctx.header("Vary", "Accept-Encoding");
            ctx.res().setContentLengthLong(Files.size(file));
            Sending sending = new Sending(ctx, file);
            ctx.req().startAsync(ctx.req(), ctx.res()).setTimeout(0);
            sent.add(sending);
            ctx.future(sending::begin);
        } catch (IOException | RuntimeException failed) {
            Files.deleteIfExists(file);
            throw failed;
        }
    }

    private Path written(Response.ContentWriter content, boolean reads, boolean packed) throws IOException {
        if (!writing.tryAcquire()) throw busy();
        try {
            if (reads) reading.acquireUninterruptibly();
            try {
                return written(content, packed);
            } finally {
                if (reads) reading.release();
            }
        } finally {
            writing.release();
        }
    }

    private static Path written(Response.ContentWriter content, boolean packed) throws IOException {
        Path file = Files.createTempFile("lean-ladder", ".download");
        boolean whole = false;
        try (OutputStream to = Files.newOutputStream(file);
                OutputStream out = new BufferedOutputStream(packed ? new GZIPOutputStream(to, BUFFER) : to, BUFFER)) {
            content.writeTo(new BoundedOutputStream(out, Limits.DOWNLOAD));
            whole = true;
        } finally {
            if (!whole) Files.deleteIfExists(file);
        }
        return file;
    }

    private void makeRoom() {
        if (sent.size() < SENT_AT_ONCE) return;
        Sending slowest = sent.stream()
                .filter(s -> s.age().compareTo(OWN_TIME) > 0)
                .min(Comparator.comparingDouble(Sending::speed))
                .orElseThrow(() -> busy());
        LOG.info("A file that is taken at {} bytes a second is given up for another one", (long) slowest.speed());
        slowest.giveUp();
    }

    private static ProblemException busy() {
        return ProblemException.refused(
                503, "Too busy", "Too many lists and files are asked for at once. Try again in a moment.");
    }

    /** One on its way. Its methods are called by one thread at a time, but for the last three. */
    private final class Sending implements WriteListener {
        private final CompletableFuture<Void> gone = new CompletableFuture<>();
        private final Context ctx;
        private final Path file;
        private final InputStream from;
        private final ServletOutputStream to;
        private final byte[] buffer = new byte[BUFFER];
        private final long begun = System.nanoTime();
        private volatile long taken;

        Sending(Context ctx, Path file) throws IOException {
            this.ctx = ctx;
            this.file = file;
            this.to = ctx.res().getOutputStream();
            this.from = Files.newInputStream(file);
        }

        CompletableFuture<Void> begin() {
            to.setWriteListener(this);
            return gone;
        }

        @Override
        public void onWritePossible() throws IOException {
            while (to.isReady()) {
                int read = from.read(buffer);
                if (read < 0) {
                    end();
                    return;
                }
                to.write(buffer, 0, read);
                taken += read;
            }
        }

        @Override
        public void onError(Throwable left) {
            LOG.debug("A file was not taken to its end", left);
            end();
        }

        private void end() {
            sent.remove(this);
            try {
                from.close();
                Files.deleteIfExists(file);
            } catch (IOException e) {
                LOG.warn("{} could not be taken away", file, e);
            }
            gone.complete(null);
        }

        Duration age() {
            return Duration.ofNanos(System.nanoTime() - begun);
        }

        /** Bytes a second. */
        double speed() {
            return taken * 1e9 / (System.nanoTime() - begun);
        }

        /** Cuts it off; the server then says that it has failed. */
        void giveUp() {
            sent.remove(this);
            ServletContextRequest.getServletContextRequest(ctx.req())
                    .getConnectionMetaData()
                    .getConnection()
                    .close();
        }
    }
}
