package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import leanladder.RandomEstate;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The views over many accounts, counted against the outcomes account by account. */
class QueryRoutesTest {
    private static RunningServer server;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "views_test",
                Path.of("no-web"),
                "",
                Clock.fixed(RandomEstate.NOW, ZoneOffset.UTC));
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static JsonNode json(HttpResponse<String> response) {
        assertThat(response.statusCode()).as(response.body()).isLessThan(300);
        return Json.read(response.body());
    }

    private static void put(JsonNode estate) {
        json(server.send("PUT", "/api/v1/estate", Json.write(estate)));
    }

    private static String q(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    private static List<JsonNode> list(JsonNode array) {
        return StreamSupport.stream(array.spliterator(), false).toList();
    }

    /** All outcomes by account and setting. */
    private static Map<String, Map<String, JsonNode>> outcomes() {
        return outcomes("");
    }

    /** The same as if working in a workspace. @param where "&workspace=w0" */
    private static Map<String, Map<String, JsonNode>> outcomes(String where) {
        Map<String, Map<String, JsonNode>> all = new HashMap<>();
        String after = "?limit=5000";
        do {
            JsonNode page = json(server.get("/api/v1/outcomes" + after + where));
            page.get("outcomes")
                    .forEach(o -> all.computeIfAbsent(o.get("account").asText(), k -> new HashMap<>())
                            .put(o.get("setting").asText(), o));
            after = page.get("next").isNull()
                    ? ""
                    : "?after=" + q(page.get("next").asText());
        } while (!after.isEmpty());
        return all;
    }

    private static Set<String> below(JsonNode estate, String unit) {
        Set<String> units = new HashSet<>(Set.of(unit));
        for (boolean grew = true; grew; ) {
            grew = false;
            for (JsonNode u : estate.get("units"))
                if (units.contains(u.path("parent").asText())
                        && units.add(u.get("id").asText())) grew = true;
        }
        Set<String> accounts = new HashSet<>();
        for (JsonNode a : estate.get("accounts"))
            if (units.contains(a.get("unit").asText())) accounts.add(a.get("id").asText());
        return accounts;
    }

    @Test
    void whatBecomesOfASettingInAWorkspaceIsCountedAsItsMembersClimb() {
        for (long seed = 700; seed < 712; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            put(estate);
            Map<String, Map<String, JsonNode>> elsewhere = outcomes();
            for (JsonNode workspace : estate.get("workspaces")) {
                String at = "/api/v1/workspaces/" + workspace.get("id").asText();
                Map<String, Map<String, JsonNode>> there =
                        outcomes("&workspace=" + workspace.get("id").asText());
                for (JsonNode setting : json(server.get(at + "/settings")).get("settings")) {
                    String key = setting.get("key").asText();
                    Set<String> members = new HashSet<>();
                    json(server.get(at + "/people?limit=5000&setting=" + q(key)))
                            .get("people")
                            .forEach(p -> members.add(p.get("account").asText()));
                    Map<String, Set<String>> expected = new HashMap<>();
                    for (String member : members) {
                        JsonNode here = there.get(member).get(key);
                        boolean unhosted = here.get("blockedBy").toString().contains("\"hosting\"");
                        boolean other = !here.get("value")
                                .equals(elsewhere.get(member).get(key).get("value"));
                        if (unhosted || other)
                            expected.computeIfAbsent(unhosted ? "unhosted" : "overridden", k -> new HashSet<>())
                                    .add(member);
                    }
                    Map<String, Set<String>> told = new HashMap<>();
                    for (JsonNode fate : setting.get("fates")) {
                        JsonNode people = json(server.get(at + "/people?limit=5000&setting=" + q(key) + "&id="
                                + q(fate.get("id").asText())));
                        assertThat(people.get("accounts")).isEqualTo(fate.get("accounts"));
                        people.get("people")
                                .forEach(p -> told.computeIfAbsent(
                                                fate.get("fate").asText(), k -> new HashSet<>())
                                        .add(p.get("account").asText()));
                    }
                    told.keySet().removeAll(Set.of("held", "personal"));
                    assertThat(told).as("%s %s", seed, key).isEqualTo(expected);
                }
            }
        }
    }

    /** Every statement of a climb stands on a rung that is drawn, and the rung that decides is that of the outcome, in whatever place. */
    @Test
    void everyClimbIsDrawnOnTheRungsThatThereAre() {
        Set<String> deciding = new HashSet<>();
        for (long seed = 720; seed < 735; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            put(estate);
            List<String> places = new ArrayList<>(List.of(""));
            estate.get("workspaces")
                    .forEach(w -> places.add("&workspace=" + w.get("id").asText()));
            for (String where : places.subList(0, Math.min(6, places.size()))) {
                Map<String, Map<String, JsonNode>> outcomes = outcomes(where);
                List<String> accounts = List.copyOf(new TreeMap<>(outcomes).keySet());
                for (String account : accounts.subList(0, Math.min(9, accounts.size())))
                    outcomes.get(account).forEach((key, outcome) -> {
                        JsonNode drawing = json(server.get(
                                        "/api/v1/climb?account=" + q(account) + "&setting=" + q(key) + where))
                                .get("drawing");
                        String rung = drawing.at(
                                        "/rungs/" + drawing.get("decidingRung").asInt() + "/height")
                                .asText();
                        assertThat(outcome.get("rung").asText())
                                .as("%s %s %s", account, key, where)
                                .startsWith(rung);
                        deciding.add(rung);
                    });
            }
        }
        assertThat(deciding).contains("builtin", "organisation", "unit", "group", "workspace", "person");
    }

    @Test
    void aSettingThatIsOpenedToWorkspacesIsInTheRippleAndHeldByALockBelow() {
        ObjectNode estate = (ObjectNode) Json.read("""
                {'format': 'lean-ladder-estate/1', 'organisation': {'name': 'Skerry'},
                 'catalogue': {'sizes': ['S'], 'apps': [{'id': 'chat', 'name': 'Chat'}],
                   'settings': [{'key': 'chat.flags', 'app': 'chat', 'title': 'Stickers', 'type': 'switch',
                     'strict': false, 'default': true}]},
                 'units': [{'id': 'u', 'name': 'Skerry'}],
                 'accounts': [
                   {'id': 'a', 'userName': 'a', 'displayName': 'A', 'kind': 'person', 'unit': 'u'},
                   {'id': 'b', 'userName': 'b', 'displayName': 'B', 'kind': 'person', 'unit': 'u'}],
                 'workspaces': [{'id': 'w', 'name': 'Quay', 'size': 'S', 'members': ['account:a', 'account:b']}],
                 'policies': [
                   {'id': 'calm', 'name': 'Calm quay', 'statements': [{'setting': 'chat.flags', 'set': false}],
                    'assignments': [{'include': 'workspace:w'}]},
                   {'id': 'lock', 'name': 'Stickers stay', 'state': 'paused',
                    'statements': [{'setting': 'chat.flags', 'set': true, 'lock': true}],
                    'assignments': [{'include': 'organisation'}]}]}
                """.replace('\'', '"'));
        put(estate);
        JsonNode draft = json(server.send("POST", "/api/v1/drafts", "{}"));
        JsonNode staged = json(
                server.send("POST", "/api/v1/drafts/" + draft.get("id") + "/edits", """
                {'version': %s, 'edits': [
                  {'kind': 'amend-setting', 'setting': 'chat.flags', 'members': {'openToWorkspaces': true}}]}
                """.formatted(draft.get("version"))
                        .replace('\'', '"')));
        assertThat(staged.toString()).contains("Stickers is open to workspaces");
        String after = "?draft=" + draft.get("id");
        JsonNode setting =
                json(server.get("/api/v1/workspaces/w/settings" + after)).at("/settings/0");
        assertThat(setting.at("/fates/0/fate").asText()).isEqualTo("overridden");
        assertThat(setting.at("/fates/0/accounts").asInt()).isEqualTo(2);
        assertThat(json(server.get("/api/v1/drafts/" + draft.get("id") + "/reading"))
                        .toString())
                .contains("Quay");
        json(server.send("POST", "/api/v1/drafts/" + draft.get("id") + "/edits", """
                {'version': 2, 'edits': [{'kind': 'amend-policy', 'policy': 'lock', 'members': {'state': 'live'}}]}
                """.replace('\'', '"')));
        JsonNode held =
                json(server.get("/api/v1/workspaces/w/settings" + after)).at("/settings/0/fates/0");
        assertThat(held.get("fate").asText()).isEqualTo("held");
        assertThat(held.get("by").asText()).isEqualTo("Stickers stay");
        assertThat(json(server.get("/api/v1/workspaces/w/settings")).get("settings"))
                .isEmpty();
    }

    @Test
    void cellsOfTheMatrixCountTheOutcomesOfTheirAccounts() {
        for (long seed = 900; seed < 912; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            put(estate);
            Map<String, Map<String, JsonNode>> outcomes = outcomes();
            ArrayNode settings = Json.NODES.arrayNode();
            estate.at("/catalogue/settings").forEach(s -> settings.add(s.get("key")));
            ObjectNode asked = Json.NODES.objectNode().put("open", "all").put("count", 500);
            asked.set("settings", settings);
            JsonNode spread = json(server.send("POST", "/api/v1/matrix", Json.write(asked)));
            int units = 0;
            Set<String> people = new HashSet<>();
            for (JsonNode row : spread.get("rows")) {
                Set<String> who;
                if (row.get("kind").asText().equals("unit")) {
                    units++;
                    who = below(estate, row.get("id").asText());
                    who.retainAll(outcomes.keySet());
                } else {
                    who = Set.of(row.get("id").asText());
                    people.add(row.get("id").asText());
                }
                assertThat(row.get("accounts").asInt()).isEqualTo(who.size());
                for (int i = 0; i < settings.size(); i++) {
                    Map<JsonNode, Integer> values = new HashMap<>();
                    for (String account : who)
                        values.merge(
                                outcomes.get(account)
                                        .get(settings.get(i).asText())
                                        .get("value"),
                                1,
                                Integer::sum);
                    JsonNode cell = row.get("cells").get(i);
                    List<Integer> told = list(cell.get("shares")).stream()
                            .map(s -> s.get("accounts").asInt())
                            .toList();
                    List<Integer> counted = values.values().stream()
                            .sorted(java.util.Comparator.reverseOrder())
                            .limit(5)
                            .toList();
                    assertThat(told).isEqualTo(counted);
                    assertThat(told.size() + cell.path("more").asInt()).isEqualTo(values.size());
                }
            }
            assertThat(units).isEqualTo(estate.get("units").size());
            assertThat(people).isEqualTo(outcomes.keySet());
            assertThat(spread.get("total").asInt()).isEqualTo(spread.get("rows").size());
        }
    }

    @Test
    void windowsOfTheMatrixPutTogetherAreTheWhole() {
        put(new DemoEstate().build());
        String asked = "{\"settings\":[\"chat.private\"],\"open\":\"all\",\"from\":%d,\"count\":%d}";
        JsonNode whole = json(server.send("POST", "/api/v1/matrix", asked.formatted(0, 500)));
        ArrayNode pieces = Json.NODES.arrayNode();
        for (int from = 0; from < 500; from += 37)
            json(server.send("POST", "/api/v1/matrix", asked.formatted(from, Math.min(37, 500 - from))))
                    .get("rows")
                    .forEach(pieces::add);
        assertThat(pieces).isEqualTo(whole.get("rows"));
    }

    @Test
    void everyRowThatAFilterShowsHasWhatItAsksForAndNoneIsLeftOut() {
        put(new DemoEstate().build());
        JsonNode all = json(server.send(
                "POST", "/api/v1/matrix", "{\"settings\":[\"chat.private\"],\"open\":\"units\",\"count\":500}"));
        JsonNode mixed = json(server.send(
                "POST",
                "/api/v1/matrix",
                "{\"settings\":[\"chat.private\"],\"open\":\"units\",\"filter\":\"mixed\",\"count\":500}"));
        List<String> expected = list(all.get("rows")).stream()
                .filter(r -> r.at("/cells/0/shares").size() > 1)
                .map(r -> r.get("id").asText())
                .toList();
        assertThat(list(mixed.get("rows")).stream()
                        .map(r -> r.get("id").asText())
                        .toList())
                .isEqualTo(expected)
                .isNotEmpty();
    }

    @Test
    void theLengthsOfTheLadderForManyAddUpAndListTheirAccounts() {
        for (long seed = 920; seed < 930; seed++) {
            ObjectNode estate = RandomEstate.json(seed);
            put(estate);
            Map<String, Map<String, JsonNode>> outcomes = outcomes();
            for (JsonNode setting : estate.at("/catalogue/settings")) {
                String key = setting.get("key").asText();
                JsonNode crowd = json(server.get("/api/v1/distribution?who=everyone&setting=" + q(key)));
                int all = 0;
                for (JsonNode rung : crowd.get("rungs"))
                    for (JsonNode segment : rung.get("segments")) {
                        all += segment.get("accounts").asInt();
                        JsonNode listed =
                                json(server.get("/api/v1/distribution?who=everyone&list=true&setting=" + q(key)
                                        + "&rung=" + rung.get("height").asText() + "&policy="
                                        + q(segment.get("policy").asText("none"))));
                        for (JsonNode person : listed.get("people")) {
                            JsonNode outcome =
                                    outcomes.get(person.get("account").asText()).get(key);
                            assertThat(outcome.get("rung")).isEqualTo(rung.get("height"));
                            assertThat(outcome.get("policy")).isEqualTo(segment.get("policy"));
                        }
                    }
                assertThat(all).isEqualTo(outcomes.size());
            }
        }
    }

    @Test
    void whatAStatementDoesIsWhatItDecidesAmongThoseReached() {
        put(new DemoEstate().build());
        Map<String, Map<String, JsonNode>> outcomes = outcomes();
        for (JsonNode line : json(server.get("/api/v1/policies")).get("policies")) {
            String id = line.get("id").asText();
            JsonNode does = json(server.get("/api/v1/policies/" + id + "/does"));
            assertThat(does.get("reached")).isEqualTo(line.get("reaches"));
            for (JsonNode did : does.get("does")) {
                String by = did.get("cap").asBoolean() ? "cappedBy" : "policy";
                long decides = outcomes.values().stream()
                        .filter(o -> o.get(did.get("setting").asText())
                                .get(by)
                                .asText()
                                .equals(id))
                        .count();
                assertThat(did.get("decides").asLong()).as(id + " " + did).isEqualTo(decides);
                if (did.get("cap").asBoolean()) continue;
                int outranked = list(did.get("outranked")).stream()
                        .mapToInt(o -> o.get("accounts").asInt())
                        .sum();
                assertThat(decides + outranked + did.get("adds").asInt())
                        .isEqualTo(does.get("reached").asLong());
                if (!did.get("setting").asText().equals("mail.blocked-domains")) continue;
                // No list of the demo is locked: whoever is reached has every entry that the policy names.
                assertThat(outranked).isZero();
            }
        }
    }

    @Test
    void eachWayToAValueTellsTheRippleThatItsEditHas() {
        put(new DemoEstate().build());
        String asked = "/api/v1/ways?target=unit:engineering&setting=chat.private&value=false";
        assertThat(list(waysThatTellTheirRipple(asked)).stream()
                        .filter(w -> w.get("first").asBoolean()))
                .hasSize(1);
    }

    @Test
    void toSayNothingAnyMoreIsOfferedWhereAPolicySetsItAndFirstOnlyInThePolicyOfExactlyThisTarget() {
        put(new DemoEstate().build());
        String said = json(server.get("/api/v1/policies/workshop-phones"))
                .at("/says/0/setting")
                .asText();
        JsonNode ways = waysThatTellTheirRipple("/api/v1/ways?target=unit:engineering&setting=" + said);
        assertThat(ways.at("/0/edit/kind").asText()).isEqualTo("remove-statement");
        assertThat(ways.at("/0/edit/policy").asText()).isEqualTo("workshop-phones");
        assertThat(ways.at("/0/first").asBoolean()).isTrue();
        for (JsonNode way : waysThatTellTheirRipple("/api/v1/ways?target=unit:fleet-mv-heron&setting=" + said))
            assertThat(way.get("first").asBoolean()).isFalse();
    }

    private static JsonNode waysThatTellTheirRipple(String asked) {
        JsonNode ways = json(server.get(asked)).get("ways");
        long base = json(server.get("/api/v1/session")).get("change").asLong();
        for (JsonNode way : ways) {
            ObjectNode change = Json.NODES.objectNode().put("base", base);
            change.putArray("edits").add(way.get("edit"));
            JsonNode ripple = json(server.send("POST", "/api/v1/changes?preview=true", Json.write(change)));
            way.get("ripple")
                    .properties()
                    .forEach(count ->
                            assertThat(count.getValue()).as(count.getKey()).isEqualTo(ripple.get(count.getKey())));
        }
        return ways;
    }

    @Test
    void aPolicyThatIsAimedAtAUnitAtAnotherTimeIsNotTheFirstWayToSetSomethingThere() {
        put(new DemoEstate().build());
        JsonNode ways = json(server.get(
                        "/api/v1/ways?target=unit:commercial-bookings&setting=chat.private&value=false"))
                .get("ways");
        List<JsonNode> all = list(ways);
        assertThat(all.get(0).get("first").asBoolean()).isTrue();
        assertThat(all.get(0).get("fresh").asBoolean()).isTrue();
        assertThat(all.stream()
                        .filter(w -> w.get("name").asText().equals("Summer timetable desk"))
                        .map(w -> w.get("first").asBoolean()))
                .containsExactly(false);
    }

    @Test
    void whatDiffersBetweenTwoInstantsIsWhatTheChangesBetweenAltered() throws Exception {
        JsonNode small = Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        put(small);
        Map<String, Map<String, JsonNode>> before = outcomes();
        long first = json(server.get("/api/v1/session")).get("change").asLong();
        json(
                server.post(
                        "{\"base\":" + first
                                + ",\"edits\":[{\"kind\":\"remove-policy\",\"policy\":\"p1\"},{\"kind\":\"amend-account\",\"account\":\"a2\",\"members\":{\"unit\":\"u1\"}}]}"));
        Map<String, Map<String, JsonNode>> after = outcomes();
        int cells = 0;
        for (String account : before.keySet())
            for (String setting : before.get(account).keySet())
                if (!before.get(account)
                        .get(setting)
                        .get("value")
                        .equals(after.get(account).get(setting).get("value"))) cells++;
        // Both changes bear the fixed clock's instant, so that the estate before them is the one that had not been
        // published yet.
        JsonNode ripple = json(server.get("/api/v1/changes/" + (first + 1))).get("ripple");
        int moved = list(ripple.get("moves")).stream()
                .mapToInt(m -> m.get("accounts").asInt())
                .sum();
        assertThat(moved).isEqualTo(cells).isPositive();
    }

    @Test
    void theReadingOfADraftTellsSeatsLaterInstantsWorkspacesSettlingAndWhatIsWorthASecondLook() {
        ObjectNode demo = new DemoEstate().build();
        put(demo);
        String joining = StreamSupport.stream(demo.get("accounts").spliterator(), false)
                .filter(a -> a.get("unit").asText().equals("engineering-dry-dock"))
                .limit(20)
                .map(a -> "\"account:" + a.get("id").asText() + "\"")
                .collect(Collectors.joining(","));
        JsonNode draft = json(server.send("POST", "/api/v1/drafts", "{}"));
        draft = json(server.send(
                "POST", "/api/v1/drafts/" + draft.get("id") + "/edits", """
                {"version": %s, "edits": [
                  {"kind": "put-statement", "policy": "house-rules",
                   "statement": {"setting": "chat.private", "set": false, "lock": true}},
                  {"kind": "remove-policy", "policy": "shipyard-visitors"},
                  {"kind": "put-members", "group": "crew-schedulers", "who": [%s]},
                  {"kind": "put-assignment", "policy": "muster-leaders",
                   "assignment": {"include": "unit:engineering", "from": "2100-12-01T00:00:00Z"}},
                  {"kind": "put-statement", "policy": "freight-desk-room",
                   "statement": {"setting": "pages.plans", "set": false}}]}""".formatted(draft.get("version"), joining)));
        JsonNode reading = json(server.get("/api/v1/drafts/" + draft.get("id") + "/reading"));
        for (String count : List.of("accounts", "gain", "lose", "both", "other", "blocked", "waiting"))
            assertThat(reading.get(count))
                    .as(count)
                    .isEqualTo(draft.get("ripple").get(count));
        assertThat(list(reading.get("moves")).stream()
                        .filter(m -> m.get("effect").asText().equals("gain")
                                && m.get("setting").asText().equals("files.share"))
                        .mapToInt(m -> m.get("accounts").asInt())
                        .sum())
                .isEqualTo(caution(reading, "loosened", "Reach of cargo papers")
                        .get("accounts")
                        .asInt())
                .isPositive();
        assertThat(caution(reading, "many", "More than a fifth of the organisation")
                        .get("accounts"))
                .isEqualTo(reading.get("accounts"));
        caution(reading, "locked", "Talk between two");
        caution(reading, "oneself", "Ivo Tarn");
        JsonNode seats = reading.at("/seats/0");
        assertThat(seats.get("plan").asText()).isEqualTo("Assistant add-on");
        // Whoever holds a seat keeps it, however senior those are who come.
        assertThat(seats.get("given").asInt()).isZero();
        assertThat(seats.get("returned").asInt()).isZero();
        assertThat(seats.get("waitingAfter").asInt())
                .isEqualTo(seats.get("waitingBefore").asInt() + 20);
        assertThat(reading.at("/waiting/0/more").asInt())
                .isEqualTo(seats.get("waitingAfter").asInt()
                        - seats.get("waitingBefore").asInt());
        assertThat(list(reading.get("later")).stream().map(l -> l.get("at").asText()))
                .contains("2100-12-01T00:00:00Z");
        assertThat(list(reading.get("workspaces")).stream()
                        .map(w -> w.get("name").asText()))
                .containsExactly("Freight desk", "Timetable room");
        // Those inside workspaces are counted wherever counts are shown.
        for (JsonNode counted : List.of(reading, draft.get("ripple")))
            assertThat(counted.at("/inWorkspaces/0/name").asText()).isEqualTo("Freight desk");
        assertThat(draft.at("/ripple/inWorkspaces/0/accounts")).isEqualTo(reading.at("/workspaces/0/accounts"));
        assertThat(list(reading.get("settling")).stream()
                        .filter(s -> s.get("app").asText().equals("Chat"))
                        .map(s -> s.get("minMinutes") + " " + s.get("maxMinutes") + s.get("then")))
                .containsExactly("5 60\"refresh\"");
    }

    @Test
    void aSettingTellsWhoStatesSomethingAboutItAndForHowManyEachDecides() {
        put(new DemoEstate().build());
        List<JsonNode> lines = list(json(server.get("/api/v1/settings")).get("settings"));
        assertThat(lines).hasSize(189);
        assertThat(lines.stream().map(l -> l.get("title").asText())).isSorted();
        for (String key : List.of("chat.private", "files.share", "meetings.summary", "help.pilot-book")) {
            JsonNode setting = json(server.get("/api/v1/settings/" + key));
            int everyone = setting.get("accounts").asInt();
            assertThat(list(setting.get("values")).stream()
                            .mapToInt(v -> v.get("accounts").asInt())
                            .sum())
                    .as(key)
                    .isEqualTo(everyone)
                    .isPositive();
            JsonNode distribution = json(server.get("/api/v1/distribution?who=everyone&setting=" + key));
            Map<String, Integer> decides = new TreeMap<>();
            for (JsonNode rung : distribution.get("rungs"))
                for (JsonNode segment : rung.get("segments"))
                    if (!segment.get("policy").isNull())
                        decides.merge(
                                segment.get("policy").asText(),
                                segment.get("accounts").asInt(),
                                Integer::sum);
            Map<String, Integer> told = new TreeMap<>();
            for (JsonNode statement : setting.get("statements"))
                if (statement.get("decides").asInt() > 0
                        && !statement.get("says").asText().startsWith("at most"))
                    told.put(
                            statement.get("policy").asText(),
                            statement.get("decides").asInt());
            assertThat(told).as(key).isEqualTo(decides);
        }
        assertThat(list(json(server.get("/api/v1/settings/meetings.record")).get("dependents")).stream()
                        .map(d -> d.get("name").asText()))
                .containsExactly("Written summaries");
        assertThat(server.get("/api/v1/settings/nothing.here").statusCode()).isEqualTo(404);
    }

    @Test
    void aWayTellsWhomItLeavesWithoutTheValueAndWhy() {
        put(new DemoEstate().build());
        // A lock of Finance, and a cap of all, keep it from her whatever single edit is made.
        for (JsonNode way : ways("account:zofia.lisowa", "files.share", "\"consignee\"")) {
            assertThat(way.get("leaves").asInt()).isEqualTo(1);
            assertThat(way.get("stays").asText()).startsWith("C");
            if (!way.get("excepts").asBoolean())
                assertThat(way.get("stays").asText()).contains("Finance keeps to itself");
        }
        JsonNode own = ways("account:mirela.osk", "chat.private", "true").stream()
                .filter(way -> way.get("fresh").asBoolean())
                .findFirst()
                .orElseThrow();
        assertThat(own.get("leaves").asInt()).isZero();
        assertThat(own.has("stays")).isFalse();
        // What a list gathers beside the items that are wanted is no reason to say that it leaves somebody out.
        assertThat(ways("unit:fleet", "mail.blocked-domains", "[\"quay-offer.example\"]").stream()
                        .filter(way -> way.get("fresh").asBoolean()))
                .singleElement()
                .satisfies(way -> assertThat(way.get("leaves").asInt()).isZero());
    }

    @Test
    void aSettingIsTurnedOffForEveryoneButExceptionsAndLaterOnForOneUnitByAnException() {
        put(new DemoEstate().build());
        JsonNode off = json(server.get("/api/v1/turn-off?setting=chat.private&except=unit:fleet-mv-heron"));
        assertThat(off.get("capped").asBoolean()).isTrue();
        assertThat(off.at("/edit/policy/statements/0/cap").asBoolean()).isFalse();
        int total = off.get("have").asInt();
        for (JsonNode deviation : off.get("deviations")) {
            assertThat(deviation.get("because").asText()).isEqualTo("excepted");
            total += deviation.get("accounts").asInt();
        }
        assertThat(total).isEqualTo(616);
        publish(off.get("edit"));
        assertThat(values("chat.private").get("off")).isEqualTo(off.get("have").asInt());
        JsonNode exception = ways("unit:fleet-mv-plover", "chat.private", "true").stream()
                .filter(way -> way.get("excepts").asBoolean())
                .findFirst()
                .orElseThrow();
        assertThat(exception.get("name").asText()).isEqualTo(off.get("policy").asText());
        assertThat(exception.at("/ripple/gain").asInt()).isPositive();
        publish(exception.get("edit"));
        assertThat(values("chat.private").get("off"))
                .isEqualTo(
                        off.get("have").asInt() - exception.at("/ripple/gain").asInt());
    }

    @Test
    void whatHasNoStrictEndIsLockedToTheValueThatIsNamedAndWhoDiffersIsToldWithTheReason() {
        put(new DemoEstate().build());
        assertThat(server.get("/api/v1/turn-off?setting=mail.blocked-domains").body())
                .contains("has no strict end");
        JsonNode locked = json(server.get("/api/v1/turn-off?setting=mail.blocked-domains&until=2099-01-01&value="
                + q("[\"quay-offer.example\"]")));
        assertThat(locked.get("capped").asBoolean()).isFalse();
        assertThat(locked.at("/edit/policy/statements/0/lock").asBoolean()).isTrue();
        assertThat(locked.at("/edit/policy/assignments/0/until").asText()).startsWith("2099-01-01");
        int differing = 0;
        for (JsonNode deviation : locked.get("deviations"))
            differing += deviation.get("accounts").asInt();
        assertThat(differing + locked.get("have").asInt()).isEqualTo(616);
        publish(locked.get("edit"));
        assertThat(values("mail.blocked-domains").values().stream()
                        .mapToInt(n -> n)
                        .sum())
                .isEqualTo(616);
        assertThat(server.get("/api/v1/turn-off?setting=chat.private&except=workspace:x")
                        .statusCode())
                .isEqualTo(400);
    }

    @Test
    void theMatrixFindsTheRowOfAPersonOrUnitAndOpensWhatIsAboveIt() {
        put(new DemoEstate().build());
        for (String target : List.of("account:mirela.osk", "unit:fleet-mv-heron-bridge", "unit:fleet")) {
            String asked = "{\"settings\":[\"chat.private\"],\"find\":\"" + target + "\"";
            JsonNode found = json(server.send("POST", "/api/v1/matrix", asked + ",\"count\":0}"));
            JsonNode view = json(server.send(
                    "POST",
                    "/api/v1/matrix",
                    "{\"settings\":[\"chat.private\"],\"open\":" + found.get("opened") + ",\"from\":"
                            + found.get("found") + ",\"count\":1}"));
            assertThat(target).endsWith(":" + view.at("/rows/0/id").asText());
        }
        JsonNode group = json(
                server.send(
                        "POST",
                        "/api/v1/matrix",
                        "{\"settings\":[\"chat.private\"],\"rows\":\"groups\",\"find\":\"group:bridge-officers\",\"count\":500}"));
        assertThat(group.get("rows").get(group.get("found").asInt()).get("id").asText())
                .isEqualTo("bridge-officers");
        assertThat(server.send("POST", "/api/v1/matrix", "{\"settings\":[\"chat.private\"],\"find\":\"unit:nowhere\"}")
                        .statusCode())
                .isEqualTo(422);
    }

    @Test
    void aComponentIsTakenFromSomePeopleAndTheOthersOfTheirRulesKeepIt() {
        put(new DemoEstate().build());
        JsonNode plan = json(server.get("/api/v1/plans/desk-plan"));
        String component = plan.at("/plan/components/1/id").asText();
        Map<String, Boolean> before = carrying("desk-plan", component);
        List<String> three =
                before.keySet().stream().filter(before::get).limit(3).toList();
        JsonNode exclusion = json(server.send(
                "POST",
                "/api/v1/plans/desk-plan/component-exclusions",
                Json.write(Json.NODES.objectNode().put("component", component).set("accounts", texts(three)))));
        assertThat(exclusion.get("losing").asInt()).isEqualTo(3);
        assertThat(exclusion.get("words").asText()).contains("3 accounts lose").contains("gives it back to");
        publish(exclusion.get("edit"));
        Map<String, Boolean> after = carrying("desk-plan", component);
        assertThat(after.keySet()).isEqualTo(before.keySet());
        after.forEach((account, has) ->
                assertThat(has).as(account).isEqualTo(before.get(account) && !three.contains(account)));
        assertThat(server.send(
                                "POST",
                                "/api/v1/plans/desk-plan/component-exclusions",
                                Json.write(Json.NODES
                                        .objectNode()
                                        .put("component", component)
                                        .set("accounts", texts(three))))
                        .body())
                .contains("None of them has");
    }

    @Test
    void aRuleThatLeavesOutWhatAnotherGrantsSaysSo() {
        put(new DemoEstate().build());
        JsonNode plan = json(server.get("/api/v1/plans/desk-plan"));
        String component = plan.at("/plan/components/1/id").asText();
        String somebody = carrying("desk-plan", component).entrySet().stream()
                .filter(Map.Entry::getValue)
                .findFirst()
                .orElseThrow()
                .getKey();
        ObjectNode edit = Json.NODES.objectNode().put("kind", "put-rule").put("plan", "desk-plan");
        edit.putObject("rule")
                .put("include", "account:" + somebody)
                .putArray("off")
                .add(component);
        publish(edit);
        JsonNode rules = json(server.get("/api/v1/plans/desk-plan")).get("rules");
        assertThat(list(rules).stream().filter(r -> r.get("target").asText().equals("account:" + somebody)))
                .singleElement()
                .satisfies(r -> assertThat(r.at("/overruled/0").asText()).contains("stays for 1 of them: rule"));
    }

    private static JsonNode texts(List<String> texts) {
        var array = Json.NODES.arrayNode();
        texts.forEach(array::add);
        return array;
    }

    /** Whether each account with a seat has the component through the plan. */
    private Map<String, Boolean> carrying(String plan, String component) {
        JsonNode estate = json(server.get("/api/v1/estate"));
        String name = list(estate.at("/catalogue/entitlements")).stream()
                .filter(e -> e.get("id").asText().equals(component))
                .map(e -> e.get("name").asText())
                .findFirst()
                .orElseThrow();
        Map<String, Boolean> carrying = new TreeMap<>();
        for (JsonNode claim :
                json(server.get("/api/v1/plans/" + plan + "/claims?limit=5000")).get("claims")) {
            String account = claim.get("account").asText();
            for (JsonNode seat : json(server.get("/api/v1/accounts/" + account)).get("seats"))
                if (seat.get("planId").asText().equals(plan))
                    carrying.put(
                            account,
                            list(seat.get("carries")).stream()
                                    .anyMatch(c -> c.asText().equals(name)));
        }
        return carrying;
    }

    @Test
    void whoLeavesIsToldWhereTheyAreNamedAndRemovedFromAllOfItByOneEdit() {
        put(new DemoEstate().build());
        String id = "mirela.osk";
        publish(edit("amend-group", "group", "night-watch", "owners", "[\"mirela.osk\"]"));
        publish(Json.read(
                "{\"kind\":\"put-rule\",\"plan\":\"desk-plan\",\"rule\":{\"except\":\"account:mirela.osk\"}}"));
        JsonNode departure = json(server.get("/api/v1/accounts/" + id + "/departure"));
        assertThat(list(departure.get("namedIn")).stream()
                        .map(n -> n.get("words").asText()))
                .contains("the owners of Night watch", "the rules of Desk plan", "the policy Relief captain");
        publish(departure.get("edit"));
        JsonNode after = json(server.get("/api/v1/accounts/" + id + "/departure"));
        assertThat(after.get("edit").isNull()).isTrue();
        assertThat(list(after.get("namedIn")).stream()
                        .filter(n -> n.get("removed").asBoolean()))
                .isEmpty();
    }

    @Test
    void aStatementThatRepeatsWhatAppliesSaysSoAndOneThatMattersDoesNot() {
        put(new DemoEstate().build());
        for (boolean on : List.of(true, false)) {
            String id = "again-" + on;
            publish(Json.read("{\"kind\":\"add-policy\",\"policy\":{\"id\":\"" + id
                    + "\",\"name\":\"Again\",\"statements\":[{\"setting\":\"chat.private\",\"set\":" + on
                    + "}],\"assignments\":[{\"include\":\"unit:terminals\"}]}}"));
            JsonNode does = json(server.get("/api/v1/policies/" + id + "/does")).at("/does/0");
            assertThat(does.get("decides").asInt()).isPositive();
            assertThat(does.get("repeats").asBoolean()).isEqualTo(on);
            publish(Json.read("{\"kind\":\"remove-policy\",\"policy\":\"" + id + "\"}"));
        }
    }

    @Test
    void whoNeedsALicenceAndHasTheSettingTurnedOffIsCountedApart() {
        put(new DemoEstate().build());
        JsonNode gap = json(server.get("/api/v1/licence-gap?who=everyone&setting=assistant.use"));
        int licenceOnly = gap.get("accounts").asInt()
                - gap.get("ready").asInt()
                - gap.get("beyond").asInt();
        int off = gap.get("turnedOff").asInt();
        assertThat(off).isPositive().isLessThanOrEqualTo(licenceOnly);
        publish(Json.read("{\"kind\":\"add-policy\",\"policy\":{\"name\":\"On for all\",\"statements\":"
                + "[{\"setting\":\"assistant.use\",\"set\":true,\"lock\":true}],"
                + "\"assignments\":[{\"include\":\"organisation\"}]},\"above\":\"safety-first\"}"));
        assertThat(json(server.get("/api/v1/licence-gap?who=everyone&setting=assistant.use"))
                        .get("turnedOff")
                        .asInt())
                .isZero();
    }

    private static JsonNode edit(String kind, String noun, String id, String member, String value) {
        ObjectNode edit = Json.NODES.objectNode().put("kind", kind).put(noun, id);
        edit.putObject("members").set(member, Json.read(value));
        return edit;
    }

    private void publish(JsonNode edit) {
        ObjectNode change = Json.NODES.objectNode();
        change.put("base", json(server.get("/api/v1/session")).get("change").asLong());
        change.putArray("edits").add(edit);
        HttpResponse<String> answer = server.post(Json.write(change));
        assertThat(answer.statusCode()).as(answer.body()).isEqualTo(201);
    }

    private Map<String, Integer> values(String setting) {
        Map<String, Integer> values = new TreeMap<>();
        for (JsonNode value : json(server.get("/api/v1/settings/" + setting)).get("values"))
            values.put(
                    value.get("value").asText().toLowerCase(),
                    value.get("accounts").asInt());
        return values;
    }

    private List<JsonNode> ways(String target, String setting, String value) {
        return list(json(server.get("/api/v1/ways?target=" + target + "&setting=" + setting + "&value=" + q(value)))
                .get("ways"));
    }

    private static JsonNode caution(JsonNode reading, String what, String title) {
        return list(reading.get("cautions")).stream()
                .filter(c -> c.get("what").asText().equals(what)
                        && c.get("title").asText().equals(title))
                .findFirst()
                .orElseThrow(
                        () -> new AssertionError("No " + what + " of " + title + " in " + reading.get("cautions")));
    }

    @Test
    void listsAreWrittenAsCsvThatNoSpreadsheetTakesForFormulasAndReadBackTheSame() {
        ObjectNode estate = new DemoEstate().build();
        ((ObjectNode) estate.at("/accounts/0")).put("displayName", "=SUM(A1:A9)");
        ((ObjectNode) estate.at("/accounts/1")).put("displayName", "Comma, \"quoted\"\nand broken");
        put(estate);
        String csv = server.get("/api/v1/directory/people?format=csv").body();
        assertThat(csv).contains("'=SUM(A1:A9)").doesNotContain(",=SUM");
        JsonNode report = json(server.send("POST", "/api/v1/imports/people", csv));
        assertThat(report.at("/counts/same").asInt())
                .isEqualTo(report.get("lines").size());
        assertThat(report.get("edit").isNull()).isTrue();
    }

    @Test
    void listsAreSearchedSortedAndPagedWithoutLosingAnybody() {
        put(new DemoEstate().build());
        Map<String, String> seen = new TreeMap<>();
        int total = json(server.get("/api/v1/directory/people?count=1"))
                .get("total")
                .asInt();
        for (int from = 0; from < total; from += 100) {
            String page = from == 0 ? "" : "&from=" + from;
            json(server.get("/api/v1/directory/people?sort=address&count=100" + page))
                    .get("rows")
                    .forEach(r -> seen.put(r.get("id").asText(), r.get("name").asText()));
        }
        assertThat(seen).hasSize(total);
        JsonNode found = json(server.get("/api/v1/directory/people?q=heron%20bridge%20mirela"));
        assertThat(list(found.get("rows")).stream()
                        .map(r -> r.get("id").asText())
                        .toList())
                .containsExactly("mirela.osk");
        assertThat(server.get("/api/v1/directory/ships").statusCode()).isEqualTo(404);
        assertThat(server.get("/api/v1/directory/people?sort=colour").statusCode())
                .isEqualTo(400);
        JsonNode group = json(server.get("/api/v1/directory/groups/all-officers"));
        assertThat(group.get("members"))
                .hasSize(group.get("accounts").asInt() + group.get("inactive").asInt());
        assertThat(list(group.get("members")).stream()
                        .noneMatch(m -> m.get("way").asText().isEmpty()))
                .isTrue();
    }
}
