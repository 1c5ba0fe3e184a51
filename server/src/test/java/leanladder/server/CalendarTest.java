package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.StringReader;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Arrivals as calendars, read by another's reader. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class CalendarTest {
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        ObjectNode estate = new DemoEstate().build();
        for (JsonNode release : estate.get("releases"))
            if (release.get("setting").asText().equals("chat.translate"))
                ((ObjectNode) release)
                        .put(
                                "note",
                                "Long; with, signs\\ and a\nsecond line: "
                                        + "Überfahrt 🚢 ".repeat(20).strip())
                        .put("guide", "https://guides.skerrymore.example/translate?a=1,2;b");
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "calendar_test",
                Path.of("no-web"),
                Json.write(estate),
                Clock.fixed(Instant.parse("2026-11-25T12:00:00Z"), ZoneOffset.UTC));
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode json(HttpResponse<String> response) {
        assertThat(response.statusCode()).as(response.body()).isLessThan(300);
        return Json.read(response.body());
    }

    private void publish(String edit) {
        long change = json(server.get("/api/v1/session")).get("change").asLong();
        json(server.post(("{'base':" + change + ",'edits':[" + edit + "]}").replace('\'', '"')));
    }

    private String made(String of) {
        return json(server.send("POST", "/api/v1/calendars", "{\"of\":\"" + of + "\"}"))
                .get("path")
                .asText();
    }

    private Map<String, VEvent> read(String path) throws Exception {
        HttpResponse<String> response = server.get(path);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        assertThat(response.headers().firstValue("Content-Type").orElse("")).startsWith("text/calendar");
        for (String line : response.body().split("\r\n", -1))
            assertThat(line.getBytes(StandardCharsets.UTF_8).length).as(line).isLessThanOrEqualTo(75);
        Calendar calendar = new CalendarBuilder().build(new StringReader(response.body()));
        calendar.validate();
        Map<String, VEvent> byTitle = new TreeMap<>();
        for (VEvent event : calendar.<VEvent>getComponents("VEVENT"))
            byTitle.put(event.getSummary().getValue(), event);
        return byTitle;
    }

    private static String value(VEvent event, String property) {
        return event.getRequiredProperty(property).getValue();
    }

    @Test
    void anOpeningKeepsItsNameWhileItsDayMovesAndIsCancelledWhenDrawnBack() throws Exception {
        String path = made("everyone");
        String title = "Read in one's own language opens to Harbour trial";
        VEvent first = read(path).get(title);
        assertThat(value(first, "DTSTART")).isEqualTo("20261203");
        assertThat(value(first, "DTEND")).isEqualTo("20261204");
        assertThat(value(first, "STATUS")).isEqualTo("CONFIRMED");
        assertThat(value(first, "SEQUENCE")).isEqualTo("0");
        assertThat(value(first, "DESCRIPTION"))
                .isEqualTo("Long; with, signs\\ and a\nsecond line: "
                        + "Überfahrt 🚢 ".repeat(20).strip());
        assertThat(value(first, "URL")).endsWith("?a=1,2;b");

        // Midnight in Lisbon is midnight in UTC in winter; an instant before it belongs to the day before.
        publish(
                "{'kind':'open-release','release':'chat.translate','ring':'harbour-trial','from':'2026-12-04T23:30:00Z'}");
        VEvent moved = read(path).get(title);
        assertThat(value(moved, "DTSTART")).isEqualTo("20261204");
        assertThat(value(moved, "SEQUENCE")).isEqualTo("1");
        assertThat(value(moved, "UID")).isEqualTo(value(first, "UID"));

        // Something else of it that is not told leaves it as it is; holding it makes it uncertain.
        publish("{'kind':'amend-release','release':'chat.translate','members':{'oneByOne':true}}");
        assertThat(value(read(path).get(title), "SEQUENCE")).isEqualTo("1");
        publish(
                "{'kind':'pause-release','release':'chat.translate','reason':'It mixes up names','since':'2026-11-25T12:00:00Z'}");
        VEvent held = read(path).get(title);
        assertThat(value(held, "STATUS")).isEqualTo("TENTATIVE");
        assertThat(value(held, "DESCRIPTION")).startsWith("Held: It mixes up names");

        publish("{'kind':'resume-release','release':'chat.translate'}");
        publish("{'kind':'open-release','release':'chat.translate','ring':'harbour-trial','from':null}");
        VEvent gone = read(path).get(title);
        assertThat(value(gone, "STATUS")).isEqualTo("CANCELLED");
        assertThat(value(gone, "UID")).isEqualTo(value(first, "UID"));
        assertThat(Integer.parseInt(value(gone, "SEQUENCE"))).isGreaterThan(Integer.parseInt(value(held, "SEQUENCE")));

        // A ring that is called otherwise is told anew, and numbers never fall.
        String rings =
                json(server.get("/api/v1/estate")).get("rings").toString().replace("Harbour trial", "Pilots");
        publish("{'kind':'arrange-rings','rings':" + rings + "}");
        publish(
                "{'kind':'open-release','release':'chat.translate','ring':'harbour-trial','from':'2026-12-08T09:00:00Z'}");
        VEvent back = read(path).get("Read in one's own language opens to Pilots");
        assertThat(value(back, "STATUS")).isEqualTo("CONFIRMED");
        assertThat(Integer.parseInt(value(back, "SEQUENCE")))
                .isGreaterThan(Integer.parseInt(value(gone, "SEQUENCE")) + 1);
    }

    @Test
    void aCalendarOfOneTellsWhatComesToThatOneAlone() throws Exception {
        Map<String, VEvent> everyone = read(made("everyone"));
        assertThat(read(made("ring:sea-trial")).keySet())
                .isNotEmpty()
                .allMatch(title -> title.endsWith("opens to Sea trial"));
        String insider = json(server.get("/api/v1/rings/dry-dock/accounts?which=did"))
                .at("/members/0/account")
                .asText();
        Map<String, VEvent> theirs = read(made("account:" + insider));
        assertThat(everyone.keySet()).containsAll(theirs.keySet());
        // What is open to the innermost ring comes to its people once.
        assertThat(theirs.size()).isLessThan(everyone.size());
        assertThat(theirs.keySet().stream()
                        .map(title -> title.replaceFirst(" opens .*", ""))
                        .toList())
                .doesNotHaveDuplicates();
    }

    @Test
    void aRenewedAddressShutsTheOneBeforeAndNobodyHasOneUnasked() {
        assertThat(json(server.get("/api/v1/calendars?of=everyone")).get("path").isNull())
                .isTrue();
        String before = made("everyone");
        String after = made("everyone");
        assertThat(after).isNotEqualTo(before);
        assertThat(server.get(before).statusCode()).isEqualTo(404);
        assertThat(server.get(after).statusCode()).isEqualTo(200);
        assertThat(json(server.get("/api/v1/calendars")).get("path").asText()).isEqualTo(after);
        for (String nobody : new String[] {"ring:none", "unit:none", "group:captains", "account:none", "x"})
            assertThat(server.send("POST", "/api/v1/calendars", "{\"of\":\"" + nobody + "\"}")
                            .statusCode())
                    .as(nobody)
                    .isEqualTo(404);
    }
}
