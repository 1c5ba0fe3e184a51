package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Queue;
import java.util.Random;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import leanladder.json.Json;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Two servers in processes of their own, one of which is paused and then killed again and again while clients publish and stage on both. */
class KilledServersTest {
    private static final int CLIENTS = 8;
    /** Publishes and stagings together; 2000 with a kill for every 250 when there is time. */
    private static final int WRITES = Integer.getInteger("ladder.writes", 400);

    private static final int KILLS = Math.max(2, WRITES / 250);

    private static final List<String> SMALL = List.of("-Xmx256m", "-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC");

    @TempDir
    Path dir;

    private final HttpClient client = HttpClient.newHttpClient();
    private final List<ServerProcess> servers = new ArrayList<>();

    @AfterEach
    void stop() throws Exception {
        for (ServerProcess server : servers) {
            server.goOn();
            server.kill();
        }
    }

    /** Two servers over a new database with the estate; its address. The first one holds the clock. */
    private String start(String database) throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        try (RunningServer first = RunningServer.start(postgres, database, Path.of("no-web"), Json.write(estate()))) {
            assertThat(first.store().journal().latest()).isEqualTo(1);
        }
        String url = postgres.connectionTo(database);
        Path connection = Files.writeString(dir.resolve("connection"), postgres.connection(url));
        for (int s = 0; s < 2; s++) {
            ServerProcess server = new ServerProcess(dir.resolve("server-" + s), connection, SMALL);
            server.start();
            servers.add(server);
            if (s == 0) await().until(() -> isLeader(server));
        }
        return url;
    }

    private boolean isLeader(ServerProcess server) throws Exception {
        return Json.read(send(server, "GET", "/health/ready", "", "").body())
                .get("leader")
                .asBoolean();
    }

    @Test
    @Timeout(value = 2, unit = TimeUnit.MINUTES)
    void aServerThatIsPausedLosesTheClockWithinSecondsAndWhatWasPlannedIsPublishedOnce() throws Exception {
        String url = start("paused_clock");
        ServerProcess other = servers.get(1);
        JsonNode draft = Json.read(send(other, "POST", "/api/v1/drafts", "{\"name\":\"planned\"}", "draft")
                .body());
        String path = "/api/v1/drafts/" + draft.get("id");
        send(
                other,
                "POST",
                path + "/edits",
                "{\"version\":1,\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"client-0\",\"members\":{\"name\":\"Planned\"}}]}",
                "edit");
        HttpResponse<String> planned = send(
                other,
                "POST",
                path + "/publish",
                "{\"version\":2,\"note\":\"by itself\",\"at\":\""
                        + Instant.now().plusSeconds(1) + "\"}",
                "publish");
        assertThat(planned.statusCode()).as(planned.body()).isEqualTo(200);
        servers.get(0).pause();
        await().atMost(Duration.ofSeconds(8)).until(() -> isLeader(other));
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        try (Store store = new Store(url, postgres.user(), postgres.password())) {
            await().atMost(Duration.ofSeconds(8))
                    .until(() -> store.journal().since(1).size() == 1);
            servers.get(0).goOn();
            await().atMost(Duration.ofSeconds(10)).ignoreExceptions().until(() -> !isLeader(servers.get(0)));
            await().atMost(Duration.ofSeconds(10))
                    .until(() -> send(servers.get(0), "GET", "/api/v1/policies/client-0", "", "")
                            .body()
                            .contains("Planned"));
            assertThat(isLeader(other)).isTrue();
            assertThat(store.journal().since(1)).extracting(c -> c.note()).containsExactly("by itself");
        }
    }

    @Test
    @Timeout(value = 5, unit = TimeUnit.MINUTES)
    void everyAcknowledgedChangeIsThereOnceWhicheverServerIsPausedOrKilled() throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        String url = start("killed_servers");
        Queue<String> acknowledged = new ConcurrentLinkedQueue<>();
        AtomicInteger writes = new AtomicInteger();
        var pool = Executors.newFixedThreadPool(CLIENTS + 1);
        try {
            List<Callable<Integer>> work = new ArrayList<>();
            for (int c = 0; c < CLIENTS; c++) work.add(writer(c, acknowledged, writes));
            work.add(() -> killer(writes));
            int staged = 0;
            for (var done : pool.invokeAll(work)) staged += done.get();
            assertThat(staged).as("edits staged, and kills").isGreaterThan(CLIENTS);
            sameEverywhere(postgres, url, acknowledged);
        } finally {
            pool.shutdownNow();
        }
    }

    private void sameEverywhere(ThrowAwayPostgres postgres, String url, Queue<String> acknowledged) throws Exception {
        try (Store store = new Store(url, postgres.user(), postgres.password());
                RunningServer fresh = RunningServer.over(store, Path.of("no-web"))) {
            List<String> stored =
                    store.journal().since(1).stream().map(c -> c.note()).toList();
            assertThat(stored).as("none twice").doesNotHaveDuplicates();
            assertThat(stored).as("everything acknowledged is there").containsAll(acknowledged);
            for (String path : List.of("/api/v1/policies", "/api/v1/estate", "/api/v1/drafts")) {
                JsonNode wanted = Json.read(fresh.get(path).body());
                for (ServerProcess server : servers)
                    await().atMost(Duration.ofSeconds(5))
                            .untilAsserted(() -> assertThat(Json.read(
                                            send(server, "GET", path, "", "").body()))
                                    .isEqualTo(wanted));
            }
            for (JsonNode draft : Json.read(fresh.get("/api/v1/drafts").body()).get("drafts"))
                assertThat(draft.get("edits").asInt())
                        .as("edits of a draft, which counts every one that was acknowledged")
                        .isEqualTo(draft.get("version").asInt() - 1);
        }
    }

    private static JsonNode estate() throws Exception {
        JsonNode estate = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        for (int c = 0; c < CLIENTS; c++)
            ((ArrayNode) estate.get("policies"))
                    .addObject()
                    .put("id", "client-" + c)
                    .put("name", "Client " + c);
        return estate;
    }

    private HttpResponse<String> send(ServerProcess server, String method, String path, String body, String key)
            throws IOException, InterruptedException {
        var request = HttpRequest.newBuilder(URI.create(server.address() + path))
                .timeout(Duration.ofSeconds(20))
                .method(method, HttpRequest.BodyPublishers.ofString(body));
        if (!key.isEmpty()) request.header("Idempotency-Key", key);
        return client.send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    /** Sends the same request with the same key, to whichever server is there, until one says what became of it. */
    private HttpResponse<String> until(Random random, String method, String path, String body) {
        String key = UUID.randomUUID().toString();
        return await().atMost(Duration.ofMinutes(1))
                .pollDelay(Duration.ZERO)
                .pollInterval(Duration.ofMillis(5))
                .until(
                        () -> {
                            try {
                                return send(servers.get(random.nextInt(2)), method, path, body, key);
                            } catch (IOException gone) {
                                return null;
                            }
                        },
                        answered -> answered != null && answered.statusCode() != 503);
    }

    private Callable<Integer> writer(int c, Queue<String> acknowledged, AtomicInteger writes) {
        return () -> {
            Random random = new Random(c);
            HttpResponse<String> begun = until(random, "POST", "/api/v1/drafts", "{\"name\":\"of client " + c + "\"}");
            long draft = Json.read(begun.body()).get("id").asLong();
            long version = 1;
            int staged = 0;
            for (int i = 0; i < WRITES / CLIENTS; i++) {
                String note = "client " + c + " write " + i;
                String edit = "{\"kind\":\"amend-policy\",\"policy\":\"client-" + c
                        + "\",\"members\":{\"description\":\"" + note + "\"}}";
                if (i % 5 == 4) {
                    HttpResponse<String> answer = until(
                            random,
                            "POST",
                            "/api/v1/drafts/" + draft + "/edits",
                            "{\"version\":" + version + ",\"edits\":[" + edit + "]}");
                    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
                    version = Json.read(answer.body()).get("version").asLong();
                    staged++;
                } else {
                    // Nobody else touches this policy, so that the change before one's own is always near enough.
                    long base = Json.read(
                                    until(random, "GET", "/api/v1/session", "").body())
                            .get("change")
                            .asLong();
                    HttpResponse<String> answer = until(
                            random,
                            "POST",
                            "/api/v1/changes",
                            "{\"base\":" + base + ",\"note\":\"" + note + "\",\"edits\":[" + edit + "]}");
                    // A server that has not heard of one's own last change yet refuses a base before it as a clash.
                    assertThat(answer.statusCode()).as(answer.body()).isIn(201, 409, 422);
                    if (answer.statusCode() == 201) acknowledged.add(note);
                }
                writes.incrementAndGet();
            }
            assertThat(acknowledged.stream().filter(n -> n.startsWith("client " + c + " ")))
                    .as("most of what client %d published was carried out", c)
                    .hasSizeGreaterThan(WRITES / CLIENTS / 2);
            return staged;
        };
    }

    private int killer(AtomicInteger writes) throws Exception {
        Random random = new Random(99);
        for (int kill = 1; kill <= KILLS; kill++) {
            int after = WRITES * kill / (KILLS + 1) + random.nextInt(40);
            await().atMost(Duration.ofMinutes(4))
                    .pollInterval(Duration.ofMillis(2))
                    .until(() -> writes.get() >= after);
            ServerProcess server = servers.get(random.nextInt(2));
            server.pause();
            // What was asked of it hangs; the others go on, until the clients are tired of waiting for it.
            int paused = writes.get();
            await().atMost(Duration.ofMinutes(1))
                    .pollInterval(Duration.ofMillis(20))
                    .until(() -> writes.get() >= paused + 2 || writes.get() >= WRITES);
            server.goOn();
            server.kill();
            server.start();
        }
        return KILLS;
    }
}
