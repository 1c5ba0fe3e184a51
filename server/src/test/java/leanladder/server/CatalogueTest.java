package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
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

/** A newer catalogue is read, drafted, published, undone, and found again after a restart. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class CatalogueTest {
    private RunningServer server;
    private ObjectNode newer;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.start(ThrowAwayPostgres.get(), "catalogue_test", Path.of("no-web"), "");
        JsonNode small = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        assertThat(server.send("PUT", "/api/v1/estate", Json.write(small)).statusCode())
                .isEqualTo(200);
        newer = ((ObjectNode) small.get("catalogue")).deepCopy();
        newer.withArray("apps").addObject().put("id", "tides").put("name", "Tides");
        newer.withArray("settings")
                .add(Json.read("{\"key\":\"tides.show\",\"app\":\"tides\",\"title\":\"Show tides\",\"type\":\"switch\","
                        + "\"strict\":false,\"default\":true}"));
        for (JsonNode setting : newer.get("settings"))
            switch (setting.get("key").asText()) {
                case "files.keep" -> ((ObjectNode) setting).put("max", 45);
                case "files.share" -> ((ObjectNode) setting).put("default", "anyone");
                default -> {}
            }
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode get(String path) {
        return Json.read(server.get("/api/v1/" + path).body());
    }

    private JsonNode publish(JsonNode... edits) throws Exception {
        ObjectNode request =
                Json.NODES.objectNode().put("base", get("session").get("change").asLong());
        request.put("note", "Autumn catalogue");
        ArrayNode all = request.putArray("edits");
        for (JsonNode edit : edits) all.add(edit);
        var response = server.post(Json.write(request));
        assertThat(response.statusCode()).as(response.body()).isBetween(200, 201);
        return Json.read(response.body());
    }

    @Test
    void anUpdateIsPublishedToldOnTodayAndUndone() throws Exception {
        JsonNode before = get("estate").get("catalogue");
        long first = get("session").get("change").asLong();
        JsonNode update = Json.read(server.send("POST", "/api/v1/catalogue/update?name=autumn.json", Json.write(newer))
                .body());
        assertThat(update.at("/added/0/name").asText()).isEqualTo("Show tides");
        assertThat(update.at("/misfits/0/name").asText()).isEqualTo("Room rules");
        assertThat(update.at("/misfits/0/says").asText()).isEqualTo("60");
        assertThat(update.get("amended").toString()).contains("has the built-in value anyone");
        assertThat(update.get("refusals")).isEmpty();
        ObjectNode batch = (ObjectNode) update.get("edit");
        ((ArrayNode) batch.get("edits"))
                .add(
                        Json.read(
                                "{\"kind\":\"put-statement\",\"policy\":\"p2\",\"statement\":{\"setting\":\"files.keep\",\"set\":45}}"));
        JsonNode told = publish(batch);
        assertThat(get("catalogue").toString()).contains("tides.show");
        assertThat(server.get("/api/v1/today").body())
                .contains("one new setting, one built-in value changed, one setting changed otherwise");
        assertThat(get("accounts/a2/settings").toString()).contains("tides.show");
        assertThat(get("changes?kind=catalogue").at("/changes/0/note").asText()).isEqualTo("Autumn catalogue");
        // A policy can speak of what is new, in the next change as well as on a past day.
        publish(
                Json.read(
                        "{\"kind\":\"put-statement\",\"policy\":\"p2\",\"statement\":{\"setting\":\"tides.show\",\"set\":false}}"));
        assertThat(get("changes/" + first).toString()).doesNotContain("tides");
        JsonNode inverse = get("changes/" + told.get("number").asLong() + "/inverse");
        var refused = server.post(Json.write(inverse));
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body()).contains("the policy Room rules says something about it");
        publish(Json.read(
                "{\"kind\":\"remove-statement\",\"policy\":\"p2\",\"setting\":\"tides.show\",\"says\":\"set\"}"));
        ObjectNode again = (ObjectNode) inverse.deepCopy();
        again.put("base", get("session").get("change").asLong());
        assertThat(server.post(Json.write(again)).statusCode()).isBetween(200, 201);
        assertThat(get("estate").get("catalogue")).isEqualTo(before);
    }

    @Test
    void aDraftShowsTheCatalogueThatItMakes() throws Exception {
        JsonNode update = Json.read(server.send("POST", "/api/v1/catalogue/update", Json.write(newer))
                .body());
        JsonNode begun = Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
        long draft = begun.get("id").asLong();
        ObjectNode staged = Json.NODES.objectNode();
        staged.set("version", begun.get("version"));
        staged.putArray("edits").add(update.get("edit"));
        var response = server.send("POST", "/api/v1/drafts/" + draft + "/edits", Json.write(staged));
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        assertThat(Json.read(response.body()).get("catalogue").asBoolean()).isTrue();
        assertThat(get("search?q=tides&kinds=setting&limit=200&draft=" + draft).toString())
                .contains("tides.show");
        assertThat(get("catalogue").toString()).doesNotContain("tides.show");
        assertThat(get("catalogue?draft=" + draft).toString()).contains("tides.show");
        assertThat(get("settings/tides.show?draft=" + draft).get("title").asText())
                .isEqualTo("Show tides");
        JsonNode again = Json.read(server.send("POST", "/api/v1/catalogue/update?draft=" + draft, Json.write(newer))
                .body());
        assertThat(again.get("edit").isNull()).isTrue();
    }
}
