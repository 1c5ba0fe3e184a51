package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The clock of the machine steps forward and back while the server runs. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class ClockStepTest {
    private static final Instant NOON = Instant.parse("2026-11-20T12:00:00Z");

    private final TestClock testClock = TestClock.standing(NOON.toString());
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        String estate = Files.readString(Path.of("../core/src/test/resources/small-estate.json"));
        server = RunningServer.start(ThrowAwayPostgres.get(), "clock_step_test", Path.of("no-web"), estate, testClock);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode get(String path) {
        HttpResponse<String> answer = server.get("/api/v1/" + path);
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
        return Json.read(answer.body());
    }

    private void set(Instant instant) {
        testClock.step(Duration.between(testClock.instant(), instant));
    }

    private void rename(String name) {
        HttpResponse<String> answer = server.post("{\"base\":" + get("session").get("change")
                + ",\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"" + name
                + "\"}}]}");
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
    }

    private List<Instant> journal() {
        List<Instant> instants = new ArrayList<>();
        for (JsonNode change : get("changes?limit=100").get("changes"))
            instants.add(0, Instant.parse(change.get("at").asText()));
        return instants;
    }

    @Test
    void instantsOfTheLogbookNeverRunBackwardsAndThePastIsAskedAsItStood() {
        rename("At noon");
        set(NOON.minus(Duration.ofHours(3)));
        rename("While the clock is three hours slow");
        set(NOON.plus(Duration.ofHours(1)));
        rename("At one");
        assertThat(journal()).isSorted();
        assertThat(get("policies/p1?at=" + NOON.plus(Duration.ofMinutes(30)))
                        .get("name")
                        .asText())
                .isEqualTo("While the clock is three hours slow");
        set(NOON.minus(Duration.ofDays(2)));
        assertThat(get("policies/p1").get("name").asText()).isEqualTo("At one");
        assertThat(Instant.parse(get("session").get("now").asText())).isAfterOrEqualTo(NOON.plus(Duration.ofHours(1)));
    }

    @Test
    void aPlannedDraftIsPublishedOnceHoweverTheClockSteps() {
        JsonNode draft = Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
        String at = "/api/v1/drafts/" + draft.get("id");
        JsonNode staged = Json.read(server.send(
                        "POST",
                        at + "/edits",
                        "{\"version\":1,\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Planned\"}}]}")
                .body());
        HttpResponse<String> planned = server.send(
                "POST",
                at + "/publish",
                "{\"version\":" + staged.get("version") + ",\"at\":\"" + NOON.plus(Duration.ofHours(2)) + "\"}");
        assertThat(planned.statusCode()).as(planned.body()).isEqualTo(200);
        set(NOON.plus(Duration.ofHours(3)));
        Awaitility.await().atMost(Duration.ofSeconds(20)).until(() -> journal().size() == 2);
        for (int hours : new int[] {0, 3, -5, 1, 4}) {
            set(NOON.plus(Duration.ofHours(hours)));
            // An edit that is published takes its turn after whatever the clock had to do.
            rename("At " + hours);
        }
        assertThat(journal()).hasSize(7).isSorted();
        assertThat(get("policies/p1").get("name").asText()).isEqualTo("At 4");
    }
}
