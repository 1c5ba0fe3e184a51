package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What keeps the server well when clients are slow, greedy, hostile or merely wrong. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class GuardsTest {
    private static final Duration SOON = Duration.ofSeconds(2);
    private static RunningServer server;
    private static int port;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                        ThrowAwayPostgres.get(),
                        "guards_test",
                        Path.of("no-web"),
                        Files.readString(Path.of("../core/src/test/resources/small-estate.json")))
                .unchecked();
        port = URI.create(server.address()).getPort();
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static Socket connected(String request) throws IOException {
        return Sockets.connected(port, request);
    }

    private static String head(String method, String path) {
        return Sockets.head(port, method, path);
    }

    private static Duration time(Runnable task) {
        Instant began = Instant.now();
        task.run();
        return Duration.between(began, Instant.now());
    }

    @Test
    void manyBodiesThatTrickleInHoldNobodyUp() throws Exception {
        try (Sockets slow = new Sockets(server.address())) {
            slow.open(
                    300,
                    head("POST", "/api/v1/drafts") + "Content-Type: application/json\r\nContent-Length: 1000\r\n\r\n{");
            for (int i = 0; i < 5; i++) {
                assertThat(time(() -> server.get("/api/v1/climb?account=a1&setting=chat.private")))
                        .isLessThan(SOON);
                assertThat(time(() -> server.send("POST", "/api/v1/drafts", "{}")))
                        .isLessThan(SOON);
            }
        }
    }

    @Test
    void stalledExportsLeaveTheDatabaseToOthers() throws Exception {
        try (Sockets stalled = new Sockets(server.address())) {
            stalled.open(12, head("GET", "/api/v1/estate") + "\r\n");
            assertThat(time(() -> assertThat(
                                    server.send("POST", "/api/v1/drafts", "{}").statusCode())
                            .isEqualTo(201)))
                    .isLessThan(SOON);
            assertThat(server.get("/api/v1/changes").statusCode()).isEqualTo(200);
        }
    }

    @Test
    void streamsThatNobodyReadsDelayNobodyElse() throws Exception {
        try (Sockets sockets = new Sockets(server.address())) {
            sockets.open(4, head("GET", "/api/v1/events") + "\r\n");
            Socket reader = sockets.open(head("GET", "/api/v1/events") + "\r\n");
            BufferedReader lines =
                    new BufferedReader(new InputStreamReader(reader.getInputStream(), StandardCharsets.UTF_8));
            awaitLine(lines, "event: start");
            for (int i = 0; i < 50; i++) {
                server.send("POST", "/api/v1/drafts", "{}");
                assertThat(time(() -> awaitLine(lines, "event: draft"))).isLessThan(SOON);
            }
        }
    }

    private static void awaitLine(BufferedReader lines, String wanted) {
        try {
            for (String line; (line = lines.readLine()) != null; ) if (line.equals(wanted)) return;
            throw new AssertionError("The stream ended before \"" + wanted + "\"");
        } catch (IOException e) {
            throw new AssertionError(e);
        }
    }

    @ParameterizedTest
    @CsvSource({
        "DELETE, /api/v1/session, 'GET, HEAD'",
        "PUT, /api/v1/drafts/1/publish, POST",
        "POST, /api/v1/distribution, 'GET, HEAD'",
        "TRACE, /api/v1/estate, 'GET, HEAD, PUT'"
    })
    void aWrongVerbIsToldWhichOnesThereAre(String method, String path, String allowed) {
        HttpResponse<String> refused = server.send(method, path, "");
        assertThat(refused.statusCode()).isEqualTo(405);
        assertThat(refused.headers().firstValue("Allow")).contains(allowed);
    }

    @Test
    void aBodyOfAnotherTypeIsRefusedAndOneOfNoneIsReadAsJson() {
        for (String type :
                List.of("text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"))
            assertThat(server.send("POST", "/api/v1/drafts", "{}", "Content-Type", type)
                            .statusCode())
                    .as(type)
                    .isEqualTo(415);
        for (String type :
                List.of("application/json", "application/json; charset=utf-8", "application/merge-patch+json"))
            assertThat(server.send("POST", "/api/v1/drafts", "{}", "Content-Type", type)
                            .statusCode())
                    .as(type)
                    .isEqualTo(201);
        assertThat(server.send("POST", "/api/v1/drafts", "{}").statusCode()).isEqualTo(201);
    }

    @Test
    void aBodyThatIsPackedIsRefusedInWords() {
        for (String path : List.of("/api/v1/drafts", "/api/v1/imports/people")) {
            HttpResponse<String> refused = server.send("POST", path, "{}", "Content-Encoding", "gzip");
            assertThat(refused.statusCode()).as(refused.body()).isEqualTo(415);
            assertThat(refused.body()).contains("The body is sent as gzip; send it as it is");
        }
        assertThat(server.send("POST", "/api/v1/drafts", "{}", "Content-Encoding", "identity")
                        .statusCode())
                .isEqualTo(201);
    }

    @Test
    void theCharacterThatTheDatabaseCannotHoldIsRefusedWithItsPlace() {
        HttpResponse<String> refused = server.send("POST", "/api/v1/drafts", "{\"name\":\"a\\u0000b\"}");
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(Json.read(refused.body()).at("/defects/0/pointer").asText()).isEqualTo("/name");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "GET /\u0001 HTTP/1.1\r\nHost: x\r\n\r\n",
                "BOGUS\r\n\r\n",
                "GET /api/v1/calendars/%00 HTTP/1.1\r\nHost: x\r\n\r\n",
                "POST /api/v1/drafts HTTP/1.1\r\nHost: x\r\nContent-Length: 5\r\nTransfer-Encoding: chunked\r\n\r\n"
            })
    void whatCannotBeReadAtAllIsAProblemToo(String request) throws Exception {
        try (Socket socket = connected(request)) {
            String answer = new String(socket.getInputStream().readNBytes(900), StandardCharsets.UTF_8);
            assertThat(answer)
                    .startsWith("HTTP/1.1 400")
                    .contains("application/problem+json")
                    .doesNotContain("<html");
        }
    }

    @Test
    void aPageElsewhereCannotAskAndALinkFromItMayLeadHere() throws Exception {
        for (String site : List.of("cross-site", "same-site")) {
            try (Socket socket = connected(
                    head("GET", "/api/v1/session") + "Sec-Fetch-Site: " + site + "\r\nConnection: close\r\n\r\n")) {
                assertThat(new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
                        .startsWith("HTTP/1.1 403");
            }
        }
        try (Socket socket = connected(
                head("GET", "/ladder")
                        + "Sec-Fetch-Site: cross-site\r\nSec-Fetch-Mode: navigate\r\nSec-Fetch-Dest: document\r\nConnection: close\r\n\r\n")) {
            assertThat(new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
                    .doesNotStartWith("HTTP/1.1 403");
        }
    }

    @Test
    void answersAreKeptByNobodyAndPagesTakeNothingFromElsewhere() {
        HttpResponse<String> answer = server.get("/api/v1/session");
        assertThat(answer.headers().firstValue("Cache-Control")).contains("no-store");
        assertThat(answer.headers().firstValue("Content-Security-Policy").orElse(""))
                .contains("default-src 'self'", "base-uri 'none'", "form-action 'self'")
                .doesNotContain("unsafe");
        assertThat(answer.headers().firstValue("Cross-Origin-Resource-Policy")).contains("same-origin");
        assertThat(answer.headers().firstValue("Cross-Origin-Opener-Policy")).contains("same-origin");
    }

    @Test
    void aProblemNamesTheRequestThatTheLogNames() {
        HttpResponse<String> refused = server.send("GET", "/api/v1/climb", "", "X-Request-Id", "my-own-1");
        assertThat(refused.headers().firstValue("X-Request-Id")).contains("my-own-1");
        assertThat(Json.read(refused.body()).get("request").asText()).isEqualTo("my-own-1");
        HttpResponse<String> other = server.send("GET", "/api/v1/climb", "", "X-Request-Id", "not/one");
        assertThat(Json.read(other.body()).get("request").asText())
                .isNotEqualTo("not/one")
                .isNotEmpty();
    }

    @Test
    void theServerSaysHowItIs() {
        JsonNode health = Json.read(server.get("/health/ready").body());
        assertThat(health.get("ready").asBoolean()).isTrue();
        assertThat(health.get("change").asInt()).isPositive();
        assertThat(health.get("parts").findValuesAsText("name"))
                .startsWith("database", "follower", "storage", "estate")
                .contains("task: scheduled drafts", "task: mail");
        server.get("/api/v1/session");
        assertThat(server.get("/metrics").body())
                .contains("lean_ladder_requests_seconds_count{method=\"GET\",route=\"/api/v1/session\",status=\"200\"}")
                .contains("lean_ladder_journal_changes")
                .contains("jvm_memory_used_bytes");
    }

    @Test
    void aFileInAnotherEncodingIsToldWhichItLooksLike() throws Exception {
        for (var file : java.util.Map.of(
                        StandardCharsets.UTF_16,
                        "UTF-16",
                        java.nio.charset.Charset.forName("windows-1252"),
                        "Windows-1252")
                .entrySet()) {
            byte[] body = "id,name\na1,Zoë Überfahrt\n".getBytes(file.getKey());
            try (Socket socket = connected(head("POST", "/api/v1/imports/people")
                    + "Content-Type: text/csv\r\nConnection: close\r\nContent-Length: " + body.length + "\r\n\r\n")) {
                socket.getOutputStream().write(body);
                assertThat(new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
                        .startsWith("HTTP/1.1 400")
                        .contains("not UTF-8 text; it looks like " + file.getValue());
            }
        }
    }

    @Test
    void aClientThatAsksTooOftenIsToldWhenToTryAgainAndHealthIsStillTold() throws Exception {
        System.setProperty("ladder.rate", "5");
        try (RunningServer strict = RunningServer.start(
                        ThrowAwayPostgres.get(),
                        "guards_rate_test",
                        Path.of("no-web"),
                        Files.readString(Path.of("../core/src/test/resources/small-estate.json")))
                .unchecked()) {
            HttpResponse<String> refused = null;
            for (int i = 0; i < 100 && refused == null; i++) {
                HttpResponse<String> answer = strict.get("/api/v1/session");
                if (answer.statusCode() != 200) refused = answer;
            }
            assertThat(refused).as("one of a hundred at once is refused").isNotNull();
            assertThat(refused.statusCode()).isEqualTo(429);
            assertThat(refused.headers().firstValue("Retry-After")).contains("1");
            assertThat(refused.body()).contains("wait a second and go on");
            assertThat(strict.get("/health/live").statusCode()).isEqualTo(200);
        } finally {
            System.clearProperty("ladder.rate");
        }
    }

    @Test
    void aBodyThatComesMoreSlowlyThanABoundIsGivenUp() throws Exception {
        try (Socket slow = connected(
                head("POST", "/api/v1/drafts") + "Content-Type: application/json\r\nContent-Length: 100000\r\n\r\n{")) {
            org.awaitility.Awaitility.await()
                    .atMost(Duration.ofSeconds(60))
                    .pollInterval(Duration.ofMillis(200))
                    .until(() -> {
                        try {
                            slow.getOutputStream().write(' ');
                            slow.getOutputStream().flush();
                            return slow.getInputStream().available() > 0;
                        } catch (IOException gone) {
                            return true;
                        }
                    });
        }
    }

    @Test
    void theDescriptionTellsTheLimits() {
        assertThat(Json.read(server.get("/api/v1/openapi.json").body())
                        .at("/info/description")
                        .asText())
                .contains("An ordinary body holds at most 1,048,576 bytes")
                .contains("A note has at most 4,000 characters");
    }
}
