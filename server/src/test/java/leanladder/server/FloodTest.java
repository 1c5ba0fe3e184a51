package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import ch.qos.logback.classic.Level;
import ch.qos.logback.classic.Logger;
import ch.qos.logback.classic.spi.ILoggingEvent;
import ch.qos.logback.core.read.ListAppender;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.Socket;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.slf4j.LoggerFactory;

/** One client takes all that a server has to give, and keeps it; others are answered all the same. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class FloodTest {
    /** Far more than a server takes that closes some beyond {@value #ROOM}. */
    private static final int MANY = 300;

    private static final int ROOM = 60;
    /** So many that what they come to does not fit into what the operating system keeps for a reader. */
    private static final int ACCOUNTS = 40_000;

    /** Less than it takes until a connection counts as idle, which would free what is held. */
    private static final Duration SOON = Duration.ofSeconds(20);

    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        ObjectNode estate =
                (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        for (int i = 0; i < ACCOUNTS; i++)
            ((ArrayNode) estate.get("accounts"))
                    .addObject()
                    .put("id", "deckhand-number-" + i)
                    .put("userName", "deckhand" + i + "@skerrymore.example")
                    .put("displayName", "Deckhand " + i)
                    .put("kind", "person")
                    .put("unit", "u3")
                    .put("active", true);
        System.setProperty("ladder.connections", String.valueOf(ROOM));
        try {
            server = RunningServer.start(ThrowAwayPostgres.get(), "flood_test", Path.of("no-web"), Json.write(estate))
                    .unchecked();
        } finally {
            System.clearProperty("ladder.connections");
        }
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static void othersAreAnswered() {
        for (int i = 0; i < 5; i++)
            await().atMost(SOON).untilAsserted(() -> {
                HttpResponse<String> read = server.get("/api/v1/climb?account=a1&setting=chat.private");
                assertThat(read.statusCode()).as(read.body()).isEqualTo(200);
                HttpResponse<String> written = server.send("POST", "/api/v1/drafts", "{}");
                assertThat(written.statusCode()).as(written.body()).isEqualTo(201);
            });
    }

    @Test
    void connectionsThatSendNothingKeepNobodyOut() throws Exception {
        try (Sockets silent = new Sockets(server.address())) {
            silent.open(MANY, "");
            othersAreAnswered();
        }
    }

    @Test
    void requestsThatAreNeverFinishedKeepNobodyOut() throws Exception {
        try (Sockets halves = new Sockets(server.address())) {
            halves.open(MANY, "GET /api/v1/session HTTP/1.1\r\nHo");
            othersAreAnswered();
            halves.open(
                    MANY,
                    halves.head("POST", "/api/v1/drafts")
                            + "Content-Type: application/json\r\nContent-Length: 1000\r\n\r\n{");
            othersAreAnswered();
        }
    }

    @Test
    void streamsThatFillTheServerMakeRoomForTheNextOne() throws Exception {
        try (Sockets streams = new Sockets(server.address())) {
            streams.open(MANY, streams.head("GET", "/api/v1/events") + "\r\n");
            othersAreAnswered();
            Socket another = streams.open(streams.head("GET", "/api/v1/events") + "\r\n");
            var lines = new BufferedReader(new InputStreamReader(another.getInputStream(), StandardCharsets.UTF_8));
            assertThat(lines.lines().anyMatch("event: start"::equals)).isTrue();
        }
    }

    @Test
    void streamsOfBothKindsLeaveRoomForSeveralOthersAtOnce() throws Exception {
        try (Sockets streams = new Sockets(server.address())) {
            streams.open(MANY, streams.head("GET", "/api/v1/events") + "\r\n");
            streams.open(
                    MANY,
                    streams.head("GET", "/api/v1/suite/changes") + "Authorization: Bearer " + RunningServer.SECRET
                            + "\r\n\r\n");
            await().atMost(SOON).ignoreExceptionsInstanceOf(IOException.class).untilAsserted(() -> {
                try (Sockets others = new Sockets(server.address())) {
                    List<Socket> tenAtOnce = new ArrayList<>();
                    for (int i = 0; i < 10; i++) tenAtOnce.add(others.open(others.head("GET", "/api/v1/session")));
                    for (Socket one : tenAtOnce) {
                        one.getOutputStream().write("\r\n".getBytes(StandardCharsets.US_ASCII));
                        assertThat(new String(one.getInputStream().readNBytes(12), StandardCharsets.US_ASCII))
                                .isEqualTo("HTTP/1.1 200");
                    }
                }
            });
        }
    }

    @Test
    void filesThatNobodyTakesKeepNobodyFromTheirs() throws Exception {
        HttpResponse<String> whole = server.get("/api/v1/estate");
        try (Sockets stalled = new Sockets(server.address())) {
            stalled.open(110, stalled.head("GET", "/api/v1/estate") + "\r\n");
            othersAreAnswered();
            await().atMost(Duration.ofSeconds(30))
                    .untilAsserted(() ->
                            assertThat(server.get("/api/v1/estate").body()).isEqualTo(whole.body()));
        }
    }

    @ParameterizedTest
    @CsvSource({"PUT, /api/v1/estate", "POST, /api/v1/drafts/1/edits"})
    void aLargeBodyThatComesTooSlowlyGivesItsPlaceBack(String method, String path) throws Exception {
        try (Sockets sockets = new Sockets(server.address())) {
            Socket slow = sockets.open(
                    sockets.head(method, path) + "Content-Type: application/json\r\nContent-Length: 5000000\r\n\r\n{");
            byte[] some = " ".repeat(100).getBytes(StandardCharsets.US_ASCII);
            await().atMost(Duration.ofSeconds(30))
                    .pollInterval(Duration.ofMillis(200))
                    .until(() -> {
                        slow.getOutputStream().write(some);
                        return slow.getInputStream().available() > 0;
                    });
            byte[] answer = new byte[slow.getInputStream().available()];
            assertThat(slow.getInputStream().read(answer)).isPositive();
            assertThat(new String(answer, StandardCharsets.US_ASCII)).startsWith("HTTP/1.1 408");
        }
    }

    @Test
    void largeBodiesThatComeSlowlyGiveWayToTheNextOne() throws Exception {
        ScheduledExecutorService pens = Executors.newSingleThreadScheduledExecutor();
        try (Sockets slow = new Sockets(server.address())) {
            String head = slow.head("PUT", "/api/v1/estate")
                    + "Content-Type: application/json\r\nContent-Length: 500000000\r\n\r\n{";
            List<Socket> places = new CopyOnWriteArrayList<>();
            // A hundred kilobytes a second: slow enough to give way, and not so slow as to be given up by itself.
            byte[] some = " ".repeat(10_000).getBytes(StandardCharsets.US_ASCII);
            pens.scheduleAtFixedRate(() -> places.forEach(p -> writtenTo(p, some)), 0, 100, TimeUnit.MILLISECONDS);
            for (int i = 0; i < 24 + 6; i++) places.add(slow.open(head));
            await().atMost(SOON).until(() -> answered(places).size() == 6);
            String another = slow.head("POST", "/api/v1/drafts")
                    + "Content-Type: application/json\r\nContent-Length: 5000000\r\n\r\n{";
            await().atMost(SOON)
                    .untilAsserted(() -> assertThat(answer(slow.open(another))).startsWith("HTTP/1.1 413"));
            await().atMost(SOON).until(() -> answered(places).size() == 7);
            List<String> answers = new ArrayList<>();
            for (Socket answered : answered(places)) answers.add(answer(answered));
            assertThat(answers).allMatch(a -> a.startsWith("HTTP/1.1 503"));
            assertThat(answers).anyMatch(a -> a.contains("this one came most slowly"));
        } finally {
            pens.shutdownNow();
        }
    }

    /** One that was answered takes no more. */
    private static void writtenTo(Socket socket, byte[] some) {
        try {
            if (socket.getInputStream().available() == 0)
                socket.getOutputStream().write(some);
        } catch (IOException ended) {
            LoggerFactory.getLogger(FloodTest.class).debug("A body was not taken to its end", ended);
        }
    }

    @Test
    void bodiesThatAreMoreThanSmallAndNeverFinishedAreHeldInFewPlaces() throws Exception {
        try (Sockets halves = new Sockets(server.address())) {
            String body = halves.head("POST", "/api/v1/drafts")
                    + "Content-Type: application/json\r\nContent-Length: 1000000\r\n\r\n{" + " ".repeat(900_000);
            int many = 40;
            List<Socket> sent = new ArrayList<>();
            ExecutorService senders = Executors.newFixedThreadPool(many);
            try {
                for (int i = 0; i < many; i++) {
                    Socket one = halves.open("");
                    sent.add(one);
                    senders.submit(() -> {
                        one.getOutputStream().write(body.getBytes(StandardCharsets.US_ASCII));
                        return null;
                    });
                }
                await().atMost(SOON).until(() -> answered(sent).size() >= many - 24);
                othersAreAnswered();
            } finally {
                senders.shutdownNow();
            }
        }
    }

    @Test
    void longAnswersThatNobodyTakesKeepNobodyOut() throws Exception {
        try (Sockets stalled = new Sockets(server.address())) {
            String asked = "/api/v1/outcomes?setting=chat.private&limit=20000";
            assertThat(server.get(asked).body().length()).isGreaterThan(3_000_000);
            stalled.open(110, stalled.head("GET", asked) + "\r\n");
            othersAreAnswered();
        }
    }

    @Test
    void aSmallBodyThatComesByteByByteIsWhole() throws Exception {
        try (Sockets slow = new Sockets(server.address())) {
            byte[] body = "{\"name\":\"Bit by bit\"}".getBytes(StandardCharsets.US_ASCII);
            Socket socket = slow.open(slow.head("POST", "/api/v1/drafts")
                    + "Content-Type: application/json\r\nContent-Length: " + body.length + "\r\n\r\n");
            socket.setTcpNoDelay(true);
            for (byte one : body) socket.getOutputStream().write(one);
            assertThat(answer(socket)).startsWith("HTTP/1.1 201").contains("Bit by bit");
        }
    }

    @Test
    void aClientThatLeavesBeforeItsBodyIsWholeIsNoErrorInTheLog() throws Exception {
        var log = (Logger) LoggerFactory.getLogger(Server.class);
        var lines = new ListAppender<ILoggingEvent>();
        lines.list = new CopyOnWriteArrayList<>();
        lines.start();
        log.setLevel(Level.INFO);
        log.addAppender(lines);
        try (Sockets leaving = new Sockets(server.address())) {
            leaving.open(
                    3,
                    leaving.head("PUT", "/api/v1/estate")
                            + "Content-Type: application/json\r\nContent-Length: 5000000\r\n\r\n{");
            leaving.close();
            await().atMost(SOON).until(() -> lines.list.size() >= 3);
            assertThat(lines.list)
                    .allMatch(line -> line.getLevel() == Level.INFO)
                    .allMatch(line -> line.getFormattedMessage().equals("PUT /api/v1/estate was ended by its client"));
        } finally {
            log.detachAppender(lines);
            log.setLevel(null);
        }
    }

    /** What is answered, a record as JSON, without its last brace. */
    private static String answer(Socket to) throws IOException {
        InputStream from = to.getInputStream();
        var answer = new StringBuilder();
        for (int next = from.read(); next >= 0 && next != '}'; next = from.read()) answer.append((char) next);
        return answer.toString();
    }

    private static List<Socket> answered(List<Socket> sockets) throws IOException {
        List<Socket> answered = new ArrayList<>();
        for (Socket socket : sockets) if (socket.getInputStream().available() > 0) answered.add(socket);
        return answered;
    }

    @Test
    void aFileIsPackedForThoseWhoTakeItSo() throws Exception {
        HttpResponse<String> plain = server.get("/api/v1/estate");
        try (Sockets sockets = new Sockets(server.address())) {
            Socket packed = sockets.open(
                    sockets.head("GET", "/api/v1/estate") + "Accept-Encoding: gzip\r\nConnection: close\r\n\r\n");
            byte[] answer = packed.getInputStream().readAllBytes();
            String text = new String(answer, StandardCharsets.ISO_8859_1);
            int head = text.indexOf("\r\n\r\n") + 4;
            assertThat(text.substring(0, head)).contains("Content-Encoding: gzip", "Content-Type: application/json");
            try (var unpacked = new java.util.zip.GZIPInputStream(
                    new java.io.ByteArrayInputStream(answer, head, answer.length - head))) {
                assertThat(new String(unpacked.readAllBytes(), StandardCharsets.UTF_8))
                        .isEqualTo(plain.body());
            }
        }
    }

    /** Tries again while it is told to, as clients do: a starved machine may be told that the database is slow. */
    private static JsonNode staged(JsonNode draft, String edit) {
        String body = "{\"version\":" + draft.get("version") + ",\"edits\":[" + edit + "]}";
        HttpResponse<String> answer = await().atMost(SOON)
                .until(
                        () -> server.send("POST", "/api/v1/drafts/" + draft.get("id") + "/edits", body),
                        got -> got.statusCode() != 503);
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
        return Json.read(answer.body());
    }

    private static JsonNode begun() {
        return Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
    }

    private static String group(String id) {
        return "{\"kind\":\"add-group\",\"group\":{\"id\":\"" + id + "\",\"name\":\"" + id
                + "\",\"purpose\":\"access\"}}";
    }

    @Test
    void aDraftTakesWhatItMayHoldAndThenSaysThatItIsFull() {
        System.setProperty("ladder.draft", "400");
        try {
            JsonNode draft = staged(begun(), group("deck-one"));
            HttpResponse<String> refused = server.send(
                    "POST",
                    "/api/v1/drafts/" + draft.get("id") + "/edits",
                    "{\"version\":" + draft.get("version") + ",\"edits\":["
                            + group("deck-two") + "," + group("deck-three") + "," + group("deck-four") + ","
                            + group("deck-five") + "]}");
            assertThat(refused.statusCode()).isEqualTo(413);
            assertThat(refused.body()).contains("may take 400 bytes", "nothing was staged");
            JsonNode kept =
                    Json.read(server.get("/api/v1/drafts/" + draft.get("id")).body());
            assertThat(kept.get("version")).isEqualTo(draft.get("version"));
            staged(kept, group("deck-two"));
        } finally {
            System.clearProperty("ladder.draft");
        }
    }

    @Test
    void allDraftsTogetherTakeWhatTheyMayAndThenNothingMoreIsStaged() {
        JsonNode draft = begun();
        System.setProperty("ladder.drafts", "1");
        try {
            HttpResponse<String> refused = server.send(
                    "POST",
                    "/api/v1/drafts/" + draft.get("id") + "/edits",
                    "{\"version\":1,\"edits\":[" + group("deck-five") + "]}");
            assertThat(refused.statusCode()).isEqualTo(413);
            assertThat(refused.body()).contains("All drafts together may take 1 bytes", "nothing was stored");
            assertThat(server.send("POST", "/api/v1/drafts", "{}").statusCode()).isEqualTo(413);
        } finally {
            System.clearProperty("ladder.drafts");
        }
        staged(draft, group("deck-five"));
    }

    @Test
    void aLargeDraftThatManyAskForAtOnceIsCarriedOverForOneAndSharedByTheOthers() throws Exception {
        StringBuilder members = new StringBuilder();
        for (int i = 0; i < ACCOUNTS; i++)
            members.append(i == 0 ? "" : ",")
                    .append("\"account:deckhand-number-")
                    .append(i)
                    .append('"');
        JsonNode draft = staged(begun(), "{\"kind\":\"put-members\",\"group\":\"g1\",\"who\":[" + members + "]}");
        // Another base, so that nobody finds it as it was.
        server.post("{\"base\":1,\"note\":\"\",\"edits\":[" + group("another") + "]}");
        ExecutorService threads = Executors.newFixedThreadPool(40);
        try {
            List<Future<HttpResponse<String>>> asked = new ArrayList<>();
            for (int i = 0; i < 40; i++)
                asked.add(threads.submit(() -> server.get("/api/v1/drafts/" + draft.get("id"))));
            othersAreAnswered();
            for (Future<HttpResponse<String>> one : asked) {
                assertThat(one.get().statusCode()).isIn(200, 503);
                if (one.get().statusCode() == 503)
                    assertThat(one.get().headers().firstValue("Retry-After")).contains("1");
            }
        } finally {
            threads.shutdownNow();
        }
        HttpResponse<String> whole = server.get("/api/v1/drafts/" + draft.get("id"));
        assertThat(whole.statusCode()).isEqualTo(200);
        assertThat(Json.read(server.get("/api/v1/drafts").body()).at("/drafts")).anySatisfy(line -> {
            assertThat(line.get("id")).isEqualTo(draft.get("id"));
            assertThat(line.get("edits").intValue()).isEqualTo(1);
        });
    }

    @Test
    void ofAVeryLongDraftItsEndsAreToldAndHowManyEditsItHolds() {
        String groups =
                IntStream.range(0, 1200).mapToObj(i -> group("crew-" + i)).collect(Collectors.joining(","));
        JsonNode draft = staged(begun(), groups);
        assertThat(draft.get("edits").intValue()).isEqualTo(1200);
        JsonNode items = draft.get("items");
        assertThat(items).hasSize(1000);
        assertThat(items.get(499).get("index").intValue()).isEqualTo(499);
        assertThat(items.get(500).get("index").intValue()).isEqualTo(700);
        assertThat(items.get(999).get("words").asText()).contains("crew-1199");
    }

    @Test
    void ofVeryManyThingsThatDoNotFitTheFirstAreTold() {
        String members = IntStream.range(0, 3000)
                .mapToObj(i -> "\"account:stowaway-" + i + "\"")
                .collect(Collectors.joining(","));
        JsonNode draft = begun();
        HttpResponse<String> refused = server.send(
                "POST",
                "/api/v1/drafts/" + draft.get("id") + "/edits",
                "{\"version\":1,\"edits\":[{\"kind\":\"put-members\",\"group\":\"g1\",\"who\":[" + members + "]}]}");
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body()).contains("3,000 things do not fit, of which the first 1,000 are told");
        assertThat(Json.read(refused.body()).get("defects")).hasSize(1000);
    }

    @Test
    void largeBodiesThatTogetherAreMoreThanMemoryHoldsWaitForOneAnother() throws Exception {
        String blank = " ".repeat(2 << 20);
        // More than what was never given back would leave room for.
        int many = (int) (Runtime.getRuntime().maxMemory() >> 26) / 3 + 12;
        ExecutorService threads = Executors.newFixedThreadPool(20);
        try {
            List<Future<Integer>> asked = new ArrayList<>();
            for (int i = 0; i < many; i++) {
                JsonNode draft = begun();
                asked.add(threads.submit(() -> server.send(
                                "POST",
                                "/api/v1/drafts/" + draft.get("id") + "/edits",
                                "{\"version\":1,\"edits\":[" + group("late") + "]" + blank + "}")
                        .statusCode()));
            }
            othersAreAnswered();
            for (Future<Integer> one : asked) assertThat(one.get()).isIn(200, 503);
        } finally {
            threads.shutdownNow();
        }
        JsonNode after = begun();
        assertThat(server.send(
                                "POST",
                                "/api/v1/drafts/" + after.get("id") + "/edits",
                                "{\"version\":1,\"edits\":[" + group("later") + "]" + blank + "}")
                        .statusCode())
                .as("what the others took was given back")
                .isEqualTo(200);
    }
}
