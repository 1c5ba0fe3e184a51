package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What people ask for, what becomes of it, and what waits today. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class RequestsTest {
    private static final String CLIENT = "Bearer " + RunningServer.SECRET;
    private final TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "requests_test",
                Path.of("no-web"),
                Json.write(new DemoEstate().build()),
                testClock);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private HttpResponse<String> speak(String method, String path, String body) {
        return server.send(method, "/api/v1/suite/accounts/" + path, body.replace('\'', '"'), "Authorization", CLIENT);
    }

    private JsonNode ask(String account, String body) {
        HttpResponse<String> answer = speak("POST", account + "/requests", body);
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
        return Json.read(answer.body()).at("/requests/0");
    }

    private JsonNode own(String account) {
        return Json.read(speak("GET", account + "/requests", "").body()).at("/requests/0");
    }

    private void publish(String edit) {
        HttpResponse<String> answer = server.post(("{'base':"
                        + Json.read(server.get("/api/v1/session").body()).get("change") + ",'edits':[" + edit + "]}")
                .replace('\'', '"'));
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
    }

    private List<String> today(String topic) {
        List<String> words = new ArrayList<>();
        for (JsonNode matter : Json.read(
                        server.get("/api/v1/today?since=2026-11-25T12:00:00Z").body())
                .get("matters"))
            if (matter.get("topic").asText().equals(topic))
                words.add(matter.get("words").asText());
        return words;
    }

    @Test
    void aRequestArrivesWithItsReasonAndWhoElseAsksAndIsGrantedByWhateverBringsIt() {
        JsonNode first = ask("mirela.osk", "{'setting':'chat.private','words':'For the handover.'}");
        assertThat(first.get("words").asText()).endsWith("Nobody has answered yet.");
        assertThat(ask("mirela.osk", "{'setting':'chat.private'}").get("id"))
                .as("what is open already is not asked twice")
                .isEqualTo(first.get("id"));
        ask("yara.brekke", "{'setting':'chat.private'}");
        JsonNode list = Json.read(server.get("/api/v1/requests").body()).get("requests");
        assertThat(list).hasSize(2);
        assertThat(list.get(0).get("name").asText()).isEqualTo("Mirela Osk");
        assertThat(list.get(0).get("why").asText())
                .isEqualTo("It was decided for the part of the company that you work in.");
        assertThat(list.get(0).at("/alike/0/requests").asInt()).isEqualTo(1);
        assertThat(today("request")).containsExactly("Mirela Osk and one other ask for “Talk between two”.");

        publish(
                "{'kind':'add-policy','policy':{'id':'m','name':'Hers','statements':[{'setting':'chat.private','set':true}],"
                        + "'assignments':[{'include':'account:mirela.osk'}]}}");
        await().atMost(Duration.ofSeconds(20))
                .until(() -> own("mirela.osk").get("state").asText().equals("granted"));
        assertThat(own("mirela.osk").get("words").asText())
                .isEqualTo("You asked for it on 25 Nov. It was granted on 25 Nov, and is there by Wed 25 Nov, 13:00"
                        + " at the latest, after a refresh.");
        assertThat(own("yara.brekke").get("state").asText()).isEqualTo("open");
        testClock.step(Duration.ofHours(2));
        assertThat(own("mirela.osk").get("words").asText()).endsWith("and is there after a refresh.");
        assertThat(today("request")).containsExactly("Yara Brekke asks for “Talk between two”.");
    }

    @Test
    void aRequestIsDeclinedWithASentenceThatThePersonReads() {
        JsonNode request = ask("mirela.osk", "{'setting':'chat.private'}");
        String path = "/api/v1/requests/" + request.get("id") + "/declines";
        assertThat(server.send("POST", path, "{}").statusCode()).isEqualTo(422);
        assertThat(server.send("POST", path, "{\"sentence\":\"  \"}").statusCode())
                .isEqualTo(422);
        assertThat(server.send("POST", path, "{\"sentence\":\"Not on the bridge.\"}")
                        .statusCode())
                .isEqualTo(200);
        assertThat(server.send("POST", path, "{\"sentence\":\"Again.\"}").statusCode())
                .isEqualTo(409);
        assertThat(own("mirela.osk").get("words").asText()).endsWith("It was declined on 25 Nov: Not on the bridge.");
        // It can be asked again later.
        assertThat(ask("mirela.osk", "{'setting':'chat.private'}").get("id")).isNotEqualTo(request.get("id"));
        assertThat(server.send("POST", "/api/v1/requests/99999/declines", "{\"sentence\":\"x\"}")
                        .statusCode())
                .isEqualTo(404);
    }

    @Test
    void anyRequestIsFoundByItsNumberAndAllOfThemPageByPage() {
        List<Long> ids = new ArrayList<>();
        for (String account : List.of("mirela.osk", "yara.brekke", "mirela.osk")) {
            long id = ask(account, "{'setting':'chat.private'}").get("id").asLong();
            if (ids.isEmpty()) server.send("POST", "/api/v1/requests/" + id + "/declines", "{\"sentence\":\"No.\"}");
            ids.add(0, id);
        }
        JsonNode declined =
                Json.read(server.get("/api/v1/requests/" + ids.get(2)).body());
        assertThat(declined.at("/request/state").asText()).isEqualTo("declined");
        assertThat(declined.get("alike").findValuesAsText("name")).containsExactly("Yara Brekke", "Mirela Osk");
        assertThat(server.get("/api/v1/requests/99999").statusCode()).isEqualTo(404);
        List<Long> met = new ArrayList<>();
        String next = "";
        do {
            JsonNode page = Json.read(
                    server.get("/api/v1/requests?which=all&limit=1" + next).body());
            page.get("requests").forEach(r -> met.add(r.get("id").asLong()));
            next = page.get("next").isNull() ? null : "&before=" + page.get("next");
        } while (next != null && met.size() < 9);
        assertThat(met).isEqualTo(ids);
    }

    @Test
    void whatIsThereAlreadyOrDoesNotExistIsNotAskedFor() {
        assertThat(speak("POST", "rafael.osk/requests", "{'setting':'chat.private'}")
                        .statusCode())
                .isEqualTo(409);
        assertThat(speak("POST", "mirela.osk/requests", "{'setting':'chat.nothing'}")
                        .statusCode())
                .isEqualTo(422);
        assertThat(speak("POST", "mirela.osk/requests", "{'setting':'files.share','wanted':'anybody'}")
                        .statusCode())
                .isEqualTo(422);
        assertThat(server.send("POST", "/api/v1/suite/accounts/mirela.osk/requests", "{\"setting\":\"chat.private\"}")
                        .statusCode())
                .as("nobody else can speak for a person")
                .isEqualTo(401);
        // A looser level is wanted than the one in force, and grants it as soon as it is at least that loose.
        ask("mirela.osk", "{'setting':'files.share','wanted':'consignee'}");
    }

    @Test
    void theReasonNamesNobodyElseAndNoPolicy() {
        assertThat(reason("mirela.osk", "chat.private"))
                .isEqualTo("It was decided for the part of the company that you work in.");
        assertThat(reason("yara.brekke", "assistant.use")).startsWith("It takes a licence");
        assertThat(reason("rafael.osk", "meetings.captions"))
                .isEqualTo("It has not come to you yet, and no day is set.");
        assertThat(reason("mirela.osk", "chat.translate")).isNotEmpty();
    }

    private String reason(String account, String setting) {
        return Json.read(speak("GET", account + "/reasons/" + setting, "").body())
                .get("words")
                .asText();
    }

    @Test
    void todayTellsWhatWaitsTheMostUrgentFirst() {
        ask("mirela.osk", "{'setting':'chat.private'}");
        publish(
                "{'kind':'put-statement','policy':'bridge-under-way','statement':{'setting':'chat.private','set':true}},"
                        + "{'kind':'amend-policy','policy':'house-rules','members':{'review':'2026-11-20'}}");
        JsonNode today =
                Json.read(server.get("/api/v1/today?since=2026-11-25T11:00:00Z").body());
        List<String> topics = new ArrayList<>();
        today.get("matters").forEach(m -> topics.add(m.get("topic").asText()));
        List<String> order = List.of(
                "request", "seats", "preview", "opening", "planned", "ending", "review", "settling", "happened");
        assertThat(topics).isSortedAccordingTo((a, b) -> order.indexOf(a) - order.indexOf(b));
        assertThat(today("seats")).contains("Assistant add-on has no seat free, and 5 accounts wait.");
        assertThat(today("review")).containsExactly("House rules was to be looked at again by 20 Nov.");
        assertThat(today("settling").get(0)).contains("is on its way").contains("at the latest");
        assertThat(today("preview")).isNotEmpty();
        assertThat(today.get("matters").get(topics.size() - 1).get("words").asText())
                .startsWith("Since Wed 25 Nov, 11:00 2 changes were published, by");
    }

    @Test
    void aWayForAnAccountSaysWhetherItBringsTheValueThatIsWanted() {
        JsonNode ways = Json.read(server.get("/api/v1/ways?target=account:mirela.osk&setting=chat.private&value=true")
                        .body())
                .get("ways");
        Map<String, Boolean> brings = new TreeMap<>();
        ways.forEach(
                way -> brings.put(way.get("name").asText(), way.get("brings").asBoolean()));
        assertThat(brings)
                .containsEntry("Talk between two for Mirela Osk", true)
                // The relief captain's window has ended for her: what it says does not reach her.
                .containsEntry("Relief captain", false);
        // Where it is decided so already and a gate is closed, no statement brings anything.
        for (JsonNode way : Json.read(
                        server.get("/api/v1/ways?target=account:yara.brekke&setting=assistant.use&value=true")
                                .body())
                .get("ways")) assertThat(way.get("brings").asBoolean()).isFalse();
        assertThat(server.get("/api/v1/ways?target=unit:fleet&setting=chat.private&value=true")
                        .body())
                .doesNotContain("brings");
    }

    private JsonNode open(String more) {
        return Json.read(server.get("/api/v1/requests?limit=500" + more).body());
    }

    @Test
    void openRequestsComeInPagesHoweverManyThereAre() {
        for (int i = 0; i < 1100; i++)
            server.store()
                    .requests()
                    .ask(
                            leanladder.store.db.WriteRequest.by("tests", testClock.instant()),
                            "mirela.osk",
                            i == 1099 ? "assistant.use" : "chat.private",
                            Optional.of("made-up-" + i),
                            Json.read("true"),
                            "");
        int seen = 0;
        JsonNode page = open("");
        for (; !page.get("next").isNull(); page = open("&after=" + page.get("next")))
            seen += page.get("requests").size();
        assertThat(seen + page.get("requests").size()).isEqualTo(1100);
        assertThat(server.get("/api/v1/today").body())
                .contains("and 1,098 others ask")
                .contains("asks for “Use the assistant”");
    }

    @Test
    void aRequestOfAPersonWhoIsRemovedAndOneOfMoreThanAYearAreClosed() {
        publish("{'kind':'add-account','account':{'id':'new.hand','userName':'new.hand@skerrymore.example',"
                + "'displayName':'New Hand','kind':'person','unit':'engineering'}}");
        ask("new.hand", "{\"setting\":\"chat.private\"}");
        ask("mirela.osk", "{\"setting\":\"chat.private\"}");
        assertThat(open("").get("requests")).hasSize(2);
        publish("{'kind':'remove-account','account':'new.hand'}");
        await().atMost(Duration.ofSeconds(20))
                .until(() -> open("").get("requests").size() == 1);
        testClock.step(Duration.ofDays(366));
        publish("{'kind':'add-unit','unit':{'id':'later','name':'Later','parent':'engineering'}}");
        await().atMost(Duration.ofSeconds(20))
                .until(() -> open("").get("requests").isEmpty());
        JsonNode closed =
                Json.read(server.get("/api/v1/requests?which=all").body()).at("/requests/0");
        assertThat(closed.get("state").asText()).isEqualTo("closed");
        assertThat(closed.get("sentence").asText()).contains("within a year");
    }
}
