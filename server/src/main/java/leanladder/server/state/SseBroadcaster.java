package leanladder.server.state;

import io.javalin.http.Context;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentNavigableMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Supplier;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.protection.OverloadProtection;

/**
 * Sends the same server-sent events to many streams. One thread sends them in order. Each stream writes at the speed of its reader, without a thread,
 * so that a slow or failing reader does not affect the others.
 */
public final class SseBroadcaster implements AutoCloseable {
    private static final int HEARTBEAT_SECONDS = 15;
    /** Streams of events and of settings changes together leave connections free for whoever comes. */
    private static final int PART_OF_CONNECTIONS = 3;

    /** Those that are told, by when they were opened. */
    private final ConcurrentNavigableMap<Long, SseConnection> streams = new ConcurrentSkipListMap<>();

    private final AtomicLong opened = new AtomicLong();
    private final int most = OverloadProtection.connections() / PART_OF_CONNECTIONS;
    private final ScheduledExecutorService telling;

    /** None yet. @param name of the thread that tells */
    public SseBroadcaster(String name) {
        telling = Executors.newSingleThreadScheduledExecutor(run -> {
            Thread thread = new Thread(run, name);
            thread.setDaemon(true);
            return thread;
        });
        telling.scheduleWithFixedDelay(this::heartbeat, HEARTBEAT_SECONDS, HEARTBEAT_SECONDS, TimeUnit.SECONDS);
    }

    /**
     * Opens a stream as the answer to a request. It is told in its turn, so that it misses nothing after what it is told first. Where there
     * are too many, the oldest is closed; whoever reads that one connects again and catches up.
     *
     * @param first what it is told first, as it was written
     */
    public void open(Context ctx, Supplier<List<String>> first) throws IOException {
        ctx.contentType("text/event-stream");
        ctx.header("Cache-Control", "no-store");
        ctx.header("X-Accel-Buffering", "no");
        long number = opened.getAndIncrement();
        SseConnection stream = SseConnection.open(ctx.req(), ctx.res(), closed -> streams.remove(number));
        // The stream ends the request itself; nothing else is to be answered.
        ctx.future(CompletableFuture::new);
        if (telling.isShutdown()) {
            stream.close();
            return;
        }
        telling.execute(() -> {
            first.get().forEach(stream::send);
            streams.put(number, stream);
            if (!stream.isOpen()) streams.remove(number);
            if (streams.size() > most) streams.firstEntry().getValue().close();
        });
    }

    /** How many are told. */
    public int open() {
        return streams.size();
    }

    /** Has something done in its turn among what is told, on the thread that tells. */
    public void then(Runnable task) {
        if (!telling.isShutdown()) telling.execute(task);
    }

    /** Tells all of them. @param id by which a reader says later how far it came; empty for none */
    public void tell(String event, String id, Object record) {
        then(() -> send(written(event, id, record)));
    }

    /** Sends what was written to all of them, on the thread that tells. */
    public void send(String written) {
        streams.values().forEach(stream -> stream.send(written));
    }

    /** An event as it goes over the wire. */
    public static String written(String event, String id, Object record) {
        return (id.isEmpty() ? "" : "id: " + id + "\n") + "event: " + event + "\ndata: "
                + new String(JsonWriter.write(record), StandardCharsets.UTF_8) + "\n\n";
    }

    /** Whoever has left is noticed by what can no longer be written. */
    private void heartbeat() {
        send(": still here\n\n");
    }

    @Override
    public void close() {
        telling.shutdownNow();
        streams.values().forEach(SseConnection::close);
    }
}
