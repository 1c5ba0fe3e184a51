package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What is told of licence plans, and what it would take, over the demo estate. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class SeatsTest {
    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        // The dates of the demo lie around this day, whatever day it is.
        Clock then = Clock.fixed(Instant.parse("2026-11-25T12:00:00Z"), ZoneOffset.UTC);
        server = RunningServer.start(
                ThrowAwayPostgres.get(), "seats_test", Path.of("no-web"), Json.write(new DemoEstate().build()), then);
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static JsonNode get(String path) {
        HttpResponse<String> response = server.get("/api/v1/" + path);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return Json.read(response.body());
    }

    private static JsonNode plan(String name, String at) {
        for (JsonNode plan : get("plans?at=" + at).get("plans"))
            if (plan.get("name").asText().equals(name)) return plan;
        throw new AssertionError("no plan " + name);
    }

    @Test
    void aFullPlanSaysWhoWaitsAndThatSeatsComeNextWeek() {
        JsonNode desk = plan("Desk plan", "2026-12-01T00:00:00Z");
        assertThat(desk.get("seats").asInt()).isEqualTo(114);
        assertThat(desk.get("held").asInt()).isEqualTo(114);
        assertThat(desk.get("waiting").asInt()).isEqualTo(5);
        assertThat(desk.at("/steps/0/at").asText()).isEqualTo("2026-12-02T07:00:00Z");
        assertThat(desk.at("/steps/0/seats").asInt()).isEqualTo(124);
        JsonNode waiting = get("plans/desk-plan/claims?which=waiting&at=2026-12-01T00:00:00Z");
        assertThat(waiting.get("accounts").asInt()).isEqualTo(5);
        for (int i = 0; i < 5; i++)
            assertThat(waiting.at("/claims/" + i + "/place").asInt()).isEqualTo(i + 1);
        JsonNode then =
                get("plans/desk-plan?at=2026-12-01T00:00:00Z").get("course").get(1);
        assertThat(then.get("held").asInt()).isEqualTo(119);
        assertThat(then.get("why").toString()).contains("10 seats more");
        assertThat(plan("Desk plan", "2026-12-03T00:00:00Z").get("waiting").asInt())
                .isZero();
    }

    @Test
    void everyClaimNamesTheRuleThatBringsItIn() {
        JsonNode plan = get("plans/desk-plan");
        JsonNode held = get("plans/desk-plan/claims?limit=5000");
        assertThat(held.get("accounts").asInt()).isEqualTo(plan.at("/plan/held").asInt());
        for (JsonNode claim : held.get("claims")) {
            assertThat(claim.get("rule").asInt()).isPositive();
            assertThat(claim.get("ruleWords"))
                    .isEqualTo(plan.at("/rules/" + (claim.get("rule").asInt() - 1) + "/whom"));
            assertThat(claim.get("since").asText()).isNotEmpty();
        }
        HttpResponse<String> csv = server.get("/api/v1/plans/desk-plan/claims?format=csv");
        assertThat(csv.body().lines().count()).isEqualTo(held.get("accounts").asInt() + 1);
    }

    @Test
    void theExpiredPlanSaysThatItIsOverAndThatThreeStillWantIt() {
        JsonNode winter = plan("Winter plan", "now");
        assertThat(winter.get("term").asText()).isEqualTo("over");
        assertThat(winter.get("claimants").asInt()).isEqualTo(3);
    }

    @Test
    void whatItWouldTakeStagesTheSeatsThatAreShortAndThenNobodyLacksALicence() {
        String asked = "licence-gap?setting=assistant.use&who=unit:engineering";
        JsonNode needed = get(asked);
        int people = needed.get("accounts").asInt();
        assertThat(needed.get("unlicensed").asInt()).isPositive().isLessThanOrEqualTo(people);
        JsonNode offer = needed.at("/offers/0");
        assertThat(offer.get("name").asText()).isEqualTo("Assistant add-on");
        assertThat(offer.get("ahead").asInt()).isEqualTo(5);
        assertThat(offer.get("shortBy").asInt()).isEqualTo(offer.get("fresh").asInt() + 5);
        int unfit = 0;
        for (JsonNode kind : offer.get("unfit")) unfit += kind.get("accounts").asInt();
        assertThat(offer.get("filled").asInt() + unfit)
                .isEqualTo(needed.get("unlicensed").asInt());
        assertThat(offer.get("cost").asText())
                .isEqualTo(19 * offer.get("shortBy").asInt() + ".00");
        JsonNode draft = Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
        HttpResponse<String> staged = server.send(
                "POST",
                "/api/v1/drafts/" + draft.get("id") + "/edits",
                "{\"version\":" + draft.get("version") + ",\"edits\":[" + offer.get("edit") + "]}");
        assertThat(staged.statusCode()).as(staged.body()).isEqualTo(200);
        // Five others wait before them and are bought a seat as well, so that nobody is left out.
        JsonNode after = get(asked + "&draft=" + draft.get("id"));
        assertThat(after.get("unlicensed").asInt())
                .isEqualTo(needed.get("unlicensed").asInt() - offer.get("fresh").asInt());
        server.send("DELETE", "/api/v1/drafts/" + draft.get("id") + "?version=2", "");
    }

    @Test
    void eachComponentSaysHowManyUseItAndThroughWhichPlansThatRun() {
        JsonNode told = get("components");
        JsonNode assistant = component(told, "Assistant");
        assertThat(assistant.get("accounts").asInt()).isEqualTo(25);
        assertThat(assistant.get("plans").findValuesAsText("name")).containsExactly("Assistant add-on");
        // The Winter plan is over: whoever has a seat of it uses nothing through it.
        assertThat(component(told, "Pages").get("plans").findValuesAsText("name"))
                .containsExactly("Desk plan");
        assertThat(component(told, "Pages").get("accounts").asInt()).isLessThanOrEqualTo(114);
        assertThat(told.get("accounts").asInt()).isGreaterThan(600);
    }

    private static JsonNode component(JsonNode told, String name) {
        for (JsonNode one : told.get("components")) if (one.get("name").asText().equals(name)) return one;
        throw new AssertionError("No component is called " + name);
    }

    @Test
    void rulesAndPurchasesThatWereWrittenOutReadBackAsTheyAreAndOthersAreToldLineByLine() {
        for (String what : List.of("rules", "purchases")) {
            String written = server.get("/api/v1/plans/desk-plan/" + what + "?format=csv")
                    .body();
            JsonNode report = read(what, written);
            assertThat(report.at("/counts/same").asInt())
                    .isEqualTo((int) written.lines().count() - 1);
            assertThat(report.get("edit").isNull()).isTrue();
        }
        JsonNode rules = read("rules", """
                kind,target,off,from,until
                include,unit:engineering,,2026-12-01,
                include,mirela.osk@skerrymore.example,,,
                include,group:company-news,,,
                include,unit:nowhere,,,
                exclude,unit:engineering,,,
                include,unit:engineering,,in may,
                include,everyone,,,2026-12-31
                """);
        assertThat(rules.get("lines").findValuesAsText("verdict"))
                .containsExactly("new", "new", "refused", "refused", "refused", "refused", "new");
        assertThat(rules.at("/lines/2/told").asText()).contains("mailing group");
        assertThat(rules.at("/lines/3/told").asText()).contains("does not exist");
        assertThat(rules.at("/lines/5/told").asText()).contains("write it as");
        // A day ends with its end where something ends, and begins with its beginning, in the organisation's time zone.
        assertThat(rules.at("/edit/edits/0/rule/from").asText()).isEqualTo("2026-12-01T00:00:00Z");
        assertThat(rules.at("/edit/edits/2/rule/until").asText()).isEqualTo("2027-01-01T00:00:00Z");
        assertThat(rules.at("/edit/edits/1/rule/include").asText()).isEqualTo("account:mirela.osk");
        JsonNode purchases =
                read("purchases", "seats,from,until,note\n3,2026-12-01,,spring\nmany,,,\n3,2026-12-02,2026-12-01,\n");
        assertThat(purchases.get("lines").findValuesAsText("verdict")).containsExactly("new", "refused", "refused");
        JsonNode draft = Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
        String at = "/api/v1/drafts/" + draft.get("id");
        int before = plan("Desk plan", "2026-12-04T00:00:00Z").get("seats").asInt();
        HttpResponse<String> staged =
                server.send("POST", at + "/edits", "{\"version\":1,\"edits\":[" + purchases.get("edit") + "]}");
        assertThat(staged.statusCode()).as(staged.body()).isEqualTo(200);
        assertThat(get("plans/desk-plan?draft=" + draft.get("id"))
                        .at("/plan/steps")
                        .toString())
                .contains("\"seats\":" + (before - 7));
        server.send("DELETE", at + "?version=2", "");
    }

    private static JsonNode read(String what, String file) {
        HttpResponse<String> response =
                server.send("POST", "/api/v1/plans/desk-plan/imports/" + what + "?name=test.csv", file);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return Json.read(response.body());
    }

    @Test
    void wrongInputIsRefusedWithASentence() {
        for (String path : List.of(
                "plans/none", "licence-gap?who=everyone&component=none", "licence-gap?who=everyone&setting=none"))
            assertThat(server.get("/api/v1/" + path).statusCode()).as(path).isEqualTo(404);
        for (String path : List.of(
                "licence-gap?who=everyone", "licence-gap?setting=assistant.use", "plans/desk-plan/claims?which=lost"))
            assertThat(server.get("/api/v1/" + path).statusCode()).as(path).isEqualTo(400);
        List<String> edits = List.of(
                "{'kind':'return-seats','plan':'desk-plan','seats':500,'from':'2026-12-05T00:00:00Z'}|more than were bought",
                "{'kind':'amend-plan','plan':'desk-plan','members':{'starts':'2027-01-02T00:00:00Z','ends':'2027-01-01T00:00:00Z'}}|must come after",
                "{'kind':'put-rule','plan':'desk-plan','rule':{'include':'group:company-news'}}|mailing group",
                "{'kind':'put-rule','plan':'desk-plan','rule':{'include':'workspace:new-ideas'}}|must not be a workspace",
                "{'kind':'give-seats','plan':'desk-plan','accounts':['tide.gauge']}|is not for that kind",
                "{'kind':'buy-seats','plan':'desk-plan','purchase':{'seats':0}}|must not be below 1",
                "{'kind':'add-plan','plan':{'name':'X','components':[]}}|either");
        for (String line : edits) {
            String[] parts = line.split("\\|");
            HttpResponse<String> refused = server.post(
                    ("{'base':" + get("session").get("change") + ",'edits':[" + parts[0] + "]}").replace('\'', '"'));
            assertThat(refused.statusCode()).as(line).isEqualTo(422);
            assertThat(refused.body()).contains(parts[1]);
        }
    }

    @Test
    void aPastedListOfSeatsIsReportedLineByLine() {
        JsonNode held = get("plans/desk-plan/claims?limit=1").at("/claims/0/account");
        ObjectNode body = Json.NODES.objectNode().put("adds", true).put("plan", "desk-plan");
        body.put("text", "nobody.at.all\n" + held.asText() + "\ntide.gauge\nmirela.osk\nmirela.osk\n");
        JsonNode report = Json.read(
                server.send("POST", "/api/v1/addresses", Json.write(body)).body());
        List<String> verdicts = new ArrayList<>();
        report.get("lines").forEach(l -> verdicts.add(l.get("verdict").asText()));
        assertThat(verdicts).containsExactly("unknown", "already-in", "wrong-kind", "fits", "repeated");
        assertThat(report.at("/edit/kind").asText()).isEqualTo("give-seats");
    }
}
