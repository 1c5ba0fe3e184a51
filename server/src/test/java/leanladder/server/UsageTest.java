package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Map;
import java.util.Set;
import leanladder.store.db.WriteRequest;
import leanladder.store.usage.UsageTable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What clients report of usage, and where it is told: over time, by unit, for one person, in reviews and with seats. */
class UsageTest {
    private static final Instant NOW = RunningServer.DEMO_NOW;
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.startDemo("usage_test");
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private HttpResponse<String> report(String body) {
        return server.send(
                "POST",
                "/api/v1/suite/usage",
                body.replace('\'', '"'),
                "Authorization",
                "Bearer " + RunningServer.SECRET);
    }

    @Test
    void reportsOfADayAddUpAndAreToldOverTimeByUnitAndForOnePerson() {
        assertThat(report("{'day':'2026-11-24','uses':[{'setting':'chat.private','accounts':['mirela.osk']}]}")
                        .statusCode())
                .isEqualTo(204);
        report("{'day':'2026-11-24','uses':[{'setting':'chat.private','accounts':['mirela.osk','tobin.velho']}],"
                + "'items':[{'setting':'files.share','items':1204}]}");
        report("{'day':'2026-11-25','uses':[{'setting':'chat.private','accounts':['tobin.velho']}]}");

        JsonNode usage = server.json("settings/chat.private/usage");
        assertThat(usage.get("recent").asInt()).isEqualTo(2);
        assertThat(usage.get("periods").toString())
                .isEqualTo(
                        "[{\"day\":\"2026-11-24\",\"days\":1,\"people\":2},{\"day\":\"2026-11-25\",\"days\":1,\"people\":1}]");
        // Two of a unit are not told, so that nobody is singled out.
        usage.get("units")
                .forEach(unit -> assertThat(unit.path("people").asInt(0)).isZero());
        assertThat(server.json("settings/files.share/usage").at("/items/items").asInt())
                .isEqualTo(1204);
        assertThat(server.json("accounts/mirela.osk/usage/chat.private")
                        .get("day")
                        .asText())
                .isEqualTo("2026-11-24");
        assertThat(server.json("accounts/mirela.osk/usage/chat.whistle")
                        .get("reported")
                        .asBoolean())
                .isFalse();
    }

    @Test
    void aReviewTellsWhoLosesWhatTheyUse() {
        report("{'day':'2026-11-24','uses':[{'setting':'chat.private','accounts':['mirela.osk','tobin.velho']}]}");
        server.send("POST", "/api/v1/drafts", "{}");
        server.draft(
                "{\"kind\":\"put-statement\",\"policy\":\"safety-first\",\"statement\":{\"setting\":\"chat.private\",\"set\":false,\"lock\":true}}");
        JsonNode draft = server.json("drafts").get("drafts").get(0);
        String path = "drafts/" + draft.get("id").asLong();
        JsonNode used = server.json(path + "/reading").get("used").get(0);
        assertThat(used.get("title").asText())
                .isEqualTo(server.json("settings/chat.private").get("title").asText());
        int users = used.get("used").asInt();
        assertThat(users).isBetween(1, 2);
        JsonNode people = server.json(path + "/ripple?setting=chat.private&part=used");
        assertThat(people.get("accounts").asInt()).isEqualTo(users);
    }

    @Test
    void aReviewTellsHowMuchStaysSharedOutsideThoughNoUseIsReported() {
        report("{'day':'2026-11-24','items':[{'setting':'files.share','items':1204}]}");
        server.send("POST", "/api/v1/drafts", "{}");
        server.draft(
                "{\"kind\":\"put-statement\",\"policy\":\"safety-first\",\"statement\":{\"setting\":\"files.share\",\"set\":\"crew\",\"lock\":true}}");
        JsonNode used = server.json(
                        "drafts/" + server.json("drafts").at("/drafts/0/id").asLong() + "/reading")
                .get("used");
        assertThat(used).hasSize(1);
        assertThat(used.at("/0/items").asInt()).isEqualTo(1204);
        assertThat(used.at("/0/used").isNull() || used.at("/0/used").isMissingNode())
                .isTrue();
    }

    @Test
    void seatsOfThoseWhoUseNothingOfThemAreFoundOnceUsageIsReportedForLong() {
        UsageTable usage = server.store().usage();
        LocalDate today = LocalDate.of(2026, 11, 25);
        usage.add(
                WriteRequest.by("test", NOW),
                today.minusDays(40),
                Map.of("meetings.start", Set.of("mirela.osk")),
                Map.of());
        assertThat(server.json("plans").toString()).contains("used nothing of what it carries for 30 days");
    }

    @Test
    void reportingAgainGivesNobodyAnotherNumberAndUsesNoneUp() {
        String body =
                "{'day':'2026-11-24','uses':[{'setting':'chat.private','accounts':['mirela.osk','tobin.velho']}]}";
        for (int i = 0; i < 5; i++) report(body);
        report(body.replace("tobin.velho", "astrid.brekke"));
        var numbers = server.store().usage().accountNumbers(0);
        assertThat(numbers).hasSize(3);
        assertThat(numbers.get(2).number()).isEqualTo(numbers.get(0).number() + 2);
    }

    @Test
    void whoseNumberIsCommittedAfterAHigherOneIsCountedToo() throws Exception {
        // One server has read the higher number before the lower one is there.
        report("{'day':'2026-11-24','uses':[{'setting':'chat.private','accounts':['mirela.osk','tobin.velho']}]}");
        var numbers = server.store().usage().accountNumbers(0);
        String lower = numbers.get(0).account();
        try (Connection connection = server.store().database().connect();
                PreparedStatement delete =
                        connection.prepareStatement("delete from usage_account where account = '" + lower + "'");
                PreparedStatement insert = connection.prepareStatement(
                        "insert into usage_account (account, number)" + " overriding system value values ('" + lower
                                + "', " + numbers.get(0).number() + ")")) {
            delete.executeUpdate();
            assertThat(server.json("settings/chat.private/usage").get("recent").asInt())
                    .isEqualTo(1);
            insert.executeUpdate();
        }
        assertThat(server.json("settings/chat.private/usage").get("recent").asInt())
                .isEqualTo(2);
    }

    @Test
    void daysBecomeWeeksAndAreForgottenInTheEnd() {
        UsageTable usage = server.store().usage();
        LocalDate today = LocalDate.of(2026, 11, 25);
        for (int back : new int[] {1, 70, 71, 72, 500})
            usage.add(
                    WriteRequest.by("test", NOW),
                    today.minusDays(back),
                    Map.of("chat.private", Set.of(back == 71 ? "tobin.velho" : "mirela.osk")),
                    Map.of());
        usage.compact(NOW);
        usage.compact(NOW);
        var periods = usage.periods("chat.private");
        assertThat(periods.stream().mapToInt(UsageTable.Period::days)).containsExactly(7, 1);
        assertThat(periods.get(0).people()).isEqualTo(2);
        assertThat(usage.users("chat.private", today.minusDays(72)).getCardinality())
                .isEqualTo(2);
        assertThat(usage.users("chat.private", today.minusDays(30)).getCardinality())
                .isEqualTo(1);
        assertThat(usage.lastUse("chat.private", "tobin.velho").orElseThrow().days())
                .isEqualTo(7);
    }

    @Test
    void aReportThatDoesNotFitIsRefusedWhole() {
        HttpResponse<String> refused = report(
                "{'day':'2026-11-24','uses':[{'setting':'chat.private','accounts':['nobody.here']},{'setting':'no.such','accounts':[]}]}");
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body()).contains("nobody.here").contains("no.such");
        assertThat(report("{'day':'2026-06-01'}").body()).contains("one of the 30 days before");
        assertThat(server.send("POST", "/api/v1/suite/usage", "{}").statusCode())
                .isEqualTo(401);
        assertThat(server.json("settings/chat.private/usage").get("periods")).isEmpty();
    }
}
