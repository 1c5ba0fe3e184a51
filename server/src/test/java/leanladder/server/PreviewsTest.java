package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.document.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Rings, releases and consents over REST, on the demo estate. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class PreviewsTest {
    private static final String[] CLIENT = {"Authorization", "Bearer " + RunningServer.SECRET};
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        Clock then = Clock.fixed(Instant.parse("2026-11-25T12:00:00Z"), ZoneOffset.UTC);
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "previews_test",
                Path.of("no-web"),
                Json.write(new DemoEstate().build()),
                then);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode get(String path) {
        return json(server.get("/api/v1/" + path));
    }

    private static JsonNode json(HttpResponse<String> response) {
        assertThat(response.statusCode()).as(response.body()).isLessThan(300);
        return Json.read(response.body());
    }

    private JsonNode release(String setting) {
        return get("releases/" + setting).get("release");
    }

    private Set<String> roster(String ring, String which) {
        Set<String> accounts = new HashSet<>();
        get("rings/" + ring + "/accounts?limit=5000&which=" + which)
                .get("members")
                .forEach(m -> accounts.add(m.get("account").asText()));
        return accounts;
    }

    private void publish(String edit) {
        json(server.post(("{'base':" + get("session").get("change") + ",'edits':[" + edit + "]}").replace('\'', '"')));
    }

    @Test
    void whatIsCountedIsWhatTheAccountsClimb() {
        int has = 0;
        int unconsented = 0;
        int asked = 0;
        for (String list : List.of("people", "rooms", "guests", "services"))
            for (JsonNode account :
                    get("directory/" + list + "?count=1000&active=true").get("rows")) {
                JsonNode gates = get("climb?account=" + account.get("id").asText() + "&setting=meetings.captions")
                        .get("gates");
                assertThat(gates).hasSize(1);
                asked++;
                if (gates.at("/0/met").asBoolean()) has++;
                else if (gates.at("/0/evidence").asText().contains("has not consented")) unconsented++;
            }
        JsonNode line = release("meetings.captions");
        assertThat(asked).isGreaterThan(600);
        assertThat(line.get("has").asInt()).isEqualTo(has);
        assertThat(line.get("unconsented").asInt()).isEqualTo(unconsented);
        assertThat(line.get("kept").asInt()).isZero();
    }

    @Test
    void aPersonsWordMovesThemFromWhoMayToWhoDidAndBackAndNobodyElseCanGiveIt() {
        Set<String> may = roster("sea-trial", "may");
        String somebody = may.iterator().next();
        String path = "/api/v1/accounts/" + somebody + "/consents";
        assertThat(server.send("POST", path, "{\"ring\":\"sea-trial\"}").statusCode())
                .isEqualTo(401);
        assertThat(server.send("POST", path, "{\"ring\":\"sea-trial\"}", "Authorization", "Bearer wrong")
                        .statusCode())
                .isEqualTo(401);
        int before = release("meetings.captions").get("has").asInt();
        JsonNode word = json(server.send("POST", path, "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(word.get("words").asText()).endsWith("consents to Sea trial");
        assertThat(roster("sea-trial", "did")).contains(somebody);
        assertThat(roster("sea-trial", "may")).doesNotContain(somebody).hasSize(may.size() - 1);
        assertThat(release("meetings.captions").get("has").asInt()).isEqualTo(before + 1);
        JsonNode change = get("changes/" + word.get("change"));
        assertThat(change.get("author").asText()).isNotEqualTo("Ivo Tarn");

        for (String edit : List.of(
                "{'kind':'give-consent','account':'" + somebody + "','ring':'dry-dock','at':'2026-11-25T12:00:00Z'}",
                "{'kind':'withdraw-consent','account':'" + somebody
                        + "','ring':'sea-trial','at':'2026-11-25T12:00:00Z'}",
                "{'kind':'amend-account','account':'" + somebody + "','members':{'consents':[]}}",
                "{'kind':'batch','edits':[{'kind':'amend-account','account':'" + somebody
                        + "','members':{'consents':[]}}]}",
                "{'kind':'record-consent','account':'" + somebody
                        + "','ring':'dry-dock','at':'2026-11-25T12:00:00Z','agreed':'So they say'}")) {
            HttpResponse<String> refused = server.post(
                    ("{'base':" + get("session").get("change") + ",'edits':[" + edit + "]}").replace('\'', '"'));
            assertThat(refused.statusCode()).as(edit).isEqualTo(422);
        }
        assertThat(server.send("POST", "/api/v1/drafts", "{\"takesBack\":" + word.get("change") + "}")
                        .statusCode())
                .isEqualTo(422);

        json(server.send("POST", "/api/v1/accounts/" + somebody + "/withdrawals", "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(roster("sea-trial", "may")).isEqualTo(may);
        assertThat(server.send(
                                "POST",
                                "/api/v1/accounts/" + somebody + "/withdrawals",
                                "{\"ring\":\"sea-trial\"}",
                                CLIENT)
                        .statusCode())
                .isEqualTo(422);
    }

    @Test
    void whatComesIsToldWeekByWeekAndAsTextWithWhatIsOnlyPlanned() {
        JsonNode arrivals = get("arrivals");
        assertThat(arrivals.get("weeks").findValuesAsText("words"))
                .startsWith("The week of 9 November", "Last week", "This week", "Next week");
        assertThat(arrivals.get("text").asText())
                .contains("This week\n- Tue 24 Nov: Call mail back (Mail), for Harbour trial, planned\n")
                .contains("Next week\n- Mon 30 Nov: Translate messages (Chat), for Harbour trial\n")
                .doesNotContain("5 Oct");
        JsonNode sea = get("arrivals?ring=sea-trial").get("weeks");
        assertThat(sea.findValuesAsText("ring")).isNotEmpty().containsOnly("sea-trial");
        assertThat(sea.findValues("accounts").get(0).asInt())
                .isEqualTo(get("previews").at("/rings/2/may").asInt());
        assertThat(server.get("/api/v1/arrivals?ring=none").statusCode()).isEqualTo(404);
    }

    @Test
    void aWordWithAnEndIsTakenBackBeforeItAndWhoAgreedForARoomIsKept() {
        String somebody = roster("sea-trial", "may").iterator().next();
        String at = "/api/v1/accounts/" + somebody;
        json(server.send(
                "POST", at + "/consents", "{\"ring\":\"sea-trial\",\"until\":\"2026-12-24T00:00:00Z\"}", CLIENT));
        assertThat(roster("sea-trial", "did")).contains(somebody);
        json(server.send("POST", at + "/withdrawals", "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(roster("sea-trial", "did")).doesNotContain(somebody);

        String room = get("directory/rooms").at("/rows/0/id").asText();
        for (String ring : List.of("dry-dock", "sea-trial"))
            publish("{'kind':'record-consent','account':'" + room + "','ring':'" + ring
                    + "','at':'2026-11-25T12:00:00Z','agreed':'The master'}");
        String stored = server.get("/api/v1/estate").body();
        assertThat(stored.split("\"agreed\"", -1)).hasSize(3);
    }

    @Test
    void aReleaseIsTakenAloneWhereItSaysSo() {
        String somebody = roster("sea-trial", "may").iterator().next();
        String path = "/api/v1/accounts/" + somebody + "/consents";
        publish("{'kind':'amend-release','release':'meetings.captions','members':{'oneByOne':true}}");
        json(server.send("POST", path, "{\"release\":\"meetings.captions\"}", CLIENT));
        assertThat(get("climb?account=" + somebody + "&setting=meetings.captions")
                        .toString())
                .contains("\"need\":{\"release\":true},\"met\":true");
        assertThat(roster("sea-trial", "did")).doesNotContain(somebody);
        HttpResponse<String> removed = server.post(("{'base':" + get("session").get("change")
                        + ",'edits':[{'kind':'remove-release','release':'meetings.captions'}]}")
                .replace('\'', '"'));
        assertThat(removed.statusCode()).isEqualTo(422);
        assertThat(removed.body()).contains("one account has consented to it alone");
    }

    @Test
    void aReleaseIsMovedOutwardHeldLetGoAndDrawnBack() {
        String moved =
                "{'kind':'open-release','release':'mail.recall','ring':'harbour-trial','from':'2026-12-01T06:00:00Z'}";
        assertThat(get("previews").get("warnings").toString()).contains("Call mail back was planned");
        publish(moved);
        assertThat(get("previews").get("warnings").toString()).doesNotContain("Call mail back was planned");
        assertThat(get("releases/mail.recall?at=2026-12-02T00:00:00Z")
                        .at("/release/has")
                        .asInt())
                .isGreaterThan(release("mail.recall").get("has").asInt());
        publish(
                "{'kind':'hold-release','release':'mail.recall','reason':'It loses mail','since':'2026-11-25T12:00:00Z'}");
        assertThat(release("mail.recall").get("held").asText()).isEqualTo("It loses mail");
        assertThat(release("mail.recall").at("/openings/1/planned").asBoolean()).isTrue();
        publish("{'kind':'let-go-release','release':'mail.recall'}");
        assertThat(release("mail.recall").at("/openings/1/planned").asBoolean()).isFalse();
        publish("{'kind':'open-release','release':'mail.recall','ring':'dry-dock','from':null}");
        publish("{'kind':'open-early','release':'mail.recall','to':'group:captains','from':'2026-11-25T00:00:00Z'}");
        assertThat(release("mail.recall").get("early").toString()).contains("Captains");
        // What is stored reads back as it stands.
        var again = server.readAgain().release("mail.recall").orElseThrow();
        assertThat(again.opens()).containsOnlyKeys("harbour-trial");
    }
}
