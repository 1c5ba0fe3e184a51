package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import leanladder.json.Json;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** People as values seen from both ends, groups by rule while they are typed, and hostings that are found. */
class AdmissionsTest {
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.startDemo("admissions_test");
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private void publish(String edits) {
        HttpResponse<String> response = server.publish(edits);
        assertThat(response.statusCode()).as(response.body()).isLessThan(300);
    }

    private List<String> accounts(String account, String way) {
        List<String> accounts = new ArrayList<>();
        server.json("accounts/" + account + "/admissions/mail.open-post?way=" + way)
                .get("people")
                .forEach(line -> accounts.add(line.get("account").asText()));
        return accounts;
    }

    @Test
    void whomSomebodyAdmitsIsFoundFromBothEndsAndFollowsTheGroup() {
        assertThat(accounts("mirela.osk", "admits")).contains("tobin.velho");
        assertThat(accounts("tobin.velho", "admitted")).contains("mirela.osk");
        String mate = accounts("mirela.osk", "admits").stream()
                .filter(a -> !a.equals("tobin.velho"))
                .findFirst()
                .orElseThrow();
        int before = accounts("mirela.osk", "admits").size();
        publish("{'kind':'remove-members','group':'first-mates','who':['account:" + mate + "']}");
        assertThat(accounts("mirela.osk", "admits")).hasSize(before - 1).doesNotContain(mate);
        assertThat(accounts(mate, "admitted")).doesNotContain("mirela.osk");
    }

    private JsonNode tried(String rule) {
        return server.json("group-rule?rule=" + URLEncoder.encode(rule, StandardCharsets.UTF_8));
    }

    @Test
    void aRuleSaysWhomItFitsOrWhereItBreaks() {
        JsonNode broken = tried("kind eq person");
        assertThat(broken.get("position").asInt()).isEqualTo(8);
        assertThat(broken.get("problem").asText()).contains("double quotes");
        assertThat(tried("unit eq \"gone\"").get("problem").asText()).contains("gone");
        int captains = tried("attributes.title eq \"captain\"").get("accounts").asInt();
        assertThat(captains)
                .isEqualTo(
                        server
                                .json("directory/people?active=true&count=1000")
                                .get("rows")
                                .findValuesAsText("title")
                                .stream()
                                .filter(title -> title.equalsIgnoreCase("captain"))
                                .toList()
                                .size());
        publish("{'kind':'add-group','group':{'id':'by-rule','name':'Captains by rule','purpose':'access',"
                + "'rule':'attributes.title eq \\'captain\\''}}".replace("\\'", "\\\""));
        assertThat(server.json("directory/groups/by-rule").get("byRule").asInt())
                .isEqualTo(captains);
    }

    @Test
    void aGroupThatOnlyADraftHasIsOpenedWithItsDescription() {
        JsonNode draft = Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
        String edited = ("{'version':" + draft.get("version")
                        + ",'edits':[{'kind':'add-group','group':{'id':'fresh','name':'Fresh',"
                        + "'purpose':'access','members':['account:mirela.osk']}},"
                        + "{'kind':'amend-group','group':'fresh','members':{'description':'For a day'}}]}")
                .replace('\'', '"');
        HttpResponse<String> added = server.send("POST", "/api/v1/drafts/" + draft.get("id") + "/edits", edited);
        assertThat(added.statusCode()).as(added.body()).isEqualTo(200);
        assertThat(server.json("directory/groups/fresh?draft=" + draft.get("id"))
                        .get("description")
                        .asText())
                .isEqualTo("For a day");
        assertThat(server.get("/api/v1/directory/groups/fresh").statusCode()).isEqualTo(404);
    }

    @Test
    void whatAPolicySaysOnAHostingIsDrawnOnItsRungInEachWorkspaceThatRunsOnIt() {
        JsonNode members = server.json("directory/groups/crew-schedulers").get("members");
        String scheduler = members.at("/0/id").asText();
        JsonNode climb = server.json("climb?setting=assistant.use&workspace=safety-board&account=" + scheduler);
        assertThat(climb.at("/outcome/rung").asText()).isEqualTo("hosting");
        JsonNode drawing = climb.get("drawing");
        JsonNode rung = drawing.get("rungs").get(drawing.get("decidingRung").asInt());
        assertThat(rung.get("height").asText()).isEqualTo("hosting");
        assertThat(rung.get("place").asText()).isEqualTo("Harbour hosting");
        assertThat(server.json("climb?setting=assistant.use&account=" + scheduler)
                        .at("/drawing/rungs")
                        .findValuesAsText("height"))
                .doesNotContain("hosting", "workspace");
        assertThat(server.get("/api/v1/distribution?who=everyone&setting=assistant.use&workspace=safety-board")
                        .body())
                .contains("\"hosting\"");
    }

    @Test
    void aHostingIsFoundByItsNameAndAWorkspaceSaysWhatItRunsOn() {
        JsonNode hostings = server.json("search?kinds=hosting&q=harbour").get("hits");
        assertThat(hostings.findValuesAsText("title")).containsExactly("Harbour hosting");
        assertThat(server.json("search?kinds=workspace&q=timetable")
                        .at("/hits/0/context")
                        .asText())
                .isEqualTo("workspace on Harbour hosting");
        publish("{'kind':'amend-hosting','hosting':'" + hostings.at("/0/id").asText()
                + "','members':{'name':'Quay hosting'}}");
        assertThat(server.json("search?kinds=hosting&q=quay").get("hits")).hasSize(1);
    }
}
