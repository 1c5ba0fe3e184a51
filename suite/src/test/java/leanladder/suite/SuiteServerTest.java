package leanladder.suite;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.InstantSource;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The suite beside a Lean Ladder that answers what the test wants. */
@Timeout(30)
class SuiteServerTest {
    private static final Instant NOW = Instant.parse("2026-11-25T12:00:00Z");
    private final List<String> asked = new CopyOnWriteArrayList<>();
    private final HttpClient client = HttpClient.newHttpClient();
    private HttpServer ladder;
    private SuiteServer suite;
    private volatile int status = 200;
    private volatile Instant now = NOW;
    private volatile boolean publishedMeanwhile;

    @BeforeEach
    void start() throws IOException {
        ladder = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        ladder.createContext("/", this::answer);
        ladder.start();
        suite = new SuiteServer(
                "http://127.0.0.1:" + ladder.getAddress().getPort(),
                "secret",
                ((InstantSource) () -> now).withZone(ZoneOffset.UTC),
                Optional.empty(),
                0);
        suite.start();
    }

    @AfterEach
    void stop() {
        suite.close();
        ladder.stop(0);
    }

    private void answer(HttpExchange call) throws IOException {
        String path = call.getRequestURI().getPath().replace("/api/v1", "");
        asked.add(call.getRequestMethod() + " " + path + " "
                + call.getRequestHeaders().getFirst("If-None-Match") + " "
                + call.getRequestHeaders().getFirst("Authorization"));
        String body = "{}";
        int answer = status;
        if (path.equals("/catalogue"))
            body =
                    "{\"settings\":[{\"key\":\"chat.private\",\"app\":\"chat\",\"settles\":{\"minMinutes\":5,\"maxMinutes\":60}},{\"key\":\"chat.stickers\",\"app\":\"chat\",\"settles\":{\"minMinutes\":0,\"maxMinutes\":0}}]}";
        if (path.endsWith("/settings")) {
            call.getResponseHeaders().add("ETag", "\"one\"");
            if ("\"one\"".equals(call.getRequestHeaders().getFirst("If-None-Match"))) answer = 304;
        }
        if (path.endsWith("/settings") && publishedMeanwhile) now = NOW.plusSeconds(1);
        if (path.endsWith("/history") && publishedMeanwhile)
            body = history(call.getRequestURI().getQuery());
        else if (path.endsWith("/history"))
            body =
                    "{\"turns\":[{\"at\":\"2026-11-20T00:00:00Z\",\"settings\":[{\"key\":\"chat.private\",\"value\":true,\"shown\":\"there\",\"notice\":null}]}]}";
        if (path.endsWith("/consents")) {
            answer = 422;
            body = "{\"detail\":\"It does not fit.\",\"defects\":[{\"message\":\"has consented already\"}]}";
        }
        byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
        call.sendResponseHeaders(answer, answer == 304 ? -1 : bytes.length);
        if (answer != 304)
            try (OutputStream out = call.getResponseBody()) {
                out.write(bytes);
            }
        call.close();
    }

    /** Of a setting that was altered half a second after {@link #NOW}. */
    private static String history(String query) {
        String turn =
                "{\"at\":\"%s\",\"settings\":[{\"key\":\"chat.stickers\",\"value\":%s,\"shown\":\"there\",\"notice\":null}]}";
        String first = turn.formatted("2026-11-20T00:00:00Z", false);
        return "{\"turns\":[" + first
                + (query.contains("until=" + NOW) ? "" : "," + turn.formatted(NOW.plusMillis(500), true)) + "]}";
    }

    private HttpResponse<String> send(String method, String path, String body, String... headers) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + suite.port() + path))
                .method(method, HttpRequest.BodyPublishers.ofString(body));
        if (headers.length > 0) request.headers(headers);
        return client.send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    private String open() throws Exception {
        HttpResponse<String> page = send("POST", "/api/pages", "{\"account\":\"mirela\"}");
        assertThat(page.statusCode()).as(page.body()).isEqualTo(201);
        return "/api/pages/" + Json.MAPPER.readTree(page.body()).get("page").asText();
    }

    private long times(String path) {
        return asked.stream().filter(a -> a.contains(path)).count();
    }

    @Test
    void anAccountIsFetchedWithTheSecretOnceAndThenOnlyWithItsTag() throws Exception {
        String page = open();
        send("GET", page, "");
        assertThat(times("/history")).isEqualTo(1);
        assertThat(asked).contains("GET /suite/accounts/mirela/settings null Bearer secret");
        // The stream of this Lean Ladder ends at once, so it has to be asked each time; with the tag that costs
        // nothing.
        assertThat(asked).contains("GET /suite/accounts/mirela/settings \"one\" Bearer secret");
    }

    @Test
    void whatIsPublishedWhileAnAccountIsFetchedIsNotMissed() throws Exception {
        publishedMeanwhile = true;
        String page = open();
        assertThat(send("GET", page, "").body()).contains("\"key\":\"chat.stickers\",\"value\":true");
    }

    @Test
    void aPagesClockOnlyGoesForwardAndSaysWhatIsWrong() throws Exception {
        String page = open();
        assertThat(send("POST", page + "/clock", "{\"at\":\"2026-11-26T12:00:00Z\"}")
                        .statusCode())
                .isEqualTo(200);
        HttpResponse<String> back = send("POST", page + "/clock", "{\"at\":\"2026-11-25T13:00:00Z\"}");
        assertThat(back.statusCode()).isEqualTo(422);
        assertThat(back.body()).contains("only goes forward");
        assertThat(send("POST", page + "/clock", "{\"at\":\"2027-11-26T12:00:00Z\"}")
                        .statusCode())
                .isEqualTo(422);
        assertThat(send("POST", page + "/clock", "{\"at\":\"tomorrow\"}").body())
                .contains("is not an instant");
        assertThat(send("POST", page + "/deeds", "{\"deed\":\"nothing\"}").statusCode())
                .isEqualTo(422);
        assertThat(send("POST", page + "/deeds", "[]").statusCode()).isEqualTo(400);
        assertThat(send("GET", "/api/pages/none", "").statusCode()).isEqualTo(404);
        assertThat(send("GET", "/api/nothing", "").statusCode()).isEqualTo(404);
    }

    @Test
    void whatLeanLadderRefusesIsSaidWithItsOwnSentence() throws Exception {
        HttpResponse<String> answer = send("POST", open() + "/words/consents", "{\"ring\":\"dry-dock\"}");
        assertThat(answer.statusCode()).isEqualTo(422);
        assertThat(answer.body()).contains("It does not fit. has consented already");
        assertThat(send("POST", open() + "/words/changes", "{}").statusCode()).isEqualTo(404);
    }

    @Test
    void aLeanLadderThatFailsIsSaidPlainly() throws Exception {
        String page = open();
        status = 503;
        HttpResponse<String> answer = send("GET", page + "/coming", "");
        assertThat(answer.statusCode()).isEqualTo(503);
        assertThat(answer.body()).contains("Lean Ladder does not answer at the moment");
    }

    @Test
    void pagesFromElsewhereMayNotSpeakForAnybody() throws Exception {
        String page = open();
        assertThat(send("POST", page + "/deeds", "{\"deed\":\"restart\"}", "Origin", "http://elsewhere.example")
                        .statusCode())
                .isEqualTo(403);
        assertThat(send("POST", page + "/deeds", "{\"deed\":\"restart\"}", "Sec-Fetch-Site", "cross-site")
                        .statusCode())
                .isEqualTo(403);
    }
}
