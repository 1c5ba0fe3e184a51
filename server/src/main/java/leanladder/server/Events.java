package leanladder.server;

import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.sse.SseClient;
import java.time.Instant;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import leanladder.store.Change;
import leanladder.text.Json;

/** Tells browsers what others publish and what time brings, as server-sent events; they ask again for what they show. */
final class Events {
    private final Set<SseClient> clients = ConcurrentHashMap.newKeySet();

    Events(Estates estates, Drafts drafts) {
        estates.whenPublished(this::tellChange);
        drafts.whenAltered(id -> tell("draft", Answers.object().put("id", id)));
    }

    void open(SseClient client) {
        client.keepAlive();
        client.onClose(() -> clients.remove(client));
        clients.add(client);
        client.sendComment("open");
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
        clients.forEach(client -> client.sendEvent(event, written));
    }
}
