package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.Socket;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.stream.IntStream;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is sent and asked in ways that are easily read wrongly. */
@Timeout(60)
class InputTest {
    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "input_test",
                Path.of("no-web"),
                Files.readString(Path.of("../core/src/test/resources/small-estate.json")),
                Clock.fixed(Instant.parse("2026-11-20T08:00:00Z"), ZoneOffset.UTC));
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static JsonNode json(String path) {
        HttpResponse<String> response = server.get("/api/v1" + path);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return Json.read(response.body());
    }

    @Test
    void whomAPolicyReachesIsAnsweredForTheInstantAskedAbout() {
        // The window of the account by name ends on 1 December 2026.
        JsonNode before = json("/policies/p1/reaches?at=2026-11-30T23:00:00Z");
        JsonNode after = json("/policies/p1/reaches?at=2027-01-01T00:00:00Z");
        assertThat(before.get("reached").asInt()).isEqualTo(after.get("reached").asInt() + 1);
        assertThat(before.get("people").findValuesAsText("account")).contains("a1");
        assertThat(after.get("people").findValuesAsText("account")).doesNotContain("a1");
    }

    @Test
    void whatAPolicyDoesInAWorkspaceIsAnsweredForThatWorkspace() {
        assertThat(json("/policies/p2/reaches?workspace=w1").get("people").findValuesAsText("way"))
                .isNotEqualTo(json("/policies/p2/reaches").get("people").findValuesAsText("way"));
    }

    @Test
    void everyPolicyThatReachesAnAccountIsListedWithTheWayInAndThoseThatLeaveItOutWithTheReason() {
        JsonNode of = json("/accounts/a1/policies?at=2027-01-01T00:00:00Z").get("policies");
        assertThat(of.findValuesAsText("policy")).contains("p1", "p2");
        for (JsonNode policy : of)
            assertThat(policy.get("reason").isNull())
                    .as("%s is reached, or told why not", policy)
                    .isEqualTo(policy.get("standing").asText().equals("reaches"));
    }

    @Test
    void linesOfAnImportAreCountedAsAnEditorCountsThemAfterBlankOnes() {
        HttpResponse<String> response = server.send(
                "POST",
                "/api/v1/imports/members",
                "group,member\n\n\ng1,tobin@skerrymore.example\n\ng1,nobody@x.example\n");
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        assertThat(Json.read(response.body()).get("lines").findValuesAsText("line"))
                .containsExactly("4", "6");
    }

    @Test
    void theFirstRowOfAListMayBeAskedForByItsNumber() {
        assertThat(json("/directory/people?from=0").get("rows"))
                .isEqualTo(json("/directory/people").get("rows"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"/api/v1/changes", "/api/v1/addresses", "/api/v1/drafts"})
    void aBodyThatIsLargerThanTheRouteReadsIsRefusedBeforeItIsHeld(String path) throws Exception {
        // The answer comes on what the head of the request says; nothing of the body is sent, so that nothing of it can
        // be cut off.
        URI server = URI.create(InputTest.server.address());
        try (Socket socket = new Socket(server.getHost(), server.getPort())) {
            socket.setSoTimeout(20_000);
            String head = "POST " + path + " HTTP/1.1\r\nHost: " + server.getAuthority()
                    + "\r\nContent-Type: application/json\r\nConnection: close\r\nContent-Length: " + (70 << 20)
                    + "\r\n\r\n";
            socket.getOutputStream().write(head.getBytes(StandardCharsets.US_ASCII));
            String answer = new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            assertThat(answer).startsWith("HTTP/1.1 413").contains("too large");
        }
        assertThat(json("/session").get("change").asInt()).isEqualTo(1);
    }

    @Test
    void aSearchForAThousandWordsIsRefusedOrAnsweredAtOnce() {
        String words = String.join(
                " ", IntStream.range(0, 1100).mapToObj(i -> "wrod" + i).toList());
        HttpResponse<String> response =
                server.get("/api/v1/search?q=" + URLEncoder.encode(words, StandardCharsets.UTF_8));
        assertThat(response.statusCode()).isIn(200, 400, 414, 431);
    }

    @ParameterizedTest
    @ValueSource(strings = {"everyone private", "fleet private", "bridge officers private", "heron private"})
    void freeTypingReadsUnitsGroupsAndEveryoneAsWho(String typed) {
        JsonNode readings = json("/search?q=" + typed.replace(" ", "+")).get("readings");
        assertThat(readings).as(typed).isNotEmpty();
        assertThat(readings.get(0).at("/who/kind").asText()).isIn("everyone", "unit", "group");
        assertThat(readings.get(0).at("/what/id").asText()).isEqualTo("chat.private");
    }

    @Test
    void theOverviewAddsUpToEveryCell() {
        JsonNode overview = json("/overview");
        long cells = 0;
        for (JsonNode rung : overview.get("rungs")) cells += rung.get("cells").asLong();
        assertThat(cells)
                .isEqualTo(overview.get("cells").asLong())
                .isEqualTo(overview.get("accounts").asLong()
                        * overview.get("settings").asLong());
        JsonNode outcomes = json("/outcomes?limit=5000").get("outcomes");
        for (JsonNode rung : overview.get("rungs"))
            assertThat(outcomes.findValuesAsText("rung").stream()
                            .filter(rung.get("height").asText()::equals))
                    .as(rung.get("height").asText())
                    .hasSize(rung.get("cells").asInt());
    }

    @Test
    void aNumberWithAnExponentBeyondAllBoundsIsRefusedAndSaysSo() {
        String huge = "9e9999999999999999";
        HttpResponse<String> edit = server.post("{\"base\":1,\"edits\":[" + huge + "]}");
        assertThat(edit.statusCode()).isEqualTo(400);
        assertThat(edit.body()).contains("A number has an exponent that is too large to be read");
        HttpResponse<String> file = server.send("PUT", "/api/v1/estate", "{\"format\":" + huge + "}");
        assertThat(file.statusCode()).as(file.body()).isEqualTo(422);
        assertThat(file.body()).contains("exponent");
        assertThat(server.get("/api/v1/ways?target=account:a1&setting=chat.private&value=" + huge)
                        .statusCode())
                .isEqualTo(400);
    }
}
