package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.time.Clock;
import java.time.ZoneOffset;
import java.util.List;
import java.util.stream.StreamSupport;
import leanladder.RandomEstate;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The one list of exceptions: who is in it, how old each is, and by whom. */
class ExceptionTest {
    private static final String STEWARDS = "{\"except\":\"group:safety-stewards\"}";

    private static RunningServer server;
    private long base;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "exception_test",
                Path.of("no-web"),
                "",
                Clock.fixed(RandomEstate.NOW, ZoneOffset.UTC));
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    @BeforeEach
    void demo() {
        base = Json.read(server.send("PUT", "/api/v1/estate", Json.write(new DemoEstate().build()))
                        .body())
                .get("number")
                .asLong();
    }

    private void publish(String... edits) {
        String body = "{\"base\":" + base + ",\"note\":\"\",\"edits\":[" + String.join(",", edits) + "]}";
        base = Json.read(server.post(body).body()).get("number").asLong();
    }

    private static String author(long change) {
        return Json.read(server.get("/api/v1/changes/" + change).body())
                .get("author")
                .asText();
    }

    private static String assignment(String kind, String policy, String assignment) {
        return "{\"kind\":\"" + kind + "\",\"policy\":\"" + policy + "\",\"assignment\":" + assignment + "}";
    }

    private static List<JsonNode> exceptions(String question) {
        JsonNode answer =
                Json.read(server.get("/api/v1/exceptions" + question).body()).get("exceptions");
        return StreamSupport.stream(answer.spliterator(), false).toList();
    }

    private static JsonNode of(String policy, String target) {
        return exceptions("").stream()
                .filter(e -> e.get("policy").asText().equals(policy)
                        && e.get("target").asText().equals(target))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void everyExceptAndEveryAccountByNameIsListedAndNothingElse() {
        ObjectNode estate = new DemoEstate().build();
        int expected = 0;
        for (JsonNode policy : estate.get("policies"))
            for (JsonNode a : policy.path("assignments"))
                if (a.has("except") || a.path("include").asText().startsWith("account:")) expected++;
        assertThat(exceptions("")).hasSize(expected).isNotEmpty();
        assertThat(of("bridge-under-way", "group:safety-stewards").get("kind").asText())
                .isEqualTo("left-out");
        assertThat(of("relief-captain", "account:mirela.osk").get("kind").asText())
                .isEqualTo("named");
    }

    @Test
    void anExceptionCountsThoseThatItKeepsAwayAndNotThoseThatThePolicyNeverNamed() {
        JsonNode stewards = of("bridge-under-way", "group:safety-stewards");
        JsonNode left = Json.read(server.get("/api/v1/policies/bridge-under-way/reaches?show=left-out")
                .body());
        assertThat(stewards.get("accounts").asInt())
                .isEqualTo(left.get("leftOut").asInt())
                .isPositive();
    }

    @Test
    void itsAgeIsThatOfTheAssignmentAndNotOfThePolicysLastEdit() {
        publish(assignment("put-assignment", "flag-keepers", STEWARDS));
        long made = base;
        publish("{\"kind\":\"amend-policy\",\"policy\":\"flag-keepers\",\"members\":{\"name\":\"Flags\"}}");
        publish(
                assignment("remove-assignment", "flag-keepers", STEWARDS),
                assignment(
                        "put-assignment",
                        "flag-keepers",
                        "{\"except\":\"group:safety-stewards\",\"until\":\"2027-01-01T00:00:00Z\"}"));
        JsonNode stewards = of("flag-keepers", "group:safety-stewards");
        assertThat(stewards.at("/made/change").asLong()).isEqualTo(made);
        assertThat(stewards.at("/made/author").asText()).isEqualTo(author(made));
        assertThat(stewards.get("until").asText()).isEqualTo("2027-01-01T00:00:00Z");
    }

    @Test
    void takenAwayAndGivenAgainItIsNew() {
        publish(assignment("remove-assignment", "bridge-under-way", STEWARDS));
        publish(assignment("put-assignment", "bridge-under-way", STEWARDS));
        JsonNode stewards = of("bridge-under-way", "group:safety-stewards");
        assertThat(stewards.at("/made/change").asLong()).isEqualTo(base);
    }

    @Test
    void whatADraftAddsHasNoAgeYetAndStandsLast() {
        String begun =
                server.send("POST", "/api/v1/drafts", "{\"name\":\"Trial\"}").body();
        long draft = Json.read(begun).get("id").asLong();
        assertThat(server.send(
                                "POST",
                                "/api/v1/drafts/" + draft + "/edits",
                                "{\"version\":" + Json.read(begun).get("version") + ",\"edits\":["
                                        + assignment("put-assignment", "flag-keepers", STEWARDS) + "]}")
                        .statusCode())
                .isLessThan(300);
        List<JsonNode> after = exceptions("?draft=" + draft);
        assertThat(after).hasSize(exceptions("").size() + 1);
        JsonNode last = after.get(after.size() - 1);
        assertThat(last.get("target").asText()).isEqualTo("group:safety-stewards");
        assertThat(last.has("made")).isFalse();
    }

    @Test
    void asAFileItHasALineForEach() {
        String csv = server.get("/api/v1/exceptions?format=csv").body();
        assertThat(csv.lines().count()).isEqualTo(exceptions("").size() + 1);
        assertThat(csv).contains("left out,Safety stewards,Bridge under way");
    }
}
