package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import leanladder.document.Json;
import leanladder.store.FaultProxy;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import org.awaitility.Awaitility;
import org.awaitility.core.ConditionTimeoutException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** A server whose PostgreSQL is cut off, silent or gone: what was acknowledged is stored, and what is stored is told. */
@Timeout(value = 4, unit = TimeUnit.MINUTES)
class FaultsTest {
    private FaultProxy proxy;
    private String url;
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        url = ThrowAwayPostgres.get().newDatabase("faults_test");
        proxy = new FaultProxy(FaultProxy.port(url));
        String estate = Files.readString(Path.of("../core/src/test/resources/small-estate.json"));
        Store store = new Store(
                proxy.through(url),
                ThrowAwayPostgres.get().user(),
                ThrowAwayPostgres.get().password());
        server = RunningServer.over(store, Path.of("no-web"));
        assertThat(server.send("PUT", "/api/v1/estate", estate).statusCode()).isLessThan(300);
        server.unchecked();
    }

    @AfterEach
    void stop() throws Exception {
        proxy.mend();
        server.close();
        proxy.close();
    }

    /** Sends a request again and again until it is acknowledged; the same each time, as its key asks. */
    private void untilAcknowledged(String path, String body, String key) {
        AtomicReference<String> last = new AtomicReference<>("");
        try {
            Awaitility.await().atMost(Duration.ofSeconds(15)).until(() -> send(path, body, key, last) == 201);
        } catch (ConditionTimeoutException never) {
            throw new AssertionError(key + ": " + last.get(), never);
        }
    }

    private int send(String path, String body, String key, AtomicReference<String> last) {
        HttpResponse<String> answer = server.send("POST", path, body, "Idempotency-Key", key);
        last.set(answer.body());
        return answer.statusCode();
    }

    private String rename(int n) {
        JsonNode session = Json.read(server.get("/api/v1/session").body());
        return "{\"base\":" + session.get("change")
                + ",\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Name " + n
                + "\"}}]}";
    }

    private HttpResponse<String> change(String body, String key) {
        return server.send("POST", "/api/v1/changes", body, "Idempotency-Key", key);
    }

    /** What the journal holds, read past the proxy. */
    private List<String> journal() {
        List<String> words = new ArrayList<>();
        try (Store store = new Store(
                url, ThrowAwayPostgres.get().user(), ThrowAwayPostgres.get().password())) {
            store.journal().since(1).forEach(c -> words.add(c.words().get(0).asText()));
        }
        return words;
    }

    private void wellAgain() {
        Awaitility.await()
                .atMost(Duration.ofSeconds(15))
                .ignoreExceptions()
                .until(() -> server.send("POST", "/api/v1/drafts", "{}").statusCode() == 201);
    }

    @Test
    void aChangeWhoseCommitIsCutOffAtAnyMessageIsThereOnceAndTold() {
        // How many messages an undisturbed change takes.
        proxy.cutAfter(Integer.MAX_VALUE);
        assertThat(change(rename(0), "undisturbed").statusCode()).isEqualTo(201);
        int messages = Math.min(proxy.sent(), 40);
        assertThat(messages).isGreaterThan(3);
        for (int n = 1; n <= messages; n++) {
            String body = rename(n);
            String name = "Name " + n;
            proxy.cutAfter(n);
            HttpResponse<String> first = change(body, "key " + n);
            proxy.mend();
            assertThat(first.statusCode()).as("%d: %s", n, first.body()).isIn(201, 503);
            untilAcknowledged("/api/v1/changes", body, "key " + n);
            assertThat(journal().stream().filter(w -> w.endsWith(name)).count())
                    .as("cut after message %d", n)
                    .isEqualTo(1);
        }
        // Memory, store and a fresh start say the same.
        JsonNode estate = Json.read(server.get("/api/v1/estate").body());
        assertThat(estate.at("/policies/0/name").asText()).isEqualTo("Name " + messages);
        assertThat(Json.read(server.get("/api/v1/session").body()).get("change").asInt())
                .isEqualTo(journal().size() + 1);
    }

    @Test
    void aDraftWhoseCommitIsCutOffIsThereOnce() {
        for (int n = 1; n <= 12; n++) {
            String key = "draft " + n;
            String body = "{\"name\":\"" + key + "\"}";
            proxy.cutAfter(n);
            send("/api/v1/drafts", body, key, new AtomicReference<>());
            proxy.mend();
            untilAcknowledged("/api/v1/drafts", body, key);
            long named = Json.read(server.get("/api/v1/drafts").body()).findValuesAsText("name").stream()
                    .filter(key::equals)
                    .count();
            assertThat(named).as(key).isEqualTo(1);
        }
    }

    @Test
    void whileTheDatabaseIsAwayMemoryAnswersAndWritesAreRefusedSoonAndItComesBackByItself() {
        String asked = "/api/v1/climb?account=a1&setting=chat.private";
        JsonNode before = Json.read(server.get(asked).body()).get("outcome");
        proxy.away();
        for (int n = 0; n < 5; n++) {
            Instant began = Instant.now();
            HttpResponse<String> refused = server.send("POST", "/api/v1/drafts", "{}");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(503);
            assertThat(Json.read(refused.body()).get("detail").asText()).contains("database");
            assertThat(Duration.between(began, Instant.now())).isLessThan(Duration.ofSeconds(3));
            assertThat(Json.read(server.get(asked).body()).get("outcome")).isEqualTo(before);
        }
        Awaitility.await()
                .atMost(Duration.ofSeconds(10))
                .until(() -> server.get("/health/ready").statusCode() == 503);
        assertThat(server.get("/health/live").statusCode()).isEqualTo(200);
        proxy.mend();
        wellAgain();
        Awaitility.await()
                .atMost(Duration.ofSeconds(10))
                .until(() -> server.get("/health/ready").statusCode() == 200);
    }
}
