package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** A company without an estate file starts with its name and a catalogue. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class StartTest {
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.start(ThrowAwayPostgres.get(), "start_rest_test", Path.of("no-web"), "");
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private static ObjectNode request(String name, String zone) {
        ObjectNode request = Json.NODES.objectNode();
        request.putObject("organisation")
                .put("name", name)
                .put("timeZone", zone)
                .put("region", "eu");
        return request;
    }

    private JsonNode get(String path) {
        return Json.read(server.get("/api/v1/" + path).body());
    }

    @Test
    void theStarterCatalogueComesWithItsRingsAndTodaySaysWhatIsMissing() {
        assertThat(server.send("POST", "/api/v1/start", Json.write(request("Northern Ferries", "Europe/Oslo")))
                        .statusCode())
                .isEqualTo(200);
        assertThat(get("session").at("/organisation/name").asText()).isEqualTo("Northern Ferries");
        assertThat(get("catalogue").get("settings").size()).isGreaterThan(150);
        assertThat(get("estate").get("rings")).hasSize(4);
        assertThat(server.get("/api/v1/today").body())
                .contains("Nobody is in the directory")
                .contains("There is no policy");
        assertThat(server.send("POST", "/api/v1/start", Json.write(request("Again", "Europe/Oslo")))
                        .statusCode())
                .isEqualTo(409);
    }

    @Test
    void aVendorsCatalogueIsTakenAndOneWithDefectsIsRefusedWithTheirPlaces() throws Exception {
        JsonNode small = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        ObjectNode request = request("Northern Ferries", "Europe/Nowhere");
        request.set("catalogue", small.get("catalogue"));
        assertThat(server.send("POST", "/api/v1/start", Json.write(request)).body())
                .contains("/organisation/timeZone");
        ObjectNode broken = request("Northern Ferries", "Europe/Oslo");
        broken.putObject("catalogue").putArray("settings").addObject().put("key", "a.b");
        assertThat(server.send("POST", "/api/v1/start", Json.write(broken)).body())
                .contains("/catalogue/settings/0");
        assertThat(get("session").get("change").asInt()).isZero();
        ((ObjectNode) request.get("organisation")).put("timeZone", "Europe/Oslo");
        assertThat(server.send("POST", "/api/v1/start", Json.write(request)).statusCode())
                .isEqualTo(200);
        assertThat(get("estate").get("rings").findValuesAsText("id")).containsExactly("dry-dock", "everyone");
        assertThat(get("catalogue").get("settings"))
                .hasSize(small.at("/catalogue/settings").size());
    }
}
