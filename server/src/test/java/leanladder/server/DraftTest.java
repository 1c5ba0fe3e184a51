package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(value = 2, unit = TimeUnit.MINUTES)
class DraftTest {
    private static final TestClock CLOCK = new TestClock();
    private static RunningServer server;
    private static JsonNode small;

    @BeforeAll
    static void start() throws Exception {
        small = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        server =
                RunningServer.start(ThrowAwayPostgres.get(), "draft_test", Path.of("no-web"), Json.write(small), CLOCK);
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    @BeforeEach
    void smallEstate() {
        CLOCK.ahead = Duration.ZERO;
        json(server.get("/api/v1/drafts"))
                .get("drafts")
                .forEach(d ->
                        server.send("DELETE", "/api/v1/drafts/" + d.get("id") + "?version=" + d.get("version"), ""));
        assertThat(server.send("PUT", "/api/v1/estate", Json.write(small)).statusCode())
                .isEqualTo(200);
    }

    private static JsonNode json(HttpResponse<String> response) {
        return Json.read(response.body());
    }

    private static HttpResponse<String> send(String path, String body) {
        return server.send("POST", "/api/v1/drafts" + path, body.replace('\'', '"'));
    }

    private static JsonNode begin() {
        return json(send("", "{}"));
    }

    private static HttpResponse<String> stage(JsonNode draft, String... edits) {
        return send(
                "/" + draft.get("id") + "/edits",
                "{'version':" + draft.get("version") + ",'edits':[" + String.join(",", edits) + "]}");
    }

    private static JsonNode staged(JsonNode draft, String... edits) {
        HttpResponse<String> response = stage(draft, edits);
        assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
        return json(response);
    }

    private static long last() {
        return json(server.get("/api/v1/session")).get("change").asLong();
    }

    private static void publish(String edit) {
        HttpResponse<String> response =
                server.post(("{'base':" + last() + ",'edits':[" + edit + "]}").replace('\'', '"'));
        assertThat(response.statusCode()).as(response.body()).isEqualTo(201);
    }

    private static final String RENAME = "{'kind':'amend-policy','policy':'p1','members':{'name':'Renamed'}}";

    @Test
    void theReviewSaysWhatSeatsCostAndWhoHoldsTwo() {
        String plan = "'name':'Second','seats':3,'components':['chat'],"
                + "'price':{'amount':'2.50','currency':'EUR','per':'month'},'rules':[{'include':'account:a1'}]";
        JsonNode draft = staged(begin(), "{'kind':'add-plan','plan':{'id':'l2'," + plan + "}}");
        JsonNode review = json(server.get("/api/v1/drafts/" + draft.get("id") + "/reading"));
        assertThat(review.get("costs"))
                .isEqualTo(Json.read(
                        "[{'planId':'l2','plan':'Second','when':'','seats':3,'more':'7.50','currency':'EUR','per':'month'}]"
                                .replace('\'', '"')));
        List<String> cautions = new ArrayList<>();
        review.get("cautions")
                .forEach(c -> cautions.add(
                        c.get("what").asText() + ": " + c.get("words").asText()));
        assertThat(cautions).anyMatch(c -> c.startsWith("redundant: 1 of those who get a seat then holds two"));
    }

    @Test
    void whatIsPutAndRemovedAgainIsMarkedAndLeftOutOfTheChange() {
        String exception = "'policy':'p1','assignment':{'except':'account:a1'}}";
        JsonNode draft = staged(begin(), "{'kind':'put-assignment'," + exception);
        draft = staged(draft, RENAME);
        draft = staged(draft, "{'kind':'remove-assignment'," + exception);
        List<Boolean> cancelled = new ArrayList<>();
        draft.get("items").forEach(item -> cancelled.add(item.get("cancelled").asBoolean()));
        assertThat(cancelled).containsExactly(true, false, true);
        HttpResponse<String> published = send(
                "/" + draft.get("id") + "/publish", "{'version':" + draft.get("version") + ",'note':'Only a name'}");
        assertThat(published.statusCode()).as(published.body()).isEqualTo(201);
        JsonNode change = json(server.get("/api/v1/changes/" + last()));
        assertThat(change.get("edits")).isEqualTo(Json.read("[" + RENAME.replace('\'', '"') + "]"));
        assertThat(change.get("words")).hasSize(1);
    }

    @Test
    void stepsAreUndoneAndRedoneAndANewEditForgetsWhatWasUndone() {
        JsonNode draft = staged(begin(), RENAME);
        draft = staged(draft, "{'kind':'rank-policy','policy':'p1','above':null}");
        assertThat(draft.get("items")).hasSize(2);
        draft = json(send("/" + draft.get("id") + "/undo", "{'version':" + draft.get("version") + "}"));
        assertThat(draft.get("items")).hasSize(1);
        assertThat(draft.get("redoable").asBoolean()).isTrue();
        draft = json(send("/" + draft.get("id") + "/redo", "{'version':" + draft.get("version") + "}"));
        assertThat(draft.get("items")).hasSize(2);
        draft = json(send("/" + draft.get("id") + "/undo", "{'version':" + draft.get("version") + "}"));
        draft = staged(draft, "{'kind':'amend-policy','policy':'p1','members':{'state':'paused'}}");
        assertThat(draft.get("redoable").asBoolean()).isFalse();
        assertThat(send("/" + draft.get("id") + "/redo", "{'version':" + draft.get("version") + "}")
                        .statusCode())
                .isEqualTo(409);
    }

    @Test
    void theSecondOfTwoWhoEditOneVersionIsRefusedAndNothingOfItIsKept() {
        JsonNode draft = begin();
        staged(draft, RENAME);
        HttpResponse<String> late = stage(draft, "{'kind':'remove-policy','policy':'p1'}");
        assertThat(late.statusCode()).isEqualTo(409);
        assertThat(json(late).get("version").asLong()).isEqualTo(2);
        assertThat(json(server.get("/api/v1/drafts/" + draft.get("id"))).get("items"))
                .hasSize(1);
    }

    @Test
    void anEditThatDoesNotFitIsRefusedWithItsPlaceAndNoneOfItsStepIsStaged() {
        JsonNode draft = begin();
        HttpResponse<String> refused = stage(draft, RENAME, "{'kind':'remove-policy','policy':'nowhere'}");
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(json(refused).at("/defects/0/pointer").asText()).isEqualTo("/edits/1/policy");
        assertThat(json(server.get("/api/v1/drafts/" + draft.get("id"))).get("items"))
                .isEmpty();
    }

    @Test
    void everyViewAnswersForTheEstateAfterTheDraftAndThePresentStaysAsItIs() {
        JsonNode draft = staged(begin(), RENAME);
        assertThat(json(server.get("/api/v1/policies/p1?draft=" + draft.get("id")))
                        .at("/policy/name")
                        .asText())
                .isEqualTo("Renamed");
        assertThat(json(server.get("/api/v1/policies/p1")).at("/policy/name").asText())
                .isNotEqualTo("Renamed");
        assertThat(server.get("/api/v1/policies?draft=99999").statusCode()).isEqualTo(404);
        assertThat(server.get("/api/v1/policies?draft=" + draft.get("id") + "&at=2020-01-01")
                        .statusCode())
                .isEqualTo(400);
    }

    @Test
    void aDraftThatIsDuePublishesItselfOnceAndIsMarkedLateWhenNobodyWasThere() {
        JsonNode draft = staged(begin(), RENAME);
        String in = TestClock.now().plusSeconds(3600).toString();
        HttpResponse<String> planned = send(
                "/" + draft.get("id") + "/publish",
                "{'version':" + draft.get("version") + ",'note':'later','at':'" + in + "'}");
        assertThat(planned.statusCode()).as(planned.body()).isEqualTo(200);
        long before = last();
        CLOCK.ahead = Duration.ofHours(2);
        JsonNode change = eventually(() -> json(server.get("/api/v1/changes/" + (before + 1))));
        assertThat(change.get("note").asText()).isEqualTo("later");
        assertThat(change.get("planned").asText()).isEqualTo(in.replaceAll("(\\.\\d{6})\\d*Z", "$1Z"));
        assertThat(change.get("late").asBoolean()).isTrue();
        assertThat(server.get("/api/v1/drafts/" + draft.get("id")).statusCode()).isEqualTo(404);
    }

    @Test
    void aDraftThatWasToPublishItselfDoesNotOnceItIsEditedOrAClashIsDecided() {
        String in = TestClock.now().plusSeconds(3600).toString();
        JsonNode draft = staged(begin(), RENAME);
        JsonNode due = json(
                send("/" + draft.get("id") + "/publish", "{'version':" + draft.get("version") + ",'at':'" + in + "'}"));
        assertThat(due.get("due").isNull()).isFalse();
        publish("{'kind':'amend-policy','policy':'p1','members':{'name':'Theirs'}}");
        // Nobody has to wait until then to learn that it would not be published.
        assertThat(json(server.get("/api/v1/drafts")).at("/drafts/0/stuck").asText())
                .startsWith("One of its edits conflicts");
        assertThat(server.get("/api/v1/today").body()).contains("will not publish itself on");
        CLOCK.ahead = Duration.ofHours(2);
        JsonNode stuck = eventually(() -> {
            JsonNode kept = json(server.get("/api/v1/drafts/" + draft.get("id")));
            return kept.get("stuck").asText().contains("cannot be published") ? kept : Json.NODES.missingNode();
        });
        long before = last();
        JsonNode chosen = json(send(
                "/" + draft.get("id") + "/choose", "{'version':" + stuck.get("version") + ",'index':0,'keep':'mine'}"));
        assertThat(chosen.get("due").isNull()).isTrue();
        JsonNode more = staged(chosen, "{'kind':'rank-policy','policy':'p1','above':null}");
        assertThat(more.get("due").isNull()).isTrue();
        assertThat(last()).isEqualTo(before);
        assertThat(server.get("/api/v1/drafts/" + draft.get("id")).statusCode()).isEqualTo(200);
    }

    @Test
    void aDraftIsToldNotToPublishItself() {
        String in = TestClock.now().plusSeconds(3600).toString();
        JsonNode draft = staged(begin(), RENAME);
        JsonNode due = json(
                send("/" + draft.get("id") + "/publish", "{'version':" + draft.get("version") + ",'at':'" + in + "'}"));
        JsonNode kept = json(server.send(
                "PATCH", "/api/v1/drafts/" + draft.get("id"), "{\"version\":" + due.get("version") + ",\"due\":null}"));
        assertThat(kept.get("due").isNull()).isTrue();
        assertThat(kept.get("items")).hasSize(1);
    }

    @Test
    void aDraftThatIsDueAndNoLongerStandsStaysAndSaysWhy() {
        JsonNode draft = staged(begin(), RENAME);
        String in = TestClock.now().plusSeconds(3600).toString();
        send("/" + draft.get("id") + "/publish", "{'version':" + draft.get("version") + ",'at':'" + in + "'}");
        publish("{'kind':'remove-policy','policy':'p1'}");
        CLOCK.ahead = Duration.ofHours(2);
        JsonNode stuck = eventually(() -> {
            JsonNode kept = json(server.get("/api/v1/drafts/" + draft.get("id")));
            return kept.get("stuck").asText().contains("cannot be published") ? kept : Json.NODES.missingNode();
        });
        assertThat(stuck.get("stuck").asText()).contains("cannot be published");
    }

    @Test
    void browsersAreToldOfChangesOfDraftsAndOfWhatTimeBrings() throws Exception {
        var told = new java.util.concurrent.LinkedBlockingQueue<String>();
        var request = java.net.http.HttpRequest.newBuilder(java.net.URI.create(server.address() + "/api/v1/events"))
                .header("Accept", "text/event-stream")
                .build();
        var stream = java.net.http.HttpClient.newHttpClient().send(request, HttpResponse.BodyHandlers.ofInputStream());
        Thread listener = new Thread(() -> {
            try (var lines = new java.io.BufferedReader(new java.io.InputStreamReader(stream.body()))) {
                lines.lines().filter(l -> l.startsWith("event: ")).forEach(l -> told.add(l.substring(7)));
            } catch (java.io.IOException | java.io.UncheckedIOException closed) {
                told.add("closed");
            }
        });
        listener.setDaemon(true);
        listener.start();
        staged(begin(), RENAME);
        until(told, "draft");
        publish("{'kind':'amend-policy','policy':'p2','members':{'name':'Told'}}");
        until(told, "change");
        // A window of the small estate ends on 1 December 2026.
        CLOCK.ahead = Duration.between(TestClock.now(), Instant.parse("2026-12-01T00:00:01Z"));
        until(told, "time");
        stream.body().close();
    }

    @Test
    void aClockThatStepsBackNeverAnswersFromAnOlderEstate() {
        publish("{'kind':'amend-policy','policy':'p2','members':{'name':'Before the step'}}");
        Instant at = Instant.parse(
                json(server.get("/api/v1/changes/" + last())).get("at").asText());
        CLOCK.ahead = Duration.ofHours(-2);
        assertThat(server.get("/api/v1/policies/p2").body()).contains("Before the step");
        assertThat(server.get("/api/v1/climb?account=a1&setting=chat.private").statusCode())
                .isEqualTo(200);
        assertThat(Instant.parse(json(server.get("/api/v1/session")).get("now").asText()))
                .isAfterOrEqualTo(at);
        publish("{'kind':'amend-policy','policy':'p2','members':{'name':'After the step'}}");
        assertThat(Instant.parse(
                        json(server.get("/api/v1/changes/" + last())).get("at").asText()))
                .as("no change is before the one before it")
                .isAfterOrEqualTo(at);
        assertThat(server.get("/api/v1/policies/p2").body()).contains("After the step");
    }

    private static void until(java.util.concurrent.BlockingQueue<String> told, String event) throws Exception {
        String heard = "";
        while (!event.equals(heard)) {
            heard = told.poll(30, TimeUnit.SECONDS);
            assertThat(heard).as("an event " + event).isNotNull();
        }
    }

    private static JsonNode eventually(java.util.function.Supplier<JsonNode> looked) {
        return org.awaitility.Awaitility.await()
                .atMost(Duration.ofSeconds(30))
                .until(looked::get, found -> !found.isMissingNode() && !found.has("status"));
    }

    /** Edits by a short name; theirs and mine of one kind differ in what they say. */
    private static Map<String, String> edits(String said, String whom, String called) {
        Map<String, String> edits = new LinkedHashMap<>();
        edits.put("remove-policy", "{'kind':'remove-policy','policy':'p1'}");
        edits.put("amend-policy", "{'kind':'amend-policy','policy':'p1','members':{'name':'" + called + "'}}");
        edits.put(
                "put-statement",
                "{'kind':'put-statement','policy':'p1','statement':{'setting':'SETTING','set':" + said + "}}");
        edits.put("remove-statement", "{'kind':'remove-statement','policy':'p1','setting':'SETTING','says':'set'}");
        edits.put(
                "put-assignment",
                "{'kind':'put-assignment','policy':'p1','assignment':{'include':'group:g9','from':'" + whom + "'}}");
        edits.put("remove-assignment", "{'kind':'remove-assignment','policy':'p1','assignment':ASSIGNMENT}");
        edits.put("rank-policy", "{'kind':'rank-policy','policy':'p1','above':null}");
        edits.put("amend-group", "{'kind':'amend-group','group':'g1','members':{'name':'" + called + "'}}");
        edits.put("put-members", "{'kind':'put-members','group':'g9','who':['account:MEMBER']}");
        edits.put("remove-members", "{'kind':'remove-members','group':'g9','who':['account:OTHER']}");
        edits.put("remove-group", "{'kind':'remove-group','group':'g9'}");
        edits.put(
                "amend-account",
                "{'kind':'amend-account','account':'LONER','members':{'unit':'u9','displayName':'" + called + "'}}");
        edits.put("remove-account", "{'kind':'remove-account','account':'LONER'}");
        edits.put("amend-unit", "{'kind':'amend-unit','unit':'u9','members':{'name':'" + called + "'}}");
        edits.put("remove-unit", "{'kind':'remove-unit','unit':'u9'}");
        return edits;
    }

    /**
     * What becomes of my edit (columns) when theirs (rows) was published after the change on which mine was made: b both stand, c
     * a clash that is shown with both sides, r a refusal with the reason.
     */
    private static final String TABLE = """
            remove-policy      c c c c c c c b b b b b b b b
            amend-policy       c c b b b b b b b b b b b b b
            put-statement      c b c c b b b b b b b b b b b
            remove-statement   c b c c b b b b b b b b b b b
            put-assignment     c b b b c b b b b b r b b b b
            remove-assignment  c b b b b c b b b b b b b b b
            rank-policy        c b b b b b c b b b b b b b b
            amend-group        b b b b b b b c b b b b b b b
            put-members        b b b b b b b b b b c b b b b
            remove-members     b b b b b b b b b c c b b b b
            remove-group       b b b b r b b b c c c b b b b
            amend-account      b b b b b b b b b b b c c b r
            remove-account     b b b b b b b b b b b c c b b
            amend-unit         b b b b b b b b b b b b b c c
            remove-unit        b b b b b b b b b b b r b c c
            """;

    @Test
    void everyPairOfEditsFromTwoBasesEndsAsTheTableSays() {
        List<String> kinds = List.copyOf(edits("", "", "").keySet());
        StringBuilder found = new StringBuilder();
        for (String theirs : kinds) {
            found.append(String.format("%-18s", theirs));
            for (String mine : kinds) found.append(' ').append(verdict(theirs, mine));
            found.append('\n');
        }
        assertThat(found.toString()).isEqualTo(TABLE);
    }

    private static String verdict(String theirs, String mine) {
        ObjectNode estate = small.deepCopy();
        JsonNode policy = estate.at("/policies/0");
        String setting = "";
        for (JsonNode s : policy.get("statements"))
            if (s.has("set") && s.get("set").isBoolean())
                setting = s.get("setting").asText();
        String assignment = Json.write(policy.at("/assignments/0"));
        String root = estate.at("/units/0/id").asText();
        estate.withArray("units")
                .addObject()
                .put("id", "u9")
                .put("name", "Nine")
                .put("parent", root);
        for (String id : List.of("loner", "member", "other"))
            estate.withArray("accounts")
                    .addObject()
                    .put("id", id)
                    .put("userName", id + "@small.example")
                    .put("displayName", id)
                    .put("kind", "person")
                    .put("unit", root);
        estate.withArray("groups")
                .addObject()
                .put("id", "g9")
                .put("name", "Nine")
                .put("purpose", "access")
                .putArray("members")
                .add("account:other");
        assertThat(server.send("PUT", "/api/v1/estate", Json.write(estate)).statusCode())
                .isEqualTo(200);
        String place = setting;
        java.util.function.UnaryOperator<String> filled = edit -> edit.replace("SETTING", place)
                .replace("ASSIGNMENT", assignment)
                .replace("MEMBER", "member")
                .replace("OTHER", "other")
                .replace("LONER", "loner");
        JsonNode draft = staged(
                begin(),
                filled.apply(edits("true", "2026-01-01T00:00:00Z", "Mine").get(mine)));
        publish(filled.apply(edits("false", "2026-02-02T00:00:00Z", "Theirs").get(theirs)));
        JsonNode item = json(server.get("/api/v1/drafts/" + draft.get("id"))).at("/items/0");
        if (!item.get("conflicts").isEmpty()) {
            assertThat(item.at("/conflicts/0/theirsInWords").asText()).isNotEmpty();
            return "c";
        }
        return item.get("refusals").isEmpty() ? "b" : "r";
    }

    @Test
    void aClashIsDecidedForMineOrForTheirs() {
        for (String keep : List.of("mine", "theirs")) {
            JsonNode draft = staged(begin(), RENAME);
            publish("{'kind':'amend-policy','policy':'p1','members':{'name':'By " + keep + "'}}");
            JsonNode moved = json(server.get("/api/v1/drafts/" + draft.get("id")));
            assertThat(moved.get("stands").asBoolean()).isFalse();
            assertThat(moved.get("troubled").intValue()).isEqualTo(1);
            assertThat(moved.at("/items/0/conflicts/0/yoursInWords").asText()).endsWith("is called Renamed");
            assertThat(send("/" + draft.get("id") + "/publish", "{'version':" + draft.get("version") + "}")
                            .statusCode())
                    .isEqualTo(409);
            JsonNode chosen = json(send(
                    "/" + draft.get("id") + "/choose",
                    "{'version':" + draft.get("version") + ",'index':0,'keep':'" + keep + "'}"));
            assertThat(chosen.get("stands").asBoolean()).isTrue();
            assertThat(chosen.get("items")).hasSize(keep.equals("mine") ? 1 : 0);
            smallEstate();
        }
    }

    @Test
    void whatDiffersBetweenTwoInstantsIsTheRippleOfWhatWasPublishedBetween() {
        Instant before = CLOCK.instant().plusSeconds(1);
        CLOCK.ahead = Duration.ofMinutes(10);
        publish("{'kind':'remove-policy','policy':'p1'}");
        JsonNode ripple = json(server.get("/api/v1/changes/" + last())).get("ripple");
        CLOCK.ahead = Duration.ofMinutes(20);
        JsonNode told = json(server.get("/api/v1/differences?from=" + before + "&to=now"));
        assertThat(told.get("changes")).hasSize(1);
        assertThat(told.get("accounts")).isEqualTo(ripple.get("accounts"));
        assertThat(told.get("accounts").asInt()).isPositive();
        int values = 0;
        for (JsonNode move : told.get("moves")) values += move.get("accounts").asInt();
        int moved = 0;
        for (JsonNode move : ripple.get("moves")) moved += move.get("accounts").asInt();
        assertThat(values).isEqualTo(moved);
        Instant between = TestClock.now().plus(Duration.ofMinutes(15));
        JsonNode later = json(server.get("/api/v1/differences?from=" + between + "&to=now"));
        assertThat(later.get("changes")).isEmpty();
        assertThat(later.get("accounts").asInt()).isZero();
        assertThat(server.get("/api/v1/differences?from=now&to=" + between).statusCode())
                .isEqualTo(400);
    }

    @Test
    void hostileBodiesNeverFailAndStoreNothing() {
        JsonNode draft = staged(begin(), RENAME);
        String before = server.get("/api/v1/drafts").body();
        var random = new java.util.Random(7);
        List<String> pieces = List.of(
                "{'version':" + draft.get("version"),
                ",'edits':",
                "[",
                "{'kind':'batch','edits':[",
                "null",
                "'x'",
                "1e99",
                "]",
                "}",
                ",'keep':'mine'",
                ",'index':-1",
                "{}",
                "\\u0000",
                ",'at':'soon'",
                "{'kind':'put-members','who':{}}",
                ",'note':5",
                ",'name':[]",
                "{'kind':'amend-account','account':'a1','members':{'unit':{}}}",
                "'\\ud800'");
        List<String> paths = List.of(
                "",
                "/" + draft.get("id") + "/edits",
                "/" + draft.get("id") + "/choose",
                "/" + draft.get("id") + "/publish",
                "/x/undo",
                "/99999999999999999999/redo");
        for (int i = 0; i < 400; i++) {
            StringBuilder body = new StringBuilder();
            for (int n = random.nextInt(6); n >= 0; n--) body.append(pieces.get(random.nextInt(pieces.size())));
            String path = paths.get(random.nextInt(paths.size()));
            if (path.isEmpty() && body.toString().equals("{}")) continue;
            HttpResponse<String> response = send(path, body.toString());
            assertThat(response.statusCode()).as(path + " " + body).isBetween(400, 499);
            assertThat(response.body()).doesNotContain("Exception").doesNotContain("\tat ");
        }
        for (String path :
                List.of("/api/v1/matrix", "/api/v1/addresses", "/api/v1/imports/people", "/api/v1/imports/x"))
            for (String body : List.of(
                    "",
                    "[",
                    "{}",
                    "null",
                    "{\"settings\":[1,{}],\"from\":-5}",
                    "\u0000",
                    "a,b\n\"",
                    "{\"text\":3,\"adds\":1}")) {
                HttpResponse<String> response = server.send("POST", path, body);
                assertThat(response.statusCode()).as(path + " " + body).isBetween(200, 499);
                assertThat(response.body()).doesNotContain("Exception");
            }
        assertThat(server.get("/api/v1/drafts").body()).isEqualTo(before);
    }

    @Test
    void aFileOfPeopleIsReportedLineByLineAndStagedAsOneEdit() {
        String root = small.at("/units/0/id").asText();
        String known = small.at("/accounts/0/userName").asText();
        String file = "address,name,unit,started\nnew@small.example,New One," + root + ",2026-01-05\n" + known
                + ",Another Name,,\nthird@small.example,Third,nowhere,\nfourth@small.example,Fourth," + root
                + ",soon\n" + known + ",,,\n";
        JsonNode report = json(server.send("POST", "/api/v1/imports/people?name=crew.csv", file));
        List<String> verdicts = new ArrayList<>();
        report.get("lines").forEach(l -> verdicts.add(l.get("verdict").asText()));
        assertThat(verdicts).containsExactly("new", "altered", "refused", "refused", "same");
        assertThat(report.at("/lines/2/told").asText()).contains("There is no unit \"nowhere\"");
        JsonNode draft = staged(begin(), Json.write(report.get("edit")));
        assertThat(draft.get("items")).hasSize(1);
        assertThat(draft.at("/items/0/words").asText())
                .contains("New One is a new person")
                .contains("(from crew.csv)");
        assertThat(draft.at("/ripple/joining").asInt()).isEqualTo(1);
        long before = last();
        send("/" + draft.get("id") + "/publish", "{'version':" + draft.get("version") + ",'note':'crew'}");
        JsonNode undo = json(send("", "{'takesBack':" + (before + 1) + "}"));
        assertThat(undo.get("stands").asBoolean()).as(undo.toString()).isTrue();
        send("/" + undo.get("id") + "/publish", "{'version':" + undo.get("version") + "}");
        assertThat(json(server.get("/api/v1/estate")).get("accounts")).isEqualTo(sorted(small.get("accounts")));
    }

    private static JsonNode sorted(JsonNode parts) {
        List<JsonNode> all = new ArrayList<>();
        parts.forEach(all::add);
        all.sort(java.util.Comparator.comparing(p -> p.get("id").asText()));
        return Json.NODES.arrayNode().addAll(all);
    }
}
