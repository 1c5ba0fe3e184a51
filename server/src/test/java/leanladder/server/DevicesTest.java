package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import leanladder.json.Json;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Devices from a file, what they block, and where workspaces differ. */
class DevicesTest {
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.startDemo("devices_test");
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode read(String csv) {
        HttpResponse<String> response = server.send("POST", "/api/v1/imports/devices", csv);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return Json.read(response.body());
    }

    @Test
    void aFileOfDevicesIsReportedLineByLineAndMeetsNeedsOncePublished() {
        JsonNode first = server.json("outdated-devices").at("/settings/0");
        String setting = first.get("setting").asText();
        int before = first.get("accounts").asInt();
        assertThat(before).isPositive();
        JsonNode person = server.json("outdated-devices/" + setting).at("/people/0");
        String id = person.get("account").asText();

        JsonNode report = read("address,device,kind,name,app,version,seen\r\n"
                + id + ",d-new,tablet,Deck tablet,assistant,9.1,2026-11-24\r\n"
                + id + ",d-new,,,chat,9.0,\r\n"
                + id + ",d-new,,,chat,nine,\r\n"
                + "nobody@elsewhere.example,d-x,tablet,,,,\r\n"
                + id + ",d-other,,,,,\r\n");
        assertThat(report.toString())
                .contains("Deck tablet with assistant 9.1, chat 9.0")
                .contains("\\\"nine\\\" is no version")
                .contains("nobody@elsewhere.example")
                .contains("A new device needs a kind");
        HttpResponse<String> published = server.post(
                "{\"base\":" + server.json("session").get("change") + ",\"edits\":[" + report.get("edit") + "]}");
        assertThat(published.statusCode()).as(published.body()).isLessThan(300);
        JsonNode devices = server.json("directory/people/" + id).get("devices");
        assertThat(devices.toString()).contains("Deck tablet").contains("9.1").contains("9.0");
        assertThat(server.json("outdated-devices/" + setting).get("accounts").asInt())
                .isEqualTo(before - 1);
        assertThat(server.get("/api/v1/outdated-devices/" + setting + "?format=csv")
                        .body())
                .contains("devices");
    }

    @Test
    void whereWorkspacesDifferIsToldWithWhoDecidesAndWhatLimitsThem() {
        JsonNode deviations = server.json("workspace-deviations");
        assertThat(deviations.get("complete").asBoolean()).isTrue();
        assertThat(deviations.get("deviations")).isNotEmpty();
        deviations.get("deviations").forEach(d -> {
            assertThat(d.get("value")).isNotEqualTo(d.get("elsewhere"));
            assertThat(d.get("accounts").asInt()).isPositive();
        });
        String lock =
                "{'kind':'put-statement','policy':'safety-first','statement':{'setting':'%s','set':%s,'lock':true}}";
        String key = deviations.at("/deviations/0/setting").asText();
        JsonNode builtIn = null;
        for (JsonNode setting : server.json("catalogue").get("settings"))
            if (setting.get("key").asText().equals(key)) builtIn = setting.get("default");
        HttpResponse<String> published =
                server.post("{\"base\":" + server.json("session").get("change") + ",\"edits\":["
                        + String.format(lock.replace('\'', '"'), key, builtIn) + "]}");
        assertThat(published.statusCode()).as(published.body()).isLessThan(300);
        JsonNode open = server.json("workspace-openness");
        long statements = 0;
        for (JsonNode setting : open.get("settings"))
            statements += setting.get("deciding").asInt();
        assertThat(statements).isPositive();
        // Nobody differs any more in what is locked below them.
        server.json("workspace-deviations")
                .get("deviations")
                .forEach(d -> assertThat(d.get("setting").asText()).isNotEqualTo(key));
        assertThat(open.findValuesAsText("says")).anyMatch(says -> says.endsWith("locked"));
    }
}
