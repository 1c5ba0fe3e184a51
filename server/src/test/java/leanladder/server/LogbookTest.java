package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** The logbook is searched, one edit of a change is undone, a policy is restored to a day. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class LogbookTest {
    private static final String STRICTER =
            "{'kind':'put-statement','policy':'p2','statement':{'setting':'files.share','set':'own'}}";
    private static final String RENAMED = "{'kind':'amend-policy','policy':'p1','members':{'name':'Quiet watch'}}";
    private static final String MOVED = "{'kind':'amend-account','account':'a2','members':{'unit':'u1'}}";

    private final TestClock clock = new TestClock();
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "logbook_test",
                Path.of("no-web"),
                Files.readString(Path.of("../core/src/test/resources/small-estate.json")),
                clock);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private long publish(String note, String... edits) {
        HttpResponse<String> answer = server.post(
                ("{'base':" + change() + ",'note':'" + note + "','edits':[" + String.join(",", edits) + "]}")
                        .replace('\'', '"'));
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
        return change();
    }

    private long change() {
        return json(server.get("/api/v1/session")).get("change").asLong();
    }

    private static JsonNode json(HttpResponse<String> answer) {
        assertThat(answer.statusCode()).as(answer.body()).isLessThan(300);
        return Json.read(answer.body());
    }

    private List<Long> found(String query) {
        List<Long> numbers = new ArrayList<>();
        json(server.get("/api/v1/changes?" + query))
                .get("changes")
                .forEach(c -> numbers.add(c.get("number").asLong()));
        return numbers;
    }

    private JsonNode begun(String body) {
        return json(server.send("POST", "/api/v1/drafts", body.replace('\'', '"')));
    }

    private List<String> words(JsonNode draft) {
        List<String> words = new ArrayList<>();
        draft.get("items").forEach(i -> words.add(i.get("words").asText()));
        return words;
    }

    @Test
    void changesAreFoundByWhatTheyAreAboutAndWhomTheyAffect() {
        long renamed = publish("", RENAMED);
        long stricter = publish("Share less", STRICTER);
        long moved = publish("Tobin goes ashore", MOVED);
        assertThat(found("policy=p1")).containsExactly(renamed, 1L);
        assertThat(found("setting=files.share")).contains(stricter).doesNotContain(renamed);
        assertThat(found("app=files")).contains(stricter).doesNotContain(renamed);
        assertThat(found("account=a2")).contains(moved).doesNotContain(renamed);
        assertThat(found("account=nobody")).containsExactly(1L);
        assertThat(found("unit=u1")).containsExactly(moved, 1L);
        assertThat(found("kind=directory")).containsExactly(moved, 1L);
        assertThat(found("kind=policies")).containsExactly(stricter, renamed, 1L);
        assertThat(found("text=GOES%20ashore")).containsExactly(moved);
        assertThat(found("text=quiet%20watch")).containsExactly(renamed);
        assertThat(found("author=Ivo%20Tarn&policy=p2&kind=policies")).containsExactly(stricter, 1L);
        assertThat(found("author=Somebody")).isEmpty();
        assertThat(json(server.get("/api/v1/changes?policy=p1&limit=1"))
                        .get("next")
                        .asLong())
                .isEqualTo(renamed);
        assertThat(found("policy=p1&before=" + renamed)).containsExactly(1L);
        assertThat(server.get("/api/v1/changes?policy=p1&format=csv").body().lines())
                .hasSize(3)
                .anyMatch(line -> line.contains("Quiet watch"));
    }

    @Test
    void whomAChangeAffectedIsWorkedOutWhereTheJournalListsNobody() {
        publish("", RENAMED);
        long stricter = publish("", STRICTER);
        List<Long> listed = found("account=a2");
        List<Long> other = found("account=a1");
        server.store()
                .database()
                .read(
                        on -> on.execute(
                                "update change set ripple = (ripple::jsonb - 'affected')::json, subjects = null where number > 1"));
        server.store().journal().indexSubjects();
        int unlisted = server.store()
                .database()
                .read(on -> on.fetch("select number from change where 'account:*' = any(subjects)")
                        .size());
        assertThat(unlisted).isEqualTo(2);
        assertThat(found("account=a2")).isEqualTo(listed);
        assertThat(found("account=a1")).isEqualTo(other);
        assertThat(List.of(listed.contains(stricter), other.contains(stricter))).contains(true);
    }

    @Test
    void aChangeAboutMoreThanCanBeIndexedIsStillFoundByWhatItIsAboutAlone() {
        List<String> edits = new ArrayList<>();
        for (int i = 0; i < 2_100; i++)
            edits.add("{'kind':'add-account','account':{'id':'hand" + i + "','userName':'hand" + i
                    + "@skerrymore.example','displayName':'Hand " + i + "','kind':'person','unit':'u3'}}");
        long many = publish("Everybody", "{'kind':'batch','edits':[" + String.join(",", edits) + "]}");
        assertThat(found("account=hand7")).contains(many);
        assertThat(found("unit=u3")).contains(many);
        assertThat(found("policy=p1")).doesNotContain(many);
        assertThat(found("kind=directory&text=everybody")).containsExactly(many);
        assertThat(found("kind=seats")).doesNotContain(many);
    }

    @Test
    void oneEditOfAChangeIsUndoneAndTheOthersStay() {
        long change = publish("Two things", RENAMED, STRICTER);
        JsonNode draft = begun("{'name':'undo','takesBack':" + change + ",'edit':1}");
        assertThat(words(draft)).hasSize(1);
        publishDraft(draft);
        JsonNode policies = json(server.get("/api/v1/estate")).get("policies");
        assertThat(policies.at("/0/name").asText()).isEqualTo("Quiet watch");
        assertThat(policies.at("/1/statements")).hasSize(1);
        assertThat(server.send("POST", "/api/v1/drafts", "{\"takesBack\":" + change + ",\"edit\":2}")
                        .statusCode())
                .isEqualTo(404);
    }

    @Test
    void aPolicyIsRestoredToAnInstantWhateverBecameOfIt() {
        JsonNode before = policies();
        String then = clock.instant().toString();
        clock.step(java.time.Duration.ofDays(1));
        publish("", RENAMED, STRICTER, "{'kind':'rank-policy','policy':'p1','above':null}");
        publish(
                "",
                "{'kind':'remove-statement','policy':'p1','setting':'files.share','says':'cap'}",
                "{'kind':'put-statement','policy':'p1','statement':{'setting':'chat.private','set':true}}",
                "{'kind':'remove-assignment','policy':'p1','assignment':{'except':'group:g1'}}",
                "{'kind':'put-assignment','policy':'p1','assignment':{'include':'account:a2'}}");
        restored("p2", then);
        assertThat(restored("p1", then)).isEqualTo(byId(before));
        assertThat(policies().at("/0/id").asText()).isEqualTo("p1");
        publish("", "{'kind':'remove-policy','policy':'p1'}");
        restored("p1", then);
        assertThat(byId(policies())).isEqualTo(byId(before));
        assertThat(server.send("POST", "/api/v1/drafts", restoration("p1", then))
                        .body())
                .contains("nothing has to be restored");
        assertThat(server.send("POST", "/api/v1/drafts", restoration("p9", then))
                        .body())
                .contains("did not exist at that time");
    }

    private JsonNode policies() {
        return json(server.get("/api/v1/estate")).get("policies");
    }

    private static Map<String, JsonNode> byId(JsonNode policies) {
        Map<String, JsonNode> byId = new java.util.TreeMap<>();
        policies.forEach(p -> {
            List<JsonNode> assignments = new ArrayList<>();
            p.get("assignments").forEach(assignments::add);
            assignments.sort(java.util.Comparator.comparing(JsonNode::toString));
            ((ObjectNode) p).putArray("assignments").addAll(assignments);
            byId.put(p.get("id").asText(), p);
        });
        return byId;
    }

    private static String restoration(String policy, String at) {
        return "{\"restores\":{\"policy\":\"" + policy + "\",\"at\":\"" + at + "\"}}";
    }

    private Map<String, JsonNode> restored(String policy, String at) {
        publishDraft(begun(restoration(policy, at)));
        return byId(policies());
    }

    private void publishDraft(JsonNode draft) {
        assertThat(draft.get("stands").asBoolean()).as(draft.toString()).isTrue();
        json(server.send(
                "POST",
                "/api/v1/drafts/" + draft.get("id").asText() + "/publish",
                "{\"version\":" + draft.get("version") + ",\"note\":\"\"}"));
    }
}
