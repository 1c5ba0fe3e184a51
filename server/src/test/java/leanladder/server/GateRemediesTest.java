package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.time.ZoneOffset;
import java.util.HashSet;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What is said to open a gate opens it once it is staged, with the ripple that was told. */
@Timeout(value = 3, unit = TimeUnit.MINUTES)
class GateRemediesTest {
    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "remedies_test",
                Path.of("no-web"),
                "",
                Clock.fixed(RandomEstate.NOW, ZoneOffset.UTC));
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static JsonNode json(HttpResponse<String> response) {
        assertThat(response.statusCode()).as(response.body()).isLessThan(300);
        return Json.read(response.body());
    }

    @Test
    void everyOpenerOpensItsGateWithTheRippleThatWasTold() {
        Set<String> kinds = new HashSet<>();
        for (long seed = 300; seed < 330; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            json(server.send("PUT", "/api/v1/estate", Json.write(estate)));
            String where = estate.path("workspaces").isEmpty()
                    ? ""
                    : "&workspace=" + estate.at("/workspaces/0/id").asText();
            for (JsonNode account : estate.get("accounts"))
                for (JsonNode setting : estate.at("/catalogue/settings"))
                    if (account.path("active").asBoolean(true))
                        kinds.addAll(opened("account="
                                + account.get("id").asText() + "&setting="
                                + URLEncoder.encode(setting.get("key").asText(), StandardCharsets.UTF_8) + where));
        }
        assertThat(kinds).contains("give-seats", "batch", "add-policy", "amend-workspace", "open-early");
    }

    /** Stages what opens each gate of one climb and climbs again; the kinds of edits that were told. */
    private static Set<String> opened(String asked) {
        Set<String> kinds = new HashSet<>();
        for (JsonNode gate : json(server.get("/api/v1/gate-remedies?" + asked)).get("gates"))
            for (JsonNode remedy : gate.get("remedies")) {
                kinds.add(remedy.at("/edit/kind").asText());
                JsonNode draft = json(server.send("POST", "/api/v1/drafts", "{}"));
                String at = "/api/v1/drafts/" + draft.get("id").asText();
                json(server.send("POST", at + "/edits", "{\"version\":1,\"edits\":[" + remedy.get("edit") + "]}"));
                JsonNode climb = json(server.get("/api/v1/climb?" + asked + "&draft=" + draft.get("id")));
                assertThat(climb.at("/gates/" + gate.get("gate") + "/met").asBoolean())
                        .as("%s %s", asked, remedy.get("edit"))
                        .isTrue();
                assertThat(climb.at("/outcome/blockedBy").isEmpty())
                        .isEqualTo(remedy.get("works").asBoolean());
                if (!asked.contains("&workspace="))
                    assertThat(json(server.get(at + "/ripple")).get("accounts"))
                            .isEqualTo(remedy.at("/ripple/accounts"));
                assertThat(server.send("DELETE", at + "?version=2", "").statusCode())
                        .isLessThan(300);
            }
        return kinds;
    }
}
