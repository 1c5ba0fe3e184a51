package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashSet;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What clients of the suite fetch, and what they are told. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class SuiteTest {
    private static final String CLIENT = "Bearer " + RunningServer.SECRET;
    private static final String MIRELA = "/api/v1/suite/accounts/mirela.osk/settings";
    private final TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "suite_test",
                Path.of("no-web"),
                Json.write(new DemoEstate().build()),
                testClock);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private HttpResponse<String> fetch(String path, String... headers) {
        String[] all = new String[headers.length + 2];
        all[0] = "Authorization";
        all[1] = CLIENT;
        System.arraycopy(headers, 0, all, 2, headers.length);
        return server.send("GET", path, "", all);
    }

    private static JsonNode setting(HttpResponse<String> answer, String key) {
        for (JsonNode one : Json.read(answer.body()).get("settings"))
            if (one.get("key").asText().equals(key)) return one;
        throw new AssertionError(key + " is not delivered");
    }

    private void publish(String edit) {
        HttpResponse<String> answer = server.post(("{'base':"
                        + Json.read(server.get("/api/v1/session").body()).get("change") + ",'edits':[" + edit + "]}")
                .replace('\'', '"'));
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
    }

    /** A client that listens, as one does that is no browser. */
    private final class Listener implements AutoCloseable {
        private final HttpURLConnection connection;
        private final BufferedReader lines;
        private String id = "";

        Listener(String query) throws IOException {
            connection = (HttpURLConnection) URI.create(server.address() + "/api/v1/suite/changes" + query)
                    .toURL()
                    .openConnection();
            connection.setRequestProperty("Authorization", CLIENT);
            connection.setReadTimeout(20_000);
            lines = new BufferedReader(new InputStreamReader(connection.getInputStream(), StandardCharsets.UTF_8));
        }

        /** The next event of a kind. */
        JsonNode next(String kind) throws IOException {
            String event = "";
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                if (line.startsWith("id: ")) id = line.substring(4);
                if (line.startsWith("event: ")) event = line.substring(7);
                if (line.startsWith("data: ")) {
                    assertThat(event).isEqualTo(kind);
                    return Json.read(line.substring(6));
                }
            }
            throw new AssertionError("The stream ended");
        }

        @Override
        public void close() {
            connection.disconnect();
        }
    }

    private static Set<String> names(JsonNode wake) {
        Set<String> names = new HashSet<>();
        wake.get("accounts").forEach(a -> names.add(a.asText()));
        return names;
    }

    @Test
    void everyValueInForceIsDeliveredWithWhatStandsWhereAFeatureIsNotThere() {
        assertThat(server.get(MIRELA).statusCode()).isEqualTo(401);
        HttpResponse<String> answer = fetch(MIRELA);
        JsonNode delivered = Json.read(answer.body());
        JsonNode catalogue = Json.read(server.get("/api/v1/catalogue").body()).get("settings");
        assertThat(delivered.get("settings")).hasSameSizeAs(catalogue);
        int away = 0;
        for (JsonNode setting : catalogue) {
            String key = setting.get("key").asText();
            JsonNode here = setting(answer, key);
            JsonNode outcome = Json.read(server.get("/api/v1/climb?account=mirela.osk&setting=" + key)
                            .body())
                    .get("outcome");
            if (setting.path("byLanguage").asBoolean())
                assertThat(outcome.get("value")).as(key).contains(here.get("value"));
            else assertThat(here.get("value")).as(key).isEqualTo(outcome.get("value"));
            boolean gone = outcome.get("standing").asText().equals("blocked")
                    || here.get("value").isBoolean() && !here.get("value").asBoolean();
            String shown = !gone ? "there" : setting.path("absence").asText().equals("grey") ? "greyed" : "absent";
            assertThat(here.get("shown").asText()).as(key).isEqualTo(shown);
            if (gone) {
                away++;
                assertThat(here.get("notice").asText(""))
                        .isEqualTo(setting.path("notice").asText(""));
            } else assertThat(here.get("notice").isNull()).isTrue();
        }
        assertThat(away).isGreaterThan(5);
    }

    @Test
    void whatDidNotChangeForAnAccountIsNotSentAgain() {
        String tag = fetch(MIRELA).headers().firstValue("ETag").orElseThrow();
        assertThat(fetch(MIRELA, "If-None-Match", tag).statusCode()).isEqualTo(304);
        // Somebody else's change leaves it as it is.
        publish(
                "{'kind':'add-policy','policy':{'id':'o','name':'Others','statements':[{'setting':'chat.private','set':false}],"
                        + "'assignments':[{'include':'account:yara.brekke'}]}}");
        assertThat(fetch(MIRELA, "If-None-Match", tag).statusCode()).isEqualTo(304);
        boolean before = setting(fetch(MIRELA), "chat.private").get("value").asBoolean();
        publish("{'kind':'add-policy','policy':{'id':'m','name':'Hers','statements':[{'setting':'chat.private','set':"
                + !before + "}],'assignments':[{'include':'account:mirela.osk'}]}}");
        HttpResponse<String> answer = fetch(MIRELA, "If-None-Match", tag);
        assertThat(answer.statusCode()).isEqualTo(200);
        assertThat(setting(answer, "chat.private").get("value").asBoolean()).isEqualTo(!before);
    }

    @Test
    void aChangeWakesThoseWhomItsRippleHoldsAndNobodyElseAndWhatWasMissedIsTold() throws Exception {
        String last;
        try (Listener listener = new Listener("")) {
            assertThat(listener.next("listening").get("change").asInt()).isEqualTo(1);
            publish("{'kind':'amend-policy','policy':'house-rules','members':{'name':'Rules of the house'}}");
            publish(
                    "{'kind':'put-statement','policy':'bridge-under-way','statement':{'setting':'chat.private','set':true}}");
            JsonNode wake = listener.next("wake");
            assertThat(wake.get("change").asInt()).as("a name wakes nobody").isEqualTo(3);
            JsonNode ripple = Json.read(server.get("/api/v1/changes/3").body()).get("ripple");
            assertThat(names(wake))
                    .contains("mirela.osk")
                    .hasSize(ripple.get("accounts").asInt());
            last = listener.id;
            publish("{'kind':'amend-account','account':'yara.brekke','members':{'active':false}}");
            // Her seat passes on to the one who waited longest, whose settings change with it.
            assertThat(names(listener.next("wake"))).containsExactlyInAnyOrder("yara.brekke", "dita.ardal");
        }
        try (Listener again = new Listener("?after=" + last)) {
            assertThat(names(again.next("wake"))).containsExactlyInAnyOrder("yara.brekke", "dita.ardal");
            again.next("listening");
        }
        try (Listener late = new Listener("?after=1.1")) {
            assertThat(late.next("wake").get("all").asBoolean()).isTrue();
        }
        assertThat(fetch("/api/v1/suite/changes?after=yesterday").statusCode()).isEqualTo(400);
    }

    @Test
    void whatTimeAltersWakesThoseWhomItAlters() throws Exception {
        publish(
                "{'kind':'add-policy','policy':{'id':'o','name':'Tomorrow','statements':[{'setting':'chat.flags','set':false}],"
                        + "'assignments':[{'include':'account:yara.brekke','from':'2026-11-25T12:00:30Z'}]}}");
        boolean before = setting(fetch("/api/v1/suite/accounts/yara.brekke/settings"), "chat.flags")
                .get("value")
                .asBoolean();
        try (Listener listener = new Listener("")) {
            listener.next("listening");
            testClock.step(Duration.ofMinutes(1));
            assertThat(names(listener.next("wake"))).contains("yara.brekke");
        }
        assertThat(setting(fetch("/api/v1/suite/accounts/yara.brekke/settings"), "chat.flags")
                        .get("value")
                        .asBoolean())
                .isNotEqualTo(before);
    }

    @Test
    void whatTimeAlteredIsToldEvenWhenAChangeComesBeforeAnybodyNoticed() throws Exception {
        String yara = "/api/v1/suite/accounts/yara.brekke/settings";
        publish(
                "{'kind':'add-policy','policy':{'id':'o','name':'Tomorrow','statements':[{'setting':'chat.flags','set':false}],"
                        + "'assignments':[{'include':'account:yara.brekke','from':'2026-11-25T12:00:30Z'}]}}");
        boolean before = setting(fetch(yara), "chat.flags").get("value").asBoolean();
        assertThat(before).isTrue();
        try (Listener listener = new Listener("")) {
            listener.next("listening");
            testClock.step(Duration.ofMinutes(1));
            // The value is the same before and after this change, and another than she was told.
            publish("{'kind':'put-assignment','policy':'o','assignment':{'include':'account:yara.brekke'}}");
            assertThat(names(listener.next("wake"))).contains("yara.brekke");
        }
    }

    private JsonNode ask(String path) {
        HttpResponse<String> answer = fetch(path);
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
        return Json.read(answer.body());
    }

    /** At which instants a setting was delivered with which value. */
    private static String turns(JsonNode history, String key) {
        StringBuilder turns = new StringBuilder();
        for (JsonNode turn : history.get("turns"))
            for (JsonNode one : turn.get("settings"))
                if (one.get("key").asText().equals(key))
                    turns.append(turn.get("at").asText())
                            .append(' ')
                            .append(one.get("value").asText())
                            .append(' ');
        return turns.toString().strip();
    }

    @Test
    void ofVeryManyChangesTheLastOnesAreToldSoThatNobodyWaitsForAHistoryWithoutEnd() {
        int settings = ask("/api/v1/suite/accounts/yara.brekke/settings")
                .get("settings")
                .size();
        publish(
                "{'kind':'add-policy','policy':{'id':'o','name':'To and fro','statements':[{'setting':'chat.flags','set':false}],"
                        + "'assignments':[{'include':'account:yara.brekke'}]}}");
        for (int i = 1; i <= 405; i++) {
            testClock.step(Duration.ofSeconds(1));
            publish("{'kind':'put-statement','policy':'o','statement':{'setting':'chat.flags','set':" + (i % 2 == 1)
                    + "}}");
        }
        JsonNode turns = ask("/api/v1/suite/accounts/yara.brekke/history?since=2026-11-25T12:00:00Z")
                .get("turns");
        assertThat(turns).hasSize(400);
        assertThat(turns.get(0).get("at").asText()).isEqualTo("2026-11-25T12:00:06Z");
        assertThat(turns.get(0).get("settings")).hasSize(settings);
        assertThat(turns.get(399).get("at").asText()).isEqualTo("2026-11-25T12:06:45Z");
        assertThat(turns.get(399).get("settings").get(0).get("value").booleanValue())
                .isTrue();
    }

    @Test
    void aClientThatWasAwayLearnsSinceWhenEachValueHoldsAndWhatTimeWillBring() {
        String yara =
                "/api/v1/suite/accounts/yara.brekke/history?since=2026-11-25T12:00:00Z&until=2026-11-25T13:00:00Z";
        assertThat(server.get(yara).statusCode()).isEqualTo(401);
        int settings = ask("/api/v1/suite/accounts/yara.brekke/settings")
                .get("settings")
                .size();
        testClock.step(Duration.ofMinutes(5));
        publish("{'kind':'amend-policy','policy':'house-rules','members':{'name':'Rules of the house'}}");
        publish(
                "{'kind':'add-policy','policy':{'id':'o','name':'At noon','statements':[{'setting':'chat.flags','set':false}],"
                        + "'assignments':[{'include':'account:yara.brekke','until':'2026-11-25T12:30:00Z'}]}}");
        JsonNode history = ask(yara);
        assertThat(history.get("turns").get(0).get("settings")).hasSize(settings);
        assertThat(turns(history, "chat.flags"))
                .isEqualTo("2026-11-25T12:00:00Z true 2026-11-25T12:05:00Z false 2026-11-25T12:30:00Z true");
        assertThat(history.get("turns")).hasSize(3);
        testClock.step(Duration.ofMinutes(5));
        publish("{'kind':'amend-account','account':'yara.brekke','members':{'active':false}}");
        assertThat(ask(yara).get("turns")).isEmpty();
        testClock.step(Duration.ofMinutes(5));
        publish("{'kind':'amend-account','account':'yara.brekke','members':{'active':true}}");
        assertThat(turns(ask(yara), "chat.flags")).isEqualTo("2026-11-25T12:15:00Z false 2026-11-25T12:30:00Z true");
        assertThat(fetch(yara.replace("T13", "T11")).statusCode()).isEqualTo(400);
        assertThat(fetch(yara.replaceFirst("until.*", "until=2027-11-25")).statusCode())
                .isEqualTo(400);
    }

    /** It altered nothing when it was published, so that it was passed over, and what it brought later with it. */
    @Test
    void whatAChangeBringsOnlyLaterIsToldOnceItHasAndNotWhereItWasTakenBackBefore() {
        String yara = "/api/v1/suite/accounts/yara.brekke/history?since=2026-11-25T12:00:00Z";
        testClock.step(Duration.ofMinutes(5));
        for (String from : new String[] {"'2026-11-25T12:10:00Z'", "null", "'2026-11-25T12:12:00Z'"}) {
            publish("{'kind':'open-release','release':'meetings.captions','ring':'everyone','from':" + from + "}");
            testClock.step(Duration.ofMinutes(1));
        }
        testClock.step(Duration.ofMinutes(10));
        assertThat(turns(ask(yara), "meetings.captions"))
                .isEqualTo("2026-11-25T12:00:00Z false 2026-11-25T12:12:00Z true");
    }

    private JsonNode release(String account, String setting) {
        for (JsonNode one :
                ask("/api/v1/suite/accounts/" + account + "/previews").get("releases"))
            if (one.get("setting").asText().equals(setting)) return one;
        throw new AssertionError(setting + " is not coming to " + account);
    }

    @Test
    void aPersonIsToldWhatWaitsForTheirWordAndThatTheyHaveItOnceItIsGiven() {
        publish(
                "{'kind':'add-policy','policy':{'id':'o','name':'Testers','statements':[{'setting':'preview.ring','set':'harbour-trial'}],"
                        + "'assignments':[{'include':'account:yara.brekke'}]}},"
                        + "{'kind':'open-release','release':'meetings.captions','ring':'harbour-trial','from':'2026-11-20T00:00:00Z'}");
        JsonNode ring = ask("/api/v1/suite/accounts/yara.brekke/previews").at("/rings/0");
        assertThat(ring.get("id").asText()).isEqualTo("harbour-trial");
        assertThat(ring.get("consented").isNull()).isTrue();
        assertThat(release("yara.brekke", "meetings.captions").get("state").asText())
                .isEqualTo("asks");
        HttpResponse<String> word = server.send(
                "POST",
                "/api/v1/accounts/yara.brekke/consents",
                "{\"ring\":\"harbour-trial\"}",
                "Authorization",
                CLIENT);
        assertThat(word.statusCode()).as(word.body()).isEqualTo(201);
        assertThat(ask("/api/v1/suite/accounts/yara.brekke/previews")
                        .at("/rings/0/consented")
                        .asText())
                .isEqualTo("2026-11-25T12:00:00Z");
        JsonNode captions = release("yara.brekke", "meetings.captions");
        assertThat(captions.get("state").asText()).isEqualTo("come");
        assertThat(captions.get("at").asText()).isEqualTo("2026-11-20T00:00:00Z");
        assertThat(captions.get("preview").asBoolean()).isTrue();
    }
}
