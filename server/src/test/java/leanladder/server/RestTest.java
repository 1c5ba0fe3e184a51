package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.TreeSet;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class RestTest {
    private static RunningServer server;
    private static JsonNode small;

    @BeforeAll
    static void start() throws Exception {
        small = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        server = RunningServer.start(ThrowAwayPostgres.get(), "rest_test", Path.of("no-web"), "");
        assertThat(server.get("/api/v1/estate").statusCode()).isEqualTo(404);
        assertThat(server.get("/api/v1/outcomes").statusCode()).isEqualTo(404);
        assertThat(json(server.get("/api/v1/session")).get("organisation").isNull())
                .isTrue();
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    @BeforeEach
    void smallEstate() throws Exception {
        put(small);
    }

    private static JsonNode json(HttpResponse<String> response) {
        return Json.read(response.body());
    }

    private static HttpResponse<String> put(JsonNode estate) throws Exception {
        return server.send("PUT", "/api/v1/estate", Json.write(estate));
    }

    private static long last() throws Exception {
        return json(server.get("/api/v1/session")).get("change").asLong();
    }

    private static HttpResponse<String> change(long base, String... edits) throws Exception {
        return server.post("{\"base\":" + base + ",\"note\":\"n\",\"edits\":[" + String.join(",", edits) + "]}");
    }

    @Test
    void anEstateWithADefectIsRefusedWholeWithPointers() throws Exception {
        JsonNode before = json(server.get("/api/v1/estate"));
        ObjectNode broken = small.deepCopy();
        ((ObjectNode) broken.at("/accounts/1")).put("unit", "nowhere");
        ((ObjectNode) broken.at("/policies/0/statements/0")).put("set", 3);
        HttpResponse<String> refused = put(broken);
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.headers().firstValue("Content-Type")).contains("application/problem+json");
        List<String> pointers = new ArrayList<>();
        json(refused).get("defects").forEach(d -> pointers.add(d.get("pointer").asText()));
        assertThat(pointers).containsExactlyInAnyOrder("/accounts/1/unit", "/policies/0/statements/0/set");
        assertThat(json(server.get("/api/v1/estate"))).isEqualTo(before);
    }

    @Test
    void theEstateIsReadBackAndGuardedByItsTag() throws Exception {
        HttpResponse<String> got = server.get("/api/v1/estate");
        String tag = got.headers().firstValue("ETag").orElseThrow();
        assertThat(server.send("PUT", "/api/v1/estate", got.body(), "If-Match", tag)
                        .statusCode())
                .isEqualTo(200);
        assertThat(server.send("PUT", "/api/v1/estate", got.body(), "If-Match", tag)
                        .statusCode())
                .isEqualTo(412);
        assertThat(json(server.get("/api/v1/estate"))).isEqualTo(json(got));
    }

    @Test
    void outcomesOfRandomEstatesAgreeWithTheClimbCellByCell() throws Exception {
        for (long seed = 500; seed < 530; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            assertThat(put(estate).statusCode()).isEqualTo(200);
            CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
            String at = "2126-01-01T00:00:00Z";
            String workspace = compiledEstate.estate().workspaces().isEmpty()
                    ? ""
                    : compiledEstate.estate().workspaces().get(0).id();
            EvaluationContext evaluationContext = new EvaluationContext(
                    Instant.parse(at), Optional.of(workspace).filter(w -> !w.isEmpty()));
            var entitlements = compiledEstate.seats(evaluationContext.at());
            ArrayNode expected = Json.NODES.arrayNode();
            compiledEstate.estate().accounts().stream().filter(a -> a.active()).forEach(a -> {
                AccountResolver accountResolver =
                        new AccountResolver(compiledEstate, evaluationContext, entitlements, a);
                compiledEstate
                        .estate()
                        .catalogue()
                        .settings()
                        .values()
                        .forEach(s -> expected.add(accountResolver.outcome(s).json(a.id(), s.key())));
            });
            ArrayNode got = Json.NODES.arrayNode();
            String after = "";
            do {
                JsonNode page = json(server.get(
                        "/api/v1/outcomes?limit=40&at=" + at + "&workspace=" + workspace + "&after=" + after));
                page.get("outcomes").forEach(got::add);
                after = page.get("next").asText("");
            } while (!after.isEmpty() && !after.equals("null"));
            assertThat(Json.write(got)).isEqualTo(Json.write(expected));
        }
    }

    @Test
    void everyKindOfEditActsAndIsReadBackByAnotherServer() throws Exception {
        long base = last();
        HttpResponse<String> receipt = change(
                base,
                "{\"kind\":\"add-policy\",\"policy\":{\"name\":\"Talk for tobin\",\"statements\":[{\"setting\":\"chat.private\",\"set\":true}]},\"below\":\"p1\"}",
                "{\"kind\":\"put-assignment\",\"policy\":\"talk-for-tobin\",\"assignment\":{\"include\":\"account:a2\"}}",
                "{\"kind\":\"put-statement\",\"policy\":\"p1\",\"statement\":{\"setting\":\"chat.private\",\"set\":false}}",
                "{\"kind\":\"remove-statement\",\"policy\":\"p1\",\"setting\":\"files.share\",\"says\":\"cap\"}",
                "{\"kind\":\"remove-assignment\",\"policy\":\"p1\",\"assignment\":{\"except\":\"group:g1\"}}",
                "{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Renamed\",\"description\":\"why\"}}",
                "{\"kind\":\"rank-policy\",\"policy\":\"p1\",\"above\":null}",
                "{\"kind\":\"remove-policy\",\"policy\":\"p2\"}");
        assertThat(receipt.statusCode()).as(receipt.body()).isEqualTo(201);
        assertThat(json(receipt).get("number").asLong()).isEqualTo(base + 1);
        JsonNode estate = json(server.get("/api/v1/estate"));
        assertThat(estate.get("ranking")).isEqualTo(Json.read("[\"talk-for-tobin\",\"p1\"]"));
        assertThat(estate.at("/policies/0"))
                .isEqualTo(
                        Json.read(
                                "{\"id\":\"p1\",\"name\":\"Renamed\",\"state\":\"live\",\"statements\":[{\"setting\":\"chat.private\",\"set\":false}],"
                                        + "\"assignments\":[{\"include\":\"unit:u2\"},{\"include\":\"account:a1\",\"from\":\"2026-11-01T00:00:00Z\",\"until\":\"2026-12-01T00:00:00Z\"}],\"description\":\"why\"}"));
        assertThat(estate.get("policies")).hasSize(2);
        assertThat(server.store().journal().latest()).isEqualTo(base + 1);
        assertThat(server.readAgain().policies()).extracting(p -> p.id()).containsExactly("talk-for-tobin", "p1");
        JsonNode change = json(server.get("/api/v1/changes/" + (base + 1)));
        assertThat(change.get("author").asText()).isEqualTo("Ivo Tarn");
        assertThat(change.get("proven").asBoolean()).isFalse();
        assertThat(change.at("/edits/0/policy/id").asText()).isEqualTo("talk-for-tobin");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            {"kind":"fly"} | /edits/0/kind
            {"kind":"remove-policy","policy":"p9"} | /edits/0/policy
            {"kind":"add-policy","policy":{"name":"x","statements":[{"setting":"gone","set":1}]}} | /edits/0/policy/statements/0/setting
            {"kind":"add-policy","policy":{"name":""}} | /edits/0/policy/name
            {"kind":"add-policy","policy":{"id":"p1","name":"x"}} | /edits/0/policy
            {"kind":"add-policy","policy":{"name":"x"},"below":"p9"} | /edits/0/below
            {"kind":"put-statement","policy":"p1","statement":{"setting":"files.keep","set":91}} | /edits/0/statement/set
            {"kind":"put-statement","policy":"p1","statement":{"setting":"files.keep","set":9,"cap":9}} | /edits/0/statement
            {"kind":"put-statement","policy":"p1","statement":{"setting":"mail.note","cap":""}} | /edits/0/statement/cap
            {"kind":"remove-statement","policy":"p1","setting":"mail.note","says":"set"} | /edits/0/setting
            {"kind":"put-assignment","policy":"p1","assignment":{"include":"group:g3"}} | /edits/0/assignment/include
            {"kind":"put-assignment","policy":"p1","assignment":{"except":"organisation"}} | /edits/0/assignment/except
            {"kind":"put-assignment","policy":"p1","assignment":{"include":"unit:u2","from":"2026-12-01T00:00:00Z","until":"2026-11-01T00:00:00Z"}} | /edits/0/assignment/until
            {"kind":"remove-assignment","policy":"p1","assignment":{"include":"unit:u3"}} | /edits/0/assignment
            {"kind":"amend-policy","policy":"p1","members":{"statements":[]}} | /edits/0/members/statements
            {"kind":"amend-policy","policy":"p1","members":{"state":"asleep"}} | /edits/0/members/state
            {"kind":"amend-policy","policy":"p1","members":{"name":null}} | /edits/0/members/name
            {"kind":"rank-policy","policy":"p1","above":"p9"} | /edits/0/above
            {"kind":"rank-policy","policy":"p1"} | /edits/0
            7 | /edits/0
            """)
    void anEditThatDoesNotFitIsRefusedAtItsPlaceAndNothingIsStored(String edit, String pointer) throws Exception {
        long base = last();
        HttpResponse<String> refused =
                change(base, edit, "{\"kind\":\"amend-policy\",\"policy\":\"p2\",\"members\":{\"name\":\"Other\"}}");
        assertThat(refused.statusCode()).as(refused.body()).isEqualTo(422);
        assertThat(json(refused).get("defects"))
                .anySatisfy(d -> assertThat(d.get("pointer").asText()).isEqualTo(pointer));
        assertThat(last()).isEqualTo(base);
    }

    @Test
    void aMovedBaseIsCarriedOverOrShownWithBothSides() throws Exception {
        long base = last();
        String theirs =
                "{\"kind\":\"put-statement\",\"policy\":\"p1\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}}";
        assertThat(change(base, theirs).statusCode()).isEqualTo(201);
        HttpResponse<String> other =
                change(base, "{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Else\"}}");
        assertThat(other.statusCode()).isEqualTo(201);
        String mine = "{\"kind\":\"remove-statement\",\"policy\":\"p1\",\"setting\":\"chat.private\",\"says\":\"set\"}";
        HttpResponse<String> clash = change(base, mine);
        assertThat(clash.statusCode()).isEqualTo(409);
        assertThat(json(clash).at("/conflicts/0/yours")).isEqualTo(Json.read(mine));
        assertThat(json(clash).at("/conflicts/0/theirs")).isEqualTo(Json.read(theirs));
        assertThat(json(clash).at("/conflicts/0/change/number").asLong()).isEqualTo(base + 1);
        assertThat(last()).isEqualTo(base + 2);
        assertThat(change(base + 2, mine).statusCode()).isEqualTo(201);
    }

    @Test
    void thePastIsAnsweredFromTheEstateAsItStood() throws Exception {
        long base = last();
        String before = json(server.get("/api/v1/session")).get("now").asText();
        assertThat(change(base, "{\"kind\":\"remove-policy\",\"policy\":\"p1\"}")
                        .statusCode())
                .isEqualTo(201);
        JsonNode now = json(server.get("/api/v1/climb?account=a2&setting=chat.private"));
        JsonNode then = json(server.get("/api/v1/climb?account=a2&setting=chat.private&at=" + before));
        assertThat(now.at("/outcome/policy").isNull()).isTrue();
        assertThat(then.at("/outcome/policy").asText()).isEqualTo("p1");
        assertThat(then.get("change").asLong()).isEqualTo(base);
        assertThat(json(server.get("/api/v1/outcomes?account=a2&setting=chat.private&at=" + before))
                        .at("/outcomes/0/policy")
                        .asText())
                .isEqualTo("p1");
        HttpResponse<String> tooEarly = server.get("/api/v1/climb?account=a2&setting=chat.private&at=2019-05-01");
        assertThat(tooEarly.statusCode()).isEqualTo(404);
        assertThat(json(tooEarly).get("detail").asText()).contains("no estate yet");
        String tomorrow = TestClock.now().plusSeconds(86_400).toString().substring(0, 10);
        assertThat(json(server.get("/api/v1/climb?account=a2&setting=chat.private&at=" + tomorrow))
                        .get("at")
                        .asText())
                .endsWith("59:59.999Z");
    }

    @Test
    void theLogbookKeepsEditsInWordsAndTheRippleAsTheyWere() throws Exception {
        long base = last();
        change(
                base,
                "{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Still bridge\"}}",
                "{\"kind\":\"put-statement\",\"policy\":\"p1\",\"statement\":{\"setting\":\"chat.private\",\"set\":true,\"lock\":true}}",
                "{\"kind\":\"put-statement\",\"policy\":\"p1\",\"statement\":{\"setting\":\"files.share\",\"cap\":\"own\"}}",
                "{\"kind\":\"put-assignment\",\"policy\":\"p1\",\"assignment\":{\"except\":\"unit:u3\",\"until\":\"2126-12-01T00:00:00Z\"}}",
                "{\"kind\":\"rank-policy\",\"policy\":\"p2\",\"above\":\"p1\"}");
        change(base + 1, "{\"kind\":\"remove-policy\",\"policy\":\"p1\"}");
        JsonNode first = json(server.get("/api/v1/changes/" + (base + 1)));
        List<String> words = new ArrayList<>();
        first.get("words").forEach(w -> words.add(w.asText()));
        assertThat(words)
                .containsExactly(
                        "Quiet bridge is called Still bridge",
                        "Still bridge locks Start private chats to On",
                        "Still bridge caps Share outside at own",
                        "Still bridge excepts MV Heron until the end of 30 Nov 2126",
                        "Room rules moves above Still bridge");
        assertThat(first.at("/ripple/accounts").asInt()).isEqualTo(2);
        assertThat(first.at("/ripple/moves"))
                .anySatisfy(
                        move -> assertThat(Json.write(move))
                                .isEqualTo(
                                        "{\"setting\":\"files.share\",\"title\":\"Share outside\",\"from\":\"firms\",\"to\":\"own\",\"fromValue\":\"firms\",\"toValue\":\"own\",\"effect\":\"lose\",\"accounts\":2}"));
        JsonNode page = json(server.get("/api/v1/changes?limit=2"));
        assertThat(page.at("/changes/0/number").asLong()).isEqualTo(base + 2);
        assertThat(page.at("/changes/1/edits").asInt()).isEqualTo(5);
        assertThat(page.get("next").asLong()).isEqualTo(base + 1);
        assertThat(json(server.get("/api/v1/changes?limit=1&before=" + (base + 1)))
                        .at("/changes/0/accounts")
                        .isNull())
                .isTrue();
    }

    @Test
    void aChangeIsTakenBackUnlessALaterOneStandsOnIt() throws Exception {
        JsonNode before = json(server.get("/api/v1/estate"));
        long base = last();
        change(
                base,
                "{\"kind\":\"remove-policy\",\"policy\":\"p1\"}",
                "{\"kind\":\"amend-policy\",\"policy\":\"p2\",\"members\":{\"description\":\"x\"}}");
        JsonNode inverse = json(server.get("/api/v1/changes/" + (base + 1) + "/inverse"));
        assertThat(server.post(Json.write(inverse)).statusCode()).isEqualTo(201);
        assertThat(json(server.get("/api/v1/estate"))).isEqualTo(before);
        change(
                base + 2,
                "{\"kind\":\"put-statement\",\"policy\":\"p2\",\"statement\":{\"setting\":\"files.keep\",\"set\":10}}");
        change(
                base + 3,
                "{\"kind\":\"put-statement\",\"policy\":\"p2\",\"statement\":{\"setting\":\"files.keep\",\"set\":20}}");
        HttpResponse<String> late = server.post(
                server.get("/api/v1/changes/" + (base + 3) + "/inverse").body());
        assertThat(late.statusCode()).isEqualTo(409);
        assertThat(json(late).at("/conflicts/0/change/number").asLong()).isEqualTo(base + 4);
        assertThat(server.get("/api/v1/changes/" + base + "/inverse").statusCode())
                .isEqualTo(422);
    }

    @Test
    void aPolicyTellsWhomItReachesAndWhomItLeavesOutAndWhy() throws Exception {
        long base = last();
        change(
                base,
                "{\"kind\":\"remove-assignment\",\"policy\":\"p1\",\"assignment\":{\"include\":\"account:a1\",\"from\":\"2026-11-01T00:00:00Z\",\"until\":\"2026-12-01T00:00:00Z\"}}");
        JsonNode reached = json(server.get("/api/v1/policies/p1/reaches"));
        assertThat(Json.write(reached))
                .isEqualTo(
                        "{\"reached\":1,\"leftOut\":1,\"fitting\":1,\"people\":[{\"account\":\"a2\",\"displayName\":\"Tobin\",\"unit\":\"Fleet\",\"way\":\"Fleet\",\"reason\":null}]}");
        JsonNode leftOut = json(server.get("/api/v1/policies/p1/reaches?show=left-out&q=osk"));
        assertThat(leftOut.at("/people/0/reason").asText())
                .isEqualTo("excepted as one of Bridge officers, else by Fleet");
        assertThat(json(server.get("/api/v1/policies/p1/reaches?q=nobody"))
                        .get("fitting")
                        .asInt())
                .isZero();
        assertThat(server.get("/api/v1/policies/p1/reaches?show=all").statusCode())
                .isEqualTo(400);
    }

    @Test
    void aPreviewTellsWhoChangesAndStoresNothing() throws Exception {
        long base = last();
        HttpResponse<String> preview = server.send(
                "POST",
                "/api/v1/changes?preview",
                "{\"base\":" + base
                        + ",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"p2\",\"statement\":{\"setting\":\"files.share\",\"set\":\"own\"}}]}");
        JsonNode ripple = json(preview);
        assertThat(preview.statusCode()).isEqualTo(200);
        assertThat(ripple.get("accounts").asInt()).isEqualTo(2);
        assertThat(ripple.get("lose").asInt()
                        + ripple.get("gain").asInt()
                        + ripple.get("both").asInt()
                        + ripple.get("other").asInt())
                .isEqualTo(2);
        assertThat(ripple.at("/people/0/displayName").asText()).isEqualTo("Mirela Osk");
        assertThat(last()).isEqualTo(base);
    }

    @ParameterizedTest
    @CsvSource({
        "/api/v1/outcomes?account=a9, 404",
        "/api/v1/outcomes?setting=gone, 404",
        "/api/v1/outcomes?app=gone, 404",
        "/api/v1/outcomes?workspace=w9, 404",
        "/api/v1/outcomes?at=yesterday, 400",
        "/api/v1/outcomes?at=2020-01-01T00:00:00Z, 404",
        "/api/v1/outcomes?limit=0, 400",
        "/api/v1/outcomes?acount=a1, 400",
        "/api/v1/climb?account=a1, 400",
        "/api/v1/climb?account=a1&account=a2&setting=chat.private, 400",
        "/api/v1/climb?account=a1&setting=gone, 404",
        "/api/v1/policies/p9, 404",
        "/api/v1/changes/9999, 404",
        "/api/v1/changes/x, 404",
        "/api/v1/accounts/a9, 404",
        "/api/v1/search?q=a&kinds=ship, 400",
        "/api/v1/nothing, 404",
        "/api/v2/estate, 404"
    })
    void wrongQuestionsAreToldApart(String path, int status) throws Exception {
        HttpResponse<String> response = server.get(path);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(status);
        assertThat(json(response).get("detail").asText()).endsWith(".").doesNotContain("Exception");
    }

    @Test
    void anInactiveAccountIsToldApartFromAnUnknownOne() throws Exception {
        ObjectNode estate = small.deepCopy();
        ((ObjectNode) estate.at("/accounts/1")).put("active", false);
        put(estate);
        HttpResponse<String> response = server.get("/api/v1/climb?account=a2&setting=chat.private");
        assertThat(response.statusCode()).isEqualTo(404);
        assertThat(json(response).get("detail").asText()).contains("inactive");
        assertThat(json(server.get("/api/v1/outcomes")).get("outcomes"))
                .noneSatisfy(o -> assertThat(o.get("account").asText()).isEqualTo("a2"));
    }

    @Test
    void theClimbIsThatOfTheEstateFormat() throws Exception {
        JsonNode climb = json(server.get("/api/v1/climb?account=a2&setting=chat.private"));
        assertThat(Json.write(climb.get("climb")))
                .isEqualTo(
                        "[{\"policy\":\"p1\",\"rung\":\"unit\",\"via\":[\"unit:u2\"],\"says\":\"set\",\"value\":false,\"lock\":true,\"verdict\":\"decides\"}]");
        assertThat(climb.at("/outcome/standing").asText()).isEqualTo("locked");
        assertThat(climb.at("/drawing/answer").asText()).isEqualTo("No");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "{",
                "[]",
                "null",
                "7",
                "{\"base\":0}",
                "{\"base\":-1,\"edits\":[]}",
                "{\"base\":1e9,\"edits\":[7]}",
                "{\"base\":1,\"edits\":{}}",
                "{\"base\":1,\"base\":1,\"edits\":[]}",
                "{\"base\":1,\"edits\":[]} x",
                "\u0000",
                "{\"base\":1,\"edits\":[{\"kind\":\"add-policy\",\"policy\":{\"name\":\"\\ud800\"}}]}"
            })
    void bodiesThatAreNoChangeAreRefusedWithASentence(String body) throws Exception {
        long base = last();
        HttpResponse<String> refused = server.post(body);
        assertThat(refused.statusCode()).as(refused.body()).isIn(400, 422);
        assertThat(json(refused).get("detail").asText()).isNotEmpty().doesNotContain("Exception");
        assertThat(last()).isEqualTo(base);
    }

    @Test
    void hostileBodiesNeverBreakTheServer() throws Exception {
        Random random = new Random(7);
        List<String> kinds = List.of(
                "add-policy",
                "remove-policy",
                "amend-policy",
                "put-statement",
                "remove-statement",
                "put-assignment",
                "remove-assignment",
                "rank-policy");
        List<String> junk = List.of(
                "null",
                "1",
                "-0.5e9",
                "\"\"",
                "\"p1\"",
                "[]",
                "{}",
                "[[[]]]",
                "{\"id\":{}}",
                "\"\\u0000\"",
                "true",
                "{\"setting\":\"chat.private\"}",
                "{\"include\":7}",
                "{\"name\":[]}",
                "{\"name\":\"x\",\"statements\":{}}",
                "{\"set\":1,\"cap\":2}",
                "{\"include\":\"unit:\",\"except\":\"\"}");
        long base = last();
        for (int i = 0; i < 400; i++) {
            StringBuilder edit = new StringBuilder("{\"kind\":\"" + kinds.get(random.nextInt(kinds.size())) + "\"");
            for (String member :
                    List.of("policy", "statement", "assignment", "members", "above", "setting", "says", "below"))
                if (random.nextInt(3) > 0)
                    edit.append(",\"").append(member).append("\":").append(junk.get(random.nextInt(junk.size())));
            HttpResponse<String> response =
                    server.send("POST", "/api/v1/changes?preview", "{\"base\":" + base + ",\"edits\":[" + edit + "}]}");
            assertThat(response.statusCode()).as("%s %s", edit, response.body()).isIn(200, 422);
        }
        assertThat(last()).isEqualTo(base);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "+02:00", "Nowhere/Land", "SystemV/EST5"})
    void anEstateWithoutATimeZoneThatBrowsersKnowCountsInUtc(String zone) throws Exception {
        ObjectNode estate = small.deepCopy();
        ObjectNode organisation = (ObjectNode) estate.get("organisation");
        if (zone.isEmpty()) organisation.remove("timeZone");
        else organisation.put("timeZone", zone);
        put(estate);
        assertThat(json(server.get("/api/v1/session"))
                        .at("/organisation/timeZone")
                        .asText())
                .isEqualTo("UTC");
    }

    /** Every question that the description lists, asked with words that mean nothing, or something else. */
    @Test
    void hostileQuestionsNeverBreakTheServer() throws Exception {
        Random random = new Random(11);
        List<String> words = List.of(
                "",
                "0",
                "-1",
                "1",
                "99999999999999999999",
                "\u0000",
                "%",
                "a1",
                "p1",
                "nobody",
                "unit:nowhere",
                "unit:",
                "group:nothing",
                "account:nobody",
                "account:a1",
                "workspace:nowhere",
                "everyone",
                "chat.private",
                "app:chat",
                "null",
                "{}",
                "[[[",
                "now",
                "1970-01-01",
                "9999-12-31T23:59:59Z",
                "+1000000000-01-01T00:00:00Z",
                "csv",
                "x".repeat(3000));
        JsonNode description = json(server.get("/api/v1/openapi.json"));
        var paths = description.get("paths").properties();
        for (var path : paths) {
            if (!path.getValue().has("get") || path.getKey().endsWith("/events")) continue;
            for (int i = 0; i < 40; i++) {
                String asked = path.getKey();
                while (asked.contains("{"))
                    asked = asked.replaceFirst(
                            "\\{[^}]+}", java.util.regex.Matcher.quoteReplacement(pathWord(words, random)));
                StringBuilder query = new StringBuilder();
                for (JsonNode given : path.getValue().get("get").path("parameters")) {
                    JsonNode parameter = given.has("$ref")
                            ? description.at(given.get("$ref").asText().substring(1))
                            : given;
                    if (!parameter.get("in").asText().equals("query")) continue;
                    if (!parameter.path("required").asBoolean() && random.nextInt(3) > 0) continue;
                    query.append(query.isEmpty() ? "?" : "&")
                            .append(parameter.get("name").asText())
                            .append("=")
                            .append(encoded(words.get(random.nextInt(words.size()))));
                }
                HttpResponse<String> response = server.get(asked + query);
                assertThat(response.statusCode())
                        .as("%s %s", asked + query, response.body())
                        .isIn(200, 400, 401, 404, 409, 414, 422);
                if (response.statusCode() != 200 && response.statusCode() != 414)
                    assertThat(json(response).get("detail").asText()).isNotEmpty();
            }
        }
    }

    private static String pathWord(List<String> words, Random random) {
        String word = words.get(random.nextInt(words.size()));
        return word.isEmpty() || word.equals("\u0000") ? "x" : encoded(word);
    }

    private static String encoded(String word) {
        return java.net.URLEncoder.encode(word, java.nio.charset.StandardCharsets.UTF_8);
    }

    @Test
    void strangersAreTurnedAway() throws Exception {
        assertThat(server.send("GET", "/api/v1/session", "", "Origin", "http://elsewhere.example")
                        .statusCode())
                .isEqualTo(403);
        assertThat(server.send("GET", "/api/v1/session", "", "Origin", server.address())
                        .statusCode())
                .isEqualTo(200);
        try (var socket = new java.net.Socket(
                "127.0.0.1", java.net.URI.create(server.address()).getPort())) {
            socket.getOutputStream()
                    .write("GET /api/v1/session HTTP/1.1\r\nHost: elsewhere.example\r\nConnection: close\r\n\r\n"
                            .getBytes());
            assertThat(new String(socket.getInputStream().readAllBytes())).startsWith("HTTP/1.1 421");
        }
    }

    @Test
    void everyRouteOfTheDescriptionAnswersAsItSays() throws Exception {
        JsonNode description = json(server.get("/api/v1/openapi.json"));
        assertThat(description.get("openapi").asText()).startsWith("3.1");
        assertThat(description).isEqualTo(Server.description());
        var asked = new TreeSet<String>();
        for (String path : List.of(
                "openapi.json",
                "session",
                "estate",
                "catalogue",
                "search?q=mir",
                "outcomes",
                "climb?account=a1&setting=chat.private",
                "accounts/a1",
                "accounts/a1/settings",
                "accounts/a1/settings?format=csv",
                "turn-off?setting=chat.private",
                "accounts/a1/policies",
                "accounts/a1/departure",
                "policies",
                "policies/p1",
                "policies/p1/reaches",
                "policies/p1/reaches?show=left-out",
                "policies/p1/does",
                "plans",
                "plans/l1",
                "plans/l1/claims",
                "plans/l1/claims?which=waiting",
                "plans/l1/moves",
                "plans/l1/purchases?format=csv",
                "plans/l1/rules?format=csv",
                "licence-gap?who=everyone&setting=chat.private",
                "components",
                "changes/1/seats",
                "exceptions",
                "overview",
                "changes/1",
                "changes",
                "differences?from="
                        + json(server.get("/api/v1/changes/1")).get("at").asText() + "&to=now",
                "drafts",
                "directory/people",
                "directory/units",
                "directory/groups",
                "directory/workspaces",
                "directory/groups/g1",
                "directory/units/u2",
                "directory/people/a1",
                "directory/workspaces/w1",
                "directory/hostings",
                "accounts/a1/admissions",
                "accounts/a1/admissions/mail.deputies",
                "accounts/a1/admissions/mail.deputies?way=admitted",
                "target-names?targets=unit:u2,group:g1",
                "group-rule?rule=kind%20eq%20%22person%22&group=g1",
                "workspaces/w1/settings",
                "workspaces/w1/people?setting=chat.private",
                "previews",
                "arrivals",
                "releases/meet.captions",
                "rings/dry-dock/accounts",
                "rings/dry-dock/accounts?which=did",
                "feedback",
                "settling?account=a1&setting=chat.private",
                "settling/changes",
                "calendars",
                "gate-remedies?account=a1&setting=chat.private",
                "distribution?who=everyone&setting=chat.private",
                "distribution?who=everyone&setting=chat.private&list=true",
                "ways?target=account:a1&setting=chat.private&value=false")) ask(asked, "GET", "/api/v1/" + path, "");
        String rename = "{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Renamed\"}}";
        ask(asked, "PUT", "/api/v1/estate", Json.write(small));
        // It answers an empty database alone, see StartTest.
        assertThat(server.send("POST", "/api/v1/start", "{\"organisation\":{\"name\":\"Again\"}}")
                        .statusCode())
                .isEqualTo(409);
        asked.add(OpenApiAssertions.route("POST", "/api/v1/start").orElseThrow());
        ask(asked, "POST", "/api/v1/matrix", "{\"settings\":[\"chat.private\"],\"open\":\"all\"}");
        ask(asked, "POST", "/api/v1/addresses", "{\"text\":\"mirela\",\"adds\":true,\"policy\":\"p1\"}");
        ask(asked, "POST", "/api/v1/imports/people", "id,name\na1,Other\n");
        ask(asked, "POST", "/api/v1/catalogue/update", Json.write(small.get("catalogue")));
        ask(asked, "POST", "/api/v1/plans/l1/imports/purchases", "seats,note\n3,spring\n");
        ask(
                asked,
                "POST",
                "/api/v1/plans/l1/component-exclusions",
                "{\"component\":\"chat\",\"accounts\":[\"a1\",\"a2\"]}");
        ask(asked, "POST", "/api/v1/changes?preview", "{\"base\":" + last() + ",\"edits\":[" + rename + "]}");
        ask(asked, "POST", "/api/v1/changes", "{\"base\":" + last() + ",\"edits\":[" + rename + "]}");
        ask(asked, "GET", "/api/v1/changes/" + last() + "/inverse", "");
        ask(asked, "GET", "/api/v1/settings", "");
        ask(asked, "GET", "/api/v1/settings/chat.private", "");
        JsonNode draft = ask(asked, "POST", "/api/v1/drafts", "{\"takesBack\":" + last() + "}");
        String at = "/api/v1/drafts/" + draft.get("id");
        ask(asked, "GET", at, "");
        ask(asked, "GET", at + "/reading", "");
        ask(asked, "GET", at + "/ripple", "");
        draft = ask(asked, "PATCH", at, "{\"version\":" + draft.get("version") + ",\"name\":\"Mine\"}");
        draft = ask(asked, "POST", at + "/undo", "{\"version\":" + draft.get("version") + "}");
        draft = ask(asked, "POST", at + "/redo", "{\"version\":" + draft.get("version") + "}");
        draft = ask(
                asked, "POST", at + "/edits", "{\"version\":" + draft.get("version") + ",\"edits\":[" + rename + "]}");
        draft = ask(
                asked,
                "POST",
                at + "/choose",
                "{\"version\":" + draft.get("version") + ",\"index\":0,\"keep\":\"theirs\"}");
        ask(asked, "POST", at + "/publish", "{\"version\":" + draft.get("version") + "}");
        JsonNode other = ask(asked, "POST", "/api/v1/drafts", "{}");
        ask(asked, "DELETE", "/api/v1/drafts/" + other.get("id") + "?version=1", "");
        String client = "Bearer " + RunningServer.SECRET;
        JsonNode calendar = ask(asked, "POST", "/api/v1/calendars", "{\"of\":\"everyone\"}");
        ask(asked, "GET", calendar.get("path").asText(), "");
        HttpResponse<String> found = server.send(
                "POST",
                "/api/v1/accounts/a2/feedback",
                "{\"release\":\"meet.captions\",\"verdict\":\"works\"}",
                "Authorization",
                client);
        assertThat(found.statusCode()).as(found.body()).isEqualTo(201);
        asked.add("post /api/v1/accounts/{id}/feedback");
        ask(
                asked,
                "POST",
                "/api/v1/changes",
                "{\"base\":" + last()
                        + ",\"edits\":[{\"kind\":\"ask-to-join\",\"account\":\"a2\",\"ring\":\"dry-dock\",\"at\":\"2026-11-20T00:00:00Z\"}]}");
        for (String word : List.of("consents", "withdrawals", "refusals")) {
            HttpResponse<String> said = server.send(
                    "POST", "/api/v1/accounts/a2/" + word, "{\"ring\":\"dry-dock\"}", "Authorization", client);
            assertThat(said.statusCode()).as(said.body()).isEqualTo(201);
            asked.add("post /api/v1/accounts/{id}/" + word);
        }
        JsonNode check = ask(asked, "POST", "/api/v1/checks", "{\"who\":\"account:a2\",\"setting\":\"meet.captions\"}");
        ask(asked, "GET", "/api/v1/checks?who=account:a2", "");
        ask(asked, "DELETE", "/api/v1/checks/" + check.at("/checks/0/id"), "");
        ask(asked, "GET", "/api/v1/today?since=2026-11-20", "");
        ask(
                asked,
                "POST",
                "/api/v1/pictures",
                "<svg xmlns=\"http://www.w3.org/2000/svg\"><path d=\"M0 0h8v8z\"/></svg>");
        HttpResponse<String> noPicture = server.send("GET", "/api/v1/pictures/" + "0".repeat(64), "");
        assertThat(noPicture.statusCode()).isEqualTo(404);
        asked.add("get /api/v1/pictures/{sha256}");
        HttpResponse<String> reported = server.send(
                "POST",
                "/api/v1/suite/usage",
                "{\"day\":\"" + TestClock.now().toString().substring(0, 10) + "\"}",
                "Authorization",
                client);
        assertThat(reported.statusCode()).as(reported.body()).isEqualTo(204);
        asked.add("post /api/v1/suite/usage");
        ask(asked, "GET", "/api/v1/settings/meet.captions/usage", "");
        ask(asked, "GET", "/api/v1/accounts/a2/usage/meet.captions", "");
        ask(asked, "GET", "/api/v1/outdated-devices", "");
        ask(asked, "GET", "/api/v1/outdated-devices/meet.captions", "");
        ask(asked, "GET", "/api/v1/workspace-deviations", "");
        ask(asked, "GET", "/api/v1/workspace-openness", "");
        // No mail server is named here; PostTest has one.
        HttpResponse<String> told =
                server.send("POST", "/api/v1/releases/meet.captions/notices", "{\"to\":\"dry-dock\"}");
        assertThat(told.statusCode()).isEqualTo(409);
        assertThat(told.body()).contains("Start with --mail FILE.");
        asked.add("post /api/v1/releases/{setting}/notices");
        HttpResponse<String> wished = server.send(
                "POST",
                "/api/v1/suite/accounts/a2/requests",
                "{\"setting\":\"meet.captions\"}",
                "Authorization",
                client);
        assertThat(wished.statusCode()).as(wished.body()).isEqualTo(201);
        asked.add("post /api/v1/suite/accounts/{id}/requests");
        JsonNode request = Json.read(wished.body()).at("/requests/0/id");
        ask(asked, "GET", "/api/v1/requests", "");
        ask(asked, "GET", "/api/v1/requests/" + request, "");
        ask(asked, "POST", "/api/v1/requests/" + request + "/declines", "{\"sentence\":\"Not before spring.\"}");
        assertThat(server.send("GET", "/api/v1/suite/accounts/a2/reasons/meet.captions", "", "Authorization", client)
                        .statusCode())
                .isEqualTo(200);
        asked.add("get /api/v1/suite/accounts/{id}/reasons/{setting}");
        for (String what : List.of("settings", "history?since=2026-11-20", "previews", "requests")) {
            HttpResponse<String> delivered =
                    server.send("GET", "/api/v1/suite/accounts/a2/" + what, "", "Authorization", client);
            assertThat(delivered.statusCode()).as(delivered.body()).isEqualTo(200);
            asked.add("get /api/v1/suite/accounts/{id}/" + what.replaceFirst("\\?.*", ""));
        }
        asked.add("get /api/v1/events");
        asked.add("get /api/v1/suite/changes");
        assertThat(asked).isEqualTo(OpenApiAssertions.routes());
    }

    /** Asks, and notes for which route; that the answer fits is checked with every answer. */
    private static JsonNode ask(java.util.Set<String> asked, String method, String path, String body) {
        HttpResponse<String> response = server.send(method, path, body);
        assertThat(response.statusCode())
                .as("%s %s %s", method, path, response.body())
                .isBetween(200, 299);
        asked.add(OpenApiAssertions.route(method, path).orElseThrow());
        boolean told = response.headers().firstValue("Content-Type").orElse("").contains("json");
        return told && !response.body().isEmpty() ? json(response) : null;
    }
}
