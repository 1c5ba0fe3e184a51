package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What can be on a screen while changes are on their way, read off the journal. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class SettlingRouteTest {
    private final TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        ObjectNode estate =
                (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        for (JsonNode setting : estate.at("/catalogue/settings"))
            if (setting.get("key").asText().equals("chat.private"))
                ((ObjectNode) setting)
                        .putObject("settles")
                        .put("minMinutes", 5)
                        .put("maxMinutes", 60)
                        .put("then", "restart");
        server = RunningServer.start(
                ThrowAwayPostgres.get(), "settling_test", Path.of("no-web"), Json.write(estate), testClock);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode settling(String account) {
        var response = server.get("/api/v1/settling?account=" + account + "&setting=chat.private");
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return Json.read(response.body());
    }

    private JsonNode get(String path) {
        var response = server.get("/api/v1/" + path);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return Json.read(response.body());
    }

    private void publish(String edit) {
        long change =
                Json.read(server.get("/api/v1/session").body()).get("change").asLong();
        var response = server.post(("{'base':" + change + ",'edits':[" + edit + "]}").replace('\'', '"'));
        assertThat(response.statusCode()).as(response.body()).isEqualTo(201);
    }

    private void later(int minutes) {
        testClock.step(Duration.ofMinutes(minutes));
    }

    @Test
    void aChangeIsComingThenEitherThenSettledAndAnUndoOnTheWayIsNotSettledTooSoon() {
        later(120);
        JsonNode before = settling("a1");
        assertThat(before.get("state").asText()).isEqualTo("settled");
        assertThat(before.get("words").asText()).isEmpty();
        String was = before.at("/possible/0/words").asText();
        publish("{'kind':'amend-policy','policy':'p1','members':{'state':'paused'}}");
        JsonNode coming = settling("a1");
        assertThat(coming.get("state").asText()).isEqualTo("coming");
        assertThat(coming.get("possible")).hasSize(1);
        assertThat(coming.get("from").asText()).isEqualTo("2026-11-25T14:05:00Z");
        assertThat(coming.get("until").asText()).isEqualTo("2026-11-25T15:00:00Z");
        assertThat(coming.get("then").asText()).isEqualTo("restart");
        assertThat(coming.get("words").asText())
                .startsWith("On the screen it is still " + was)
                .endsWith(" at the latest, after a restart.");
        later(10);
        assertThat(settling("a1").get("state").asText()).isEqualTo("either");
        publish("{'kind':'amend-policy','policy':'p1','members':{'state':'live'}}");
        later(55);
        // The first change must have arrived by now, and its undo need not have.
        JsonNode undone = settling("a1");
        assertThat(undone.get("state").asText()).isEqualTo("either");
        assertThat(undone.get("possible")).hasSize(2);
        assertThat(undone.get("until").asText()).isEqualTo("2026-11-25T15:10:00Z");
        later(5);
        JsonNode settled = settling("a1");
        assertThat(settled.get("state").asText()).isEqualTo("settled");
        assertThat(settled.at("/possible/0/words").asText()).isEqualTo(was);
    }

    @Test
    void whoeverIsActiveAgainBeginsAnew() {
        later(120);
        publish("{'kind':'amend-account','account':'a1','members':{'active':false}}");
        later(1);
        publish("{'kind':'amend-account','account':'a1','members':{'active':true}}");
        later(1);
        assertThat(settling("a1").get("state").asText()).isEqualTo("settled");
    }

    @Test
    void whatAWindowBringsByItselfIsOnItsWayFromItsOwnEdge() {
        later(120);
        publish("{'kind':'remove-policy','policy':'p1'}");
        publish(
                "{'kind':'add-policy','policy':{'id':'w','name':'Later','statements':[{'setting':'chat.private','set':false}],"
                        + "'assignments':[{'include':'account:a1','from':'2026-11-25T16:00:00Z'}]}}");
        later(115);
        assertThat(settling("a1").get("state").asText()).isEqualTo("settled");
        later(7);
        JsonNode coming = settling("a1");
        assertThat(coming.get("state").asText()).isEqualTo("coming");
        assertThat(coming.get("from").asText()).isEqualTo("2026-11-25T16:05:00Z");
    }

    @Test
    void whatAChangeBringsLaterIsOnItsWayThoughItAlteredAnotherSettingAtOnce() {
        later(120);
        publish("{'kind':'remove-policy','policy':'p1'}");
        later(120);
        String was = settling("a1").at("/possible/0/words").asText();
        publish(
                "{'kind':'add-policy','policy':{'id':'now','name':'At once','statements':[{'setting':'files.keep','set':45}],'assignments':[{'include':'account:a1'}]}},"
                        + "{'kind':'add-policy','policy':{'id':'w','name':'Later','statements':[{'setting':'chat.private','set':false}],"
                        + "'assignments':[{'include':'account:a1','from':'2026-11-25T16:10:00Z'}]}}");
        later(20);
        publish("{'kind':'remove-policy','policy':'w'}");
        later(1);
        // For ten minutes it was off, and that may be on the screen.
        JsonNode settling = settling("a1");
        assertThat(settling.get("state").asText()).isEqualTo("either");
        assertThat(settling.get("possible")).hasSize(2);
        assertThat(settling.at("/possible/0/words").asText()).isEqualTo(was);
    }

    @Test
    void changesThatAreOnTheirWayAreListedUntilTheLastOfThemIsThere() {
        later(120);
        assertThat(get("settling/changes").get("changes")).isEmpty();
        publish("{'kind':'amend-policy','policy':'p1','members':{'state':'paused'}}");
        JsonNode told = get("settling/changes");
        JsonNode one = told.at("/changes/0");
        assertThat(one.get("number").asLong()).isEqualTo(2);
        assertThat(one.get("from").asText()).isEqualTo("2026-11-25T14:05:00Z");
        assertThat(told.get("until").asText()).isEqualTo("2026-11-25T15:00:00Z");
        assertThat(one.get("words").asText())
                .startsWith("It settles for ")
                .endsWith(" at the latest, after a restart.");
        assertThat(get("settling/changes?policy=p1").get("changes")).hasSize(1);
        assertThat(get("settling/changes?policy=other").get("changes")).isEmpty();
        later(61);
        assertThat(get("settling/changes").get("changes")).isEmpty();
    }
}
