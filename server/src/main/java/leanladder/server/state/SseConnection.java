package leanladder.server.state;

import jakarta.servlet.AsyncContext;
import jakarta.servlet.AsyncEvent;
import jakarta.servlet.AsyncListener;
import jakarta.servlet.ServletOutputStream;
import jakarta.servlet.WriteListener;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A stream of events to one browser. Events that the browser has not read yet wait in a bounded queue. A stream that falls further behind is closed;
 * the browser reconnects by itself and fetches what it missed.
 */
final class SseConnection implements WriteListener, AsyncListener {
    private static final Logger LOG = LoggerFactory.getLogger(SseConnection.class);
    private static final int MOST_WAITING = 256;

    private final AsyncContext context;
    private final ServletOutputStream out;
    private final Consumer<SseConnection> closed;
    private final Deque<byte[]> waiting = new ArrayDeque<>();
    private boolean writing;
    private boolean flushing;
    private boolean open = true;

    private SseConnection(AsyncContext context, ServletOutputStream out, Consumer<SseConnection> closed) {
        this.context = context;
        this.out = out;
        this.closed = closed;
    }

    /** Opens a stream as the answer to a request. @param closed is told when it is no more */
    static SseConnection open(HttpServletRequest request, HttpServletResponse response, Consumer<SseConnection> closed)
            throws IOException {
        AsyncContext context = request.startAsync(request, response);
        context.setTimeout(0);
        SseConnection stream = new SseConnection(context, response.getOutputStream(), closed);
        context.addListener(stream);
        stream.out.setWriteListener(stream);
        return stream;
    }

    /** Whether it can still be told something. */
    synchronized boolean isOpen() {
        return open;
    }

    /** Tells it something, when it can take it. */
    void send(String text) {
        boolean behind;
        synchronized (this) {
            if (!open) return;
            behind = waiting.size() >= MOST_WAITING;
            if (!behind) waiting.add(text.getBytes(StandardCharsets.UTF_8));
        }
        if (behind) {
            LOG.info(
                    "A browser is {} events behind and is not told any more; it connects again by itself",
                    MOST_WAITING);
            close();
        } else write();
    }

    @Override
    public void onWritePossible() {
        synchronized (this) {
            writing = true;
        }
        write();
    }

    /** Writes what can be written now. The server calls again when more can. */
    private void write() {
        try {
            synchronized (this) {
                if (!writing) return;
                while (open) {
                    if (!out.isReady()) {
                        writing = false;
                        return;
                    }
                    byte[] next = waiting.poll();
                    if (next != null) {
                        out.write(next);
                        flushing = true;
                    } else if (flushing) {
                        flushing = false;
                        out.flush();
                    } else return;
                }
            }
        } catch (IOException | RuntimeException gone) {
            close();
        }
    }

    /** Ends it. */
    void close() {
        synchronized (this) {
            if (!open) return;
            open = false;
            waiting.clear();
        }
        closed.accept(this);
        try {
            context.complete();
        } catch (IllegalStateException done) {
            LOG.debug("A stream had ended already", done);
        }
    }

    @Override
    public void onError(Throwable gone) {
        close();
    }

    @Override
    public void onComplete(AsyncEvent event) {
        close();
    }

    @Override
    public void onTimeout(AsyncEvent event) {
        close();
    }

    @Override
    public void onError(AsyncEvent event) {
        close();
    }

    @Override
    public void onStartAsync(AsyncEvent event) {
        // It was started before it listened.
    }
}
