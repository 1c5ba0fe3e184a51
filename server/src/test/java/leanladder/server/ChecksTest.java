package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Checks that changes have arrived, with a suite that says what the test wants. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class ChecksTest {
    private final TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
    private HttpServer suite;
    private RunningServer server;
    private volatile boolean away;
    private volatile String late = "";
    private final List<String> asked = new CopyOnWriteArrayList<>();

    @BeforeEach
    void start() throws Exception {
        suite = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        suite.createContext("/api/report", this::report);
        suite.start();
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "checks_test",
                Json.write(new DemoEstate().build()),
                testClock,
                new Server.Endpoints(
                        Optional.of(Path.of("no-web")),
                        Optional.of("http://127.0.0.1:" + suite.getAddress().getPort()),
                        Optional.empty()));
    }

    @AfterEach
    void stop() {
        server.close();
        suite.stop(0);
    }

    /** Everybody has private chats by now, but for whoever is late. */
    private void report(HttpExchange call) throws IOException {
        JsonNode sent = Json.read(new String(call.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
        asked.add(sent.path("workspace").asText());
        ObjectNode answer = Json.NODES.objectNode();
        ArrayNode accounts = answer.putArray("accounts");
        sent.get("accounts").forEach(a -> {
            boolean isLate = a.asText().equals(late);
            ObjectNode row = accounts.addObject().put("account", a.asText()).put("value", !isLate);
            if (isLate) row.put("waitsFor", "sign-in");
        });
        boolean known = ("Bearer " + RunningServer.SECRET)
                .equals(call.getRequestHeaders().getFirst("Authorization"));
        byte[] bytes = Json.write(answer).getBytes(StandardCharsets.UTF_8);
        call.sendResponseHeaders(away || !known ? 503 : 200, bytes.length);
        call.getResponseBody().write(bytes);
        call.close();
    }

    private void write(String who) {
        write(who, "");
    }

    private void write(String who, String more) {
        HttpResponse<String> answer = server.send(
                "POST", "/api/v1/checks", "{\"who\":\"" + who + "\",\"setting\":\"chat.private\"" + more + "}");
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
    }

    private JsonNode check() {
        return Json.read(server.get("/api/v1/checks").body()).at("/checks/0");
    }

    private void looked(String state) {
        await().atMost(Duration.ofSeconds(30))
                .until(() -> check().get("state").asText().equals(state));
    }

    private boolean today(String topic, String words) {
        for (JsonNode matter : Json.read(server.get("/api/v1/today").body()).get("matters"))
            if (matter.get("topic").asText().equals(topic)
                    && matter.get("words").asText().equals(words)) return true;
        return false;
    }

    @Test
    void aCheckIsLookedAtWhenItHasSettledAndSaysForHowManyItHasArrived() {
        late = "rafael.osk";
        write("unit:shore-office-finance");
        assertThat(check().get("state").asText()).isEqualTo("waiting");
        assertThat(check().get("due").asText()).isEqualTo("2026-11-25T13:00:00Z");
        testClock.step(Duration.ofMinutes(61));
        looked("missing");
        int all = Json.read(server.get("/api/v1/directory/units/shore-office-finance")
                        .body())
                .get("accounts")
                .asInt();
        String words = "Arrived for " + (all - 1) + " of " + all + "; one has not signed in since.";
        assertThat(check().get("found").asText()).isEqualTo(words);
        assertThat(today("check", "“Talk between two” for Finance: a" + words.substring(1)))
                .isTrue();
        write("account:zofia.lisowa");
        looked("arrived");
        assertThat(check().get("found").asText()).isEqualTo("Arrived for 1 of 1.");
    }

    @Test
    void aCheckThatADraftCarriesBeginsWhenItIsPublishedAndGoesWithTheDraft() {
        String[] drafts = new String[2];
        for (int i = 0; i < 2; i++) {
            JsonNode made = Json.read(server.send("POST", "/api/v1/drafts", "{\"name\":\"Draft " + i + "\"}")
                    .body());
            drafts[i] = made.get("id").asText();
            String edit = "{\"kind\":\"add-policy\",\"policy\":{\"id\":\"m" + i
                    + "\",\"name\":\"Hers\",\"statements\":[{\"setting\":\"chat.private\",\"set\":true}],"
                    + "\"assignments\":[{\"include\":\"account:mirela.osk\"}]}}";
            server.send(
                    "POST",
                    "/api/v1/drafts/" + drafts[i] + "/edits",
                    "{\"version\":" + made.get("version") + ",\"edits\":[" + edit + "]}");
            write("account:mirela.osk", ",\"draft\":" + drafts[i]);
        }
        assertThat(check().get("due").isNull()).isTrue();
        assertThat(check().get("draft").asText()).isEqualTo(drafts[1]);
        testClock.step(Duration.ofMinutes(61));
        HttpResponse<String> published = server.send(
                "POST", "/api/v1/drafts/" + drafts[0] + "/publish", "{\"version\":2,\"note\":\"For the handover\"}");
        assertThat(published.statusCode()).as(published.body()).isLessThan(300);
        JsonNode begun = Json.read(server.get("/api/v1/checks").body()).at("/checks/1");
        assertThat(begun.get("due").asText()).isEqualTo("2026-11-25T14:01:00Z");
        assertThat(begun.get("draft").isNull()).isTrue();
        assertThat(begun.get("change")).isEqualTo(Json.read(published.body()).get("number"));
        assertThat(server.send("DELETE", "/api/v1/drafts/" + drafts[1] + "?version=2", "")
                        .statusCode())
                .isEqualTo(204);
        assertThat(Json.read(server.get("/api/v1/checks").body()).get("checks")).hasSize(1);
        testClock.step(Duration.ofMinutes(61));
        looked("arrived");
    }

    @Test
    void aCheckInAWorkspaceAsksWhatStandsThere() {
        write("account:mirela.osk", ",\"workspace\":\"safety-board\"");
        assertThat(check().get("words").asText()).isEqualTo("“Talk between two” for Mirela Osk in Safety board");
        testClock.step(Duration.ofMinutes(61));
        await().atMost(Duration.ofSeconds(30)).until(() -> asked.contains("safety-board"));
        await().atMost(Duration.ofSeconds(30))
                .until(() -> !check().get("state").asText().equals("waiting"));
        assertThat(server.get("/api/v1/today").body())
                .contains("/ladder?who=account:mirela.osk&what=setting:chat.private&where=workspace:safety-board");
        assertThat(server.send(
                                "POST",
                                "/api/v1/checks",
                                "{\"who\":\"everyone\",\"setting\":\"chat.private\",\"workspace\":\"nowhere\"}")
                        .statusCode())
                .isEqualTo(422);
    }

    @Test
    void whereTheSuiteIsAwayItIsAskedAgain() {
        away = true;
        write("account:zofia.lisowa");
        testClock.step(Duration.ofMinutes(61));
        await().during(Duration.ofSeconds(2))
                .atMost(Duration.ofSeconds(5))
                .until(() -> check().get("state").asText().equals("waiting"));
        away = false;
        looked("arrived");
    }

    @Test
    void aCheckOfNobodyIsRefusedAndOneCanBeTakenAway() {
        assertThat(server.send("POST", "/api/v1/checks", "{\"who\":\"unit:nowhere\",\"setting\":\"chat.private\"}")
                        .statusCode())
                .isEqualTo(422);
        assertThat(server.send("POST", "/api/v1/checks", "{\"who\":\"everyone\",\"setting\":\"chat.nothing\"}")
                        .statusCode())
                .isEqualTo(422);
        assertThat(server.send("POST", "/api/v1/checks", "{}").statusCode()).isEqualTo(422);
        write("everyone");
        String path = "/api/v1/checks/" + check().get("id");
        assertThat(server.send("DELETE", path, "").statusCode()).isEqualTo(204);
        assertThat(server.send("DELETE", path, "").statusCode()).isEqualTo(404);
    }
}
