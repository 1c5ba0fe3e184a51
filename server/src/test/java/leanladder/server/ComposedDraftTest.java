package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.edit.session.EditSession;
import leanladder.edit.session.RandomDraft;
import leanladder.edit.session.RandomEdits;
import leanladder.estate.Account;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Random drafts whose edits build on one another, over the public interface: staged, shown, published, exported, undone. */
@Timeout(value = 4, unit = TimeUnit.MINUTES)
class ComposedDraftTest {
    private static final int DRAFTS = 12;
    private static final int MOST = 20;
    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(), "composed_test", Path.of("no-web"), Json.write(RandomEstate.json(1)));
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void aDraftPredictsWhatHoldsOnceItIsPublishedAndCanBeUndone(boolean oneAtATime) {
        for (long seed = 1; seed <= DRAFTS; seed++) {
            ObjectNode file = RandomEstate.json(seed + (oneAtATime ? 0 : 1000));
            assertThat(server.send("PUT", "/api/v1/estate", Json.write(file)).statusCode())
                    .isEqualTo(200);
            JsonNode before = exported();
            JsonNode draft = json(send("/drafts", "{}"), 201);
            List<JsonNode> edits = edits(file, seed);
            if (!oneAtATime) draft = staged(draft, edits);
            else for (JsonNode edit : edits) draft = shown(staged(draft, List.of(edit)));
            if (draft.get("items").isEmpty()) continue;
            assertThat(draft.get("stands").asBoolean()).isTrue();
            Map<String, JsonNode> predicted =
                    outcomes("draft=" + draft.get("id").asText());
            JsonNode change = json(
                    send("/drafts/" + draft.get("id") + "/publish", "{\"version\":" + draft.get("version") + "}"), 201);
            assertThat(outcomes("")).as("seed " + seed).isEqualTo(predicted);
            assertThat(evaluated(exported())).as("seed " + seed).isEqualTo(values(predicted));
            HttpResponse<String> undo =
                    send("/drafts", "{\"takesBack\":" + change.get("number").asText() + "}");
            JsonNode inverse = json(undo, 201);
            assertThat(inverse.get("stands").asBoolean()).as(undo.body()).isTrue();
            if (!inverse.get("items").isEmpty())
                json(
                        send(
                                "/drafts/" + inverse.get("id") + "/publish",
                                "{\"version\":" + inverse.get("version") + "}"),
                        201);
            assertThat(named(exported())).as("seed " + seed).isEqualTo(named(before));
        }
    }

    /** Edits of which each fits the estate that those before it leave, people's own words aside. */
    private static List<JsonNode> edits(ObjectNode file, long seed) {
        EditSession editSession =
                new EditSession(new CompiledEstate(RandomEstate.read(file)), RandomEdits.bodies(file));
        RandomDraft draft = new RandomDraft(editSession.base(), seed);
        List<JsonNode> edits = new ArrayList<>();
        while (edits.size() < MOST && draft.isGoingOn()) {
            JsonNode edit = Json.read(draft.next(editSession.compile()));
            if (Json.write(edit).contains("consents")) continue;
            if (editSession.apply(new JsonCursor(edit, "", new Defects())).isPresent()) edits.add(edit);
        }
        return edits;
    }

    private static JsonNode staged(JsonNode draft, List<JsonNode> edits) {
        ObjectNode body = Json.NODES.objectNode();
        body.set("version", draft.get("version"));
        body.putArray("edits").addAll(edits);
        return json(send("/drafts/" + draft.get("id") + "/edits", Json.write(body)), 200);
    }

    /** Looks at a draft as the pages do. */
    private static JsonNode shown(JsonNode draft) {
        for (String page : List.of("", "/reading", "/ripple"))
            json(server.get("/api/v1/drafts/" + draft.get("id") + page), 200);
        return draft;
    }

    private static HttpResponse<String> send(String path, String body) {
        return server.send("POST", "/api/v1" + path, body);
    }

    private static JsonNode json(HttpResponse<String> response, int status) {
        assertThat(response.statusCode()).as(response.body()).isEqualTo(status);
        return Json.read(response.body());
    }

    private static JsonNode exported() {
        return json(server.get("/api/v1/estate"), 200);
    }

    private static Map<String, JsonNode> outcomes(String query) {
        Map<String, JsonNode> outcomes = new TreeMap<>();
        json(server.get("/api/v1/outcomes?" + query), 200)
                .get("outcomes")
                .forEach(o -> outcomes.put(
                        o.get("account").asText() + " " + o.get("setting").asText(), o));
        return outcomes;
    }

    private static Map<String, JsonNode> values(Map<String, JsonNode> outcomes) {
        Map<String, JsonNode> values = new TreeMap<>();
        outcomes.forEach((cell, outcome) -> values.put(cell, Json.read(Json.write(outcome.get("value")))));
        return values;
    }

    /** The values of an exported file, each resolved by itself. */
    private static Map<String, JsonNode> evaluated(JsonNode file) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(file));
        EvaluationContext now = EvaluationContext.at(TestClock.now());
        var seats = compiledEstate.seats(now.at());
        Map<String, JsonNode> values = new TreeMap<>();
        for (Account account : compiledEstate.estate().accounts())
            if (account.active())
                for (Setting setting :
                        compiledEstate.estate().catalogue().settings().values())
                    values.put(
                            account.id() + " " + setting.key(),
                            Json.read(Json.write(new AccountResolver(compiledEstate, now, seats, account)
                                    .outcome(setting)
                                    .value()
                                    .json())));
        return values;
    }

    /** The parts of an exported file by section and id; where order or repeats mean nothing they are put in order, and holders are left out. */
    private static Map<String, JsonNode> named(JsonNode file) {
        Map<String, JsonNode> parts = new TreeMap<>();
        for (String section : List.of("units", "accounts", "groups", "workspaces", "policies", "plans", "releases"))
            for (JsonNode part : file.path(section)) {
                ObjectNode body = part.deepCopy();
                body.remove("holders");
                if (body.path("state").asText().equals("live")) body.remove("state");
                for (String list : List.of("statements", "assignments", "members", "owners", "early"))
                    if (body.path(list).isArray()) {
                        java.util.Set<String> items = new java.util.TreeSet<>();
                        body.path(list).forEach(item -> items.add(Json.write(item)));
                        var sorted = body.putArray(list);
                        items.forEach(item -> sorted.add(Json.read(item)));
                    }
                parts.put(
                        section + " "
                                + part.path(section.equals("releases") ? "setting" : "id")
                                        .asText(),
                        body);
            }
        return parts;
    }

    @Test
    void aNewPersonIsGivenASeatInTheSameDraft() {
        ObjectNode file = RandomEstate.json(1);
        file.putArray("plans")
                .addObject()
                .put("id", "desk")
                .put("name", "Desk")
                .put("seats", 3)
                .put("components", "")
                .putArray("rules");
        ((ObjectNode) file.at("/plans/0")).putArray("components").add("assistant");
        assertThat(server.send("PUT", "/api/v1/estate", Json.write(file)).statusCode())
                .isEqualTo(200);
        JsonNode draft = json(send("/drafts", "{}"), 201);
        draft = staged(
                draft,
                List.of(
                        Json.read(
                                "{\"kind\":\"add-account\",\"account\":{\"id\":\"bo\",\"userName\":\"bo@skerrymore.example\",\"displayName\":\"Bo\",\"kind\":\"person\",\"unit\":\"u0\"}}")));
        draft = staged(draft, List.of(Json.read("{\"kind\":\"give-seats\",\"plan\":\"desk\",\"accounts\":[\"bo\"]}")));
        shown(draft);
        json(send("/drafts/" + draft.get("id") + "/publish", "{\"version\":" + draft.get("version") + "}"), 201);
        assertThat(server.get("/api/v1/plans/desk").body()).contains("\"held\":1");
    }

    private static long last() {
        return json(server.get("/api/v1/session"), 200).get("change").asLong();
    }

    private static HttpResponse<String> change(long base, String edits) {
        return send("/changes", ("{'base':" + base + ",'edits':[" + edits + "]}").replace('\'', '"'));
    }

    @Test
    void malformedEditsOnAnOldBaseAreRefusedAsMalformedAndNotAsAConflict() {
        assertThat(server.send("PUT", "/api/v1/estate", Json.write(RandomEstate.json(1)))
                        .statusCode())
                .isEqualTo(200);
        long base = last();
        json(change(base, "{'kind':'amend-unit','unit':'u0','members':{'name':'Renamed'}}"), 201);
        JsonNode problem = json(
                change(
                        base,
                        "{'kind':'sail'},{'kind':'amend-unit','unit':'u0'},7,{'kind':'batch','edits':[{'kind':'row'}]}"),
                422);
        assertThat(problem.get("defects").findValuesAsText("pointer"))
                .contains("/edits/0/kind", "/edits/1", "/edits/3/edits/0/kind");
    }

    @Test
    void nobodyWritesTheConsentOfAPersonThatTheyAddAndUndoingARemovalBringsItBack() {
        ObjectNode file = RandomEstate.json(1);
        if (file.path("rings").isEmpty())
            file.putArray("rings")
                    .addObject()
                    .put("id", "r0")
                    .put("name", "Ring 0")
                    .put("asksConsent", false);
        String ring = file.at("/rings/0/id").asText();
        String consents = "'consents':[{'ring':'" + ring + "','at':'2026-11-23T12:00:00Z'}]";
        String bo = "{'id':'bo','userName':'bo@skerrymore.example','displayName':'Bo','kind':'person','unit':'u0',"
                + consents + "}";
        file.withArray("accounts").add(Json.read(bo.replace('\'', '"')));
        assertThat(server.send("PUT", "/api/v1/estate", Json.write(file)).statusCode())
                .isEqualTo(200);
        String other = "{'kind':'add-account','account':" + bo.replace("'bo", "'other") + "}";
        String again = "{'kind':'remove-account','account':'bo'},{'kind':'add-account','account':" + bo + "}";
        for (String edits : List.of(other, again, "{'kind':'batch','edits':[" + other + "]}")) {
            assertThat(change(last(), edits).statusCode()).as(edits).isEqualTo(422);
            JsonNode draft = json(send("/drafts", "{}"), 201);
            assertThat(send(
                                    "/drafts/" + draft.get("id") + "/edits",
                                    ("{'version':1,'edits':[" + edits + "]}").replace('\'', '"'))
                            .statusCode())
                    .as(edits)
                    .isEqualTo(422);
        }
        JsonNode removed = json(change(last(), "{'kind':'remove-account','account':'bo'}"), 201);
        JsonNode undo = json(send("/drafts", "{\"takesBack\":" + removed.get("number") + "}"), 201);
        json(send("/drafts/" + undo.get("id") + "/publish", "{\"version\":" + undo.get("version") + "}"), 201);
        assertThat(named(exported()).get("accounts bo").get("consents")).hasSize(1);
    }
}
