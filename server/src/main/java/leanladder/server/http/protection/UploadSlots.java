package leanladder.server.http.protection;

import java.util.Comparator;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import leanladder.server.http.UploadPreemptedException;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import org.jspecify.annotations.Nullable;

/**
 * Limits how many larger bodies, and bodies of unknown length, are read at the same time. Each is read by a thread as it arrives, so that a body that is
 * too large is refused early. When no slot is free, the slowest upload is aborted in favour of the new one; fast and complete uploads are not.
 */
final class UploadSlots extends Handler.Wrapper {
    private static final int PLACES = 24;
    /** Bytes a second. */
    private static final double FAST = 1 << 20;
    /** For so long it is not known yet how fast one comes. */
    private static final long BEGINNING = TimeUnit.SECONDS.toNanos(2);

    private final Handler next;
    private final Set<Upload> places = new HashSet<>();

    /** @param next what reads them */
    UploadSlots(Handler next) {
        this.next = next;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
        if (!BufferedBodyHandler.isLarger(request)) return super.handle(request, response, callback);
        Upload upload = new Upload(request);
        if (!tryAcquire(upload)) {
            Response.writeError(request, response, callback, HttpStatus.SERVICE_UNAVAILABLE_503);
            return true;
        }
        return next.handle(upload, response, new Callback.Nested(callback) {
            @Override
            public void completed() {
                release(upload);
            }
        });
    }

    private boolean tryAcquire(Upload upload) {
        Optional<Upload> slowest = Optional.empty();
        synchronized (this) {
            if (places.size() >= PLACES) {
                slowest = places.stream()
                        .filter(Upload::mayGiveWay)
                        .min(Comparator.comparingDouble(Upload::bytesASecond));
                if (slowest.isEmpty()) return false;
                places.remove(slowest.get());
            }
            places.add(upload);
        }
        slowest.ifPresent(s -> s.fail(new UploadPreemptedException()));
        return true;
    }

    private synchronized void release(Upload upload) {
        places.remove(upload);
    }

    /** A body, and how fast it has come so far. */
    private static final class Upload extends Request.Wrapper {
        private final long begun = System.nanoTime();
        private volatile long bytes;
        private volatile boolean whole;

        Upload(Request request) {
            super(request);
        }

        @Override
        public Content.@Nullable Chunk read() {
            Content.Chunk chunk = super.read();
            if (chunk == null) return null;
            bytes += chunk.remaining();
            whole = chunk.isLast();
            return chunk;
        }

        private long nanos() {
            return System.nanoTime() - begun;
        }

        double bytesASecond() {
            return bytes * 1e9 / Math.max(1, nanos());
        }

        boolean mayGiveWay() {
            return !whole && nanos() > BEGINNING && bytesASecond() < FAST;
        }
    }
}
