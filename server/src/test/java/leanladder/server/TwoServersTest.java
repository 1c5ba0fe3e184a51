package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.IntStream;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Two servers on one database follow each other, and nothing acknowledged is lost or done twice. */
@Timeout(value = 3, unit = TimeUnit.MINUTES)
class TwoServersTest {
    private static final int CLIENTS = 8;
    private static int databases;

    private String url;
    private RunningServer one;
    private RunningServer other;

    @BeforeEach
    void start() throws Exception {
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        String database = "two_servers_" + databases++;
        one = RunningServer.start(postgres, database, Path.of("no-web"), Json.write(estate()));
        url = postgres.connectionTo(database);
        other = one.joined(postgres, url);
    }

    @AfterEach
    void stop() {
        other.close();
        one.close();
    }

    /** The small estate with a policy of its own for every client, so that clients never touch the same parts. */
    private static JsonNode estate() throws Exception {
        ObjectNode estate =
                (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        ArrayNode policies = (ArrayNode) estate.get("policies");
        for (int c = 0; c < CLIENTS; c++)
            policies.addObject().put("id", "client-" + c).put("name", "Client " + c);
        return estate;
    }

    static String describe(int client, String words) {
        return "{\"kind\":\"amend-policy\",\"policy\":\"client-" + client + "\",\"members\":{\"description\":\"" + words
                + "\"}}";
    }

    private static String change(long base, String note, String edit) {
        return "{\"base\":" + base + ",\"note\":\"" + note + "\",\"edits\":[" + edit + "]}";
    }

    private static long last(RunningServer server) {
        return Json.read(server.get("/api/v1/session").body()).get("change").asLong();
    }

    private static long published(RunningServer server, String note, String edit) {
        HttpResponse<String> response = server.post(change(last(server), note, edit));
        assertThat(response.statusCode()).as(response.body()).isEqualTo(201);
        return Json.read(response.body()).get("number").asLong();
    }

    @Test
    void whatIsPublishedOnOneIsSeenOnTheOtherSoon() {
        for (int i = 0; i < 5; i++) {
            String words = "seen " + i;
            RunningServer here = i % 2 == 0 ? one : other;
            RunningServer there = i % 2 == 0 ? other : one;
            published(here, words, describe(0, words));
            await().atMost(Duration.ofSeconds(3))
                    .untilAsserted(() -> assertThat(
                                    there.get("/api/v1/policies/client-0").body())
                            .contains(words));
        }
    }

    @Test
    void aDraftEditedOnOneIsTheSameOnTheOther() {
        JsonNode draft = Json.read(one.send("POST", "/api/v1/drafts", "{}").body());
        JsonNode staged = Json.read(other.send(
                        "POST",
                        "/api/v1/drafts/" + draft.get("id") + "/edits",
                        "{\"version\":1,\"edits\":[" + describe(1, "from the other") + "]}")
                .body());
        assertThat(staged.get("version").asLong()).isEqualTo(2);
        JsonNode seen = Json.read(one.get("/api/v1/drafts/" + draft.get("id")).body());
        assertThat(seen.get("items")).isEqualTo(staged.get("items"));
        HttpResponse<String> late = one.send(
                "POST",
                "/api/v1/drafts/" + draft.get("id") + "/edits",
                "{\"version\":1,\"edits\":[" + describe(1, "too late") + "]}");
        assertThat(late.statusCode()).isEqualTo(409);
    }

    @Test
    void aRequestThatIsSentAgainWithItsKeyIsCarriedOutOnceAndAnsweredAlike() {
        String body = change(last(one), "once", describe(2, "once"));
        HttpResponse<String> first = one.send("POST", "/api/v1/changes", body, "Idempotency-Key", "key-1");
        assertThat(first.statusCode()).as(first.body()).isEqualTo(201);
        HttpResponse<String> again = other.send("POST", "/api/v1/changes", body, "Idempotency-Key", "key-1");
        assertThat(again.statusCode()).isEqualTo(201);
        assertThat(Json.read(again.body())).isEqualTo(Json.read(first.body()));
        HttpResponse<String> another = other.send(
                "POST",
                "/api/v1/changes",
                change(last(one), "another", describe(2, "another")),
                "Idempotency-Key",
                "key-1");
        assertThat(another.statusCode())
                .as("a key that is used for something else")
                .isEqualTo(422);
        assertThat(notes("once")).isEqualTo(1);
        assertThat(notes("another")).isZero();
    }

    private long notes(String note) {
        return one.store().journal().since(0).stream()
                .filter(c -> c.note().equals(note))
                .count();
    }

    /** Whoever got no answer, and asks again elsewhere, must not be told of an estate from before what was done. */
    @Test
    void whoeverIsAnsweredAgainFindsWhatWasDoneAlsoOnAServerThatHadNotHeardOfIt() throws Exception {
        String body = change(last(one), "again", describe(0, "again"));
        String[] key = {"Idempotency-Key", "again"};
        AtomicLong number = new AtomicLong();
        AtomicReference<CompletableFuture<Long>> seen = new AtomicReference<>();
        // Meanwhile the other server cannot take in what it hears.
        other.whileNobodyFollows(() -> {
            number.set(Json.read(one.send("POST", "/api/v1/changes", body, key).body())
                    .get("number")
                    .asLong());
            seen.set(CompletableFuture.supplyAsync(() -> {
                assertThat(other.send("POST", "/api/v1/changes", body, key).statusCode())
                        .isEqualTo(201);
                return last(other);
            }));
            assertThatThrownBy(() -> seen.get().get(1, TimeUnit.SECONDS)).isInstanceOf(TimeoutException.class);
        });
        assertThat(seen.get().get(20, TimeUnit.SECONDS)).isEqualTo(number.get());
    }

    @Test
    void whoeverPublishesOnAnOlderEstateIsCarriedOverOrRefusedAndNeverFails() throws Exception {
        Queue<String> acknowledged = new ConcurrentLinkedQueue<>();
        var pool = Executors.newFixedThreadPool(CLIENTS);
        try {
            List<Callable<Void>> clients = IntStream.range(0, CLIENTS)
                    .mapToObj(c -> (Callable<Void>) () -> {
                        RunningServer server = c % 2 == 0 ? one : other;
                        for (int i = 0; i < 25; i++) {
                            String note = "client " + c + " change " + i;
                            // Everybody names the first change as the base: all the others came between.
                            HttpResponse<String> response = server.post(change(1, note, describe(c, note)));
                            if (i == 0)
                                assertThat(response.statusCode())
                                        .as(response.body())
                                        .isEqualTo(201);
                            else
                                assertThat(response.statusCode())
                                        .as(response.body())
                                        .isIn(201, 409);
                            if (response.statusCode() == 201) acknowledged.add(note);
                            else {
                                published(server, note, describe(c, note));
                                acknowledged.add(note);
                            }
                        }
                        return null;
                    })
                    .toList();
            for (var done : pool.invokeAll(clients)) done.get();
        } finally {
            pool.shutdownNow();
        }
        List<String> stored =
                one.store().journal().since(1).stream().map(c -> c.note()).toList();
        assertThat(stored).hasSize(CLIENTS * 25).containsExactlyInAnyOrderElementsOf(acknowledged);
        alike();
    }

    /** Both servers answer alike, and as one that is started afresh. */
    private void alike() {
        long change = one.store().journal().latest();
        await().atMost(Duration.ofSeconds(5)).untilAsserted(() -> {
            assertThat(last(one)).isEqualTo(change);
            assertThat(last(other)).isEqualTo(change);
        });
        for (String path :
                List.of("/api/v1/policies", "/api/v1/estate", "/api/v1/outcomes?limit=1000&at=2030-01-01T00:00:00Z"))
            assertThat(Json.read(one.get(path).body()))
                    .isEqualTo(Json.read(other.get(path).body()));
        assertThat(one.readAgain().policies()).isEqualTo(other.readAgain().policies());
    }

    @Test
    void theOneThatHoldsTheClockIsFollowedByTheOtherWhenItIsGone() throws Exception {
        JsonNode draft = Json.read(
                other.send("POST", "/api/v1/drafts", "{\"name\":\"planned\"}").body());
        String path = "/api/v1/drafts/" + draft.get("id");
        other.send("POST", path + "/edits", "{\"version\":1,\"edits\":[" + describe(3, "by itself") + "]}");
        HttpResponse<String> planned = other.send(
                "POST",
                path + "/publish",
                "{\"version\":2,\"note\":\"by itself\",\"at\":\""
                        + TestClock.now().plusSeconds(2) + "\"}");
        assertThat(planned.statusCode()).as(planned.body()).isEqualTo(200);
        // The first that was started holds the clock.
        one.close();
        try {
            await().atMost(Duration.ofSeconds(7))
                    .untilAsserted(() -> assertThat(other.store().journal().since(1))
                            .extracting(c -> c.note())
                            .containsExactly("by itself"));
        } finally {
            one = other.joined(ThrowAwayPostgres.get(), url);
        }
        assertThat(other.get("/api/v1/policies/client-3").body()).contains("by itself");
    }

    @Test
    void serversComeBackByThemselvesWhenPostgresIsRestartedUnderLoad() throws Exception {
        AtomicBoolean over = new AtomicBoolean();
        Queue<String> acknowledged = new ConcurrentLinkedQueue<>();
        Queue<String> unexpected = new ConcurrentLinkedQueue<>();
        Queue<String> away = new ConcurrentLinkedQueue<>();
        List<Thread> clients = IntStream.range(0, 4)
                .mapToObj(c -> new Thread(() -> {
                    RunningServer server = c % 2 == 0 ? one : other;
                    for (int i = 0; !over.get() && i < 5000; i++) {
                        String note = "restart " + c + " " + i;
                        HttpResponse<String> response;
                        do {
                            response = server.send(
                                    "POST",
                                    "/api/v1/changes",
                                    change(1, note, describe(c, note)),
                                    "Idempotency-Key",
                                    note);
                            if (response.statusCode() == 503) {
                                String detail =
                                        Json.read(response.body()).get("detail").asText();
                                away.add(detail);
                                Thread.onSpinWait();
                            }
                        } while (response.statusCode() == 503);
                        if (response.statusCode() == 201) acknowledged.add(note);
                        else if (response.statusCode() != 409) unexpected.add(response.body());
                    }
                }))
                .toList();
        clients.forEach(Thread::start);
        await().until(() -> acknowledged.size() >= 4);
        ThrowAwayPostgres.get().restart();
        over.set(true);
        for (Thread client : clients) client.join(TimeUnit.MINUTES.toMillis(1));
        assertThat(unexpected).isEmpty();
        assertThat(away).isNotEmpty().allSatisfy(detail -> assertThat(detail).matches("The database .*\\."));
        List<String> stored = new java.util.ArrayList<>();
        one.store().journal().since(1).forEach(c -> stored.add(c.note()));
        assertThat(stored).doesNotHaveDuplicates().containsAll(acknowledged);
        long before = last(one);
        published(other, "afterwards", describe(5, "afterwards"));
        assertThat(one.store().journal().latest()).isGreaterThan(before - 1);
        alike();
    }
}
