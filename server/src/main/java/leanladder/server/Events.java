package leanladder.server;

import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.sse.SseClient;
import java.time.Instant;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import leanladder.document.Json;
import leanladder.store.Change;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells browsers what others publish and what time brings, as server-sent events; they ask again for what they show. One thread
 * tells everybody in turn, so that nobody who publishes waits for a browser, or fails because of one.
 */
final class Events implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Events.class);

    private final Set<SseClient> clients = ConcurrentHashMap.newKeySet();
    private final ExecutorService telling = Executors.newSingleThreadExecutor(run -> {
        Thread thread = new Thread(run, "events");
        thread.setDaemon(true);
        return thread;
    });

    Events(Estates estates, Drafts drafts) {
        estates.whenPublished(this::tellChange);
        drafts.whenAltered(id -> tell("draft", Answers.object().put("id", id)));
    }

    void open(SseClient client) {
        client.keepAlive();
        client.onClose(() -> clients.remove(client));
        client.sendComment("open");
        clients.add(client);
    }

    private void tellChange(Change change) {
        tell("change", ChangeRoutes.receipt(change));
    }

    /** Says that something began or ended by itself. */
    void tellTime(Instant at) {
        tell("time", Answers.object().put("at", at.toString()));
    }

    private void tell(String event, ObjectNode data) {
        String written = Json.write(data);
        if (!telling.isShutdown()) telling.execute(() -> clients.forEach(client -> tell(client, event, written)));
    }

    private void tell(SseClient client, String event, String written) {
        try {
            client.sendEvent(event, written);
        } catch (RuntimeException gone) {
            LOG.warn(
                    "A browser could not be told of \"{}\" and is not told any more; it connects again by itself",
                    event,
                    gone);
            clients.remove(client);
            client.close();
        }
    }

    @Override
    public void close() {
        telling.shutdownNow();
    }
}
