package leanladder.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.StreamSupport;
import leanladder.RandomEstate;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.json.Json;
import leanladder.reach.Rung;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/** What must always hold, line by line as resolution.md, section 9, lists it. */
class InvariantsTest {
    private static final EvaluationContext NOW = EvaluationContext.at(RandomEstate.NOW);

    private static CompiledEstate ground(ObjectNode json) {
        return new CompiledEstate(RandomEstate.read(json));
    }

    /** Every outcome, as its line without what the given members say. */
    private static Map<String, String> lines(ObjectNode json, String... without) {
        CompiledEstate compiledEstate = ground(json);
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, NOW);
        Map<String, String> lines = new TreeMap<>();
        for (Account account : compiledEstate.estate().accounts())
            for (Setting setting :
                    compiledEstate.estate().catalogue().settings().values())
                if (account.active()) {
                    ObjectNode line = columnResolver
                            .column(setting.key())
                            .of(compiledEstate.directory().number(account.id()))
                            .rest();
                    line.remove(List.of(without));
                    lines.put(account.id() + " " + setting.key(), Json.write(line));
                }
        return lines;
    }

    @Property(tries = 150)
    void orderThatMeansNothingChangesNothing(@ForAll long seed) {
        ObjectNode json = RandomEstate.json(seed);
        ObjectNode shuffled = json.deepCopy();
        Random random = new Random(seed);
        for (String section : List.of("units", "accounts", "groups", "workspaces", "policies", "plans", "releases"))
            if (shuffled.path(section).isArray()) shuffle((ArrayNode) shuffled.get(section), random);
        shuffle((ArrayNode) shuffled.at("/catalogue/settings"), random);
        for (JsonNode group : shuffled.path("groups")) shuffle((ArrayNode) group.get("members"), random);
        for (JsonNode policy : shuffled.path("policies")) {
            shuffle((ArrayNode) policy.get("statements"), random);
            shuffle((ArrayNode) policy.get("assignments"), random);
        }
        assertThat(lines(shuffled)).isEqualTo(lines(json));
        assertThat(seats(shuffled)).isEqualTo(seats(json));
    }

    private static void shuffle(ArrayNode list, Random random) {
        List<JsonNode> items = new ArrayList<>();
        list.forEach(items::add);
        Collections.shuffle(items, random);
        list.removeAll();
        list.addAll(items);
    }

    @Property(tries = 150)
    void whatReachesNobodyChangesNoValueStandingOrSource(@ForAll long seed) {
        ObjectNode json = RandomEstate.json(seed);
        ObjectNode more = json.deepCopy();
        String[] idle = {
            "{\"id\":\"x1\",\"name\":\"Paused\",\"state\":\"paused\",\"assignments\":[{\"include\":\"organisation\"}]}",
            "{\"id\":\"x2\",\"name\":\"Over\",\"assignments\":[{\"include\":\"organisation\",\"until\":\"2026-11-23T12:00:00Z\"}]}",
            "{\"id\":\"x3\",\"name\":\"Not begun\",\"assignments\":[{\"include\":\"organisation\",\"from\":\"2026-11-23T12:00:00.000000001Z\"}]}",
            "{\"id\":\"x4\",\"name\":\"Nobody\",\"assignments\":[]}"
        };
        for (String text : idle) {
            ObjectNode policy = (ObjectNode) Json.read(text);
            ArrayNode statements = policy.putArray("statements");
            for (JsonNode setting : json.at("/catalogue/settings")) {
                ObjectNode set = statements
                        .addObject()
                        .put("setting", setting.get("key").asText())
                        .put("lock", true);
                set.set("set", aValue(setting));
            }
            ((ArrayNode) more.get("policies")).add(policy);
            ((ArrayNode) more.get("ranking")).insert(0, policy.get("id").asText());
        }
        assertThat(lines(more)).isEqualTo(lines(json));
    }

    private static JsonNode aValue(JsonNode setting) {
        if (setting.path("byLanguage").asBoolean()) {
            ObjectNode plain = ((ObjectNode) setting.deepCopy()).without("byLanguage");
            return Json.NODES.objectNode().set("*", aValue(plain));
        }
        return switch (setting.get("type").asText()) {
            case "switch" -> Json.read("true");
            case "choice" -> setting.get("options").get(0);
            case "number" -> setting.get("max");
            case "text" -> Json.read("\"new\"");
            case "link" -> Json.read("\"https://new.skerrymore.example/\"");
            case "people" -> Json.read("[\"unit:u0\"]");
            case "picture" -> Json.read("null");
            default -> Json.read("[\"new.example\"]");
        };
    }

    @Property(tries = 150)
    void aNewSetActsByWhereItStands(@ForAll long seed) {
        ObjectNode json = RandomEstate.json(seed);
        CompiledEstate before = ground(json);
        Entitlements entitlements = before.seats(NOW.at());
        List<Account> accounts =
                before.estate().accounts().stream().filter(Account::active).toList();
        List<String> each = accounts.stream().map(a -> "account:" + a.id()).toList();
        for (Setting setting : before.estate().catalogue().settings().values()) {
            if (setting.merge() != Merge.RANKED) continue;
            CompiledEstate forAll = withSet(json, setting, List.of("organisation"));
            CompiledEstate byName = withSet(json, setting, each);
            for (Account account : accounts) {
                Climb climb = new AccountResolver(before, NOW, entitlements, account).climb(setting);
                boolean lock = climb.entries().stream()
                        .anyMatch(w -> w.verdict() == Verdict.DECIDES
                                && ((Statement.Set) w.rankedStatement().statement()).lock());
                for (Rung stands : List.of(Rung.ORGANISATION, Rung.PERSON)) {
                    CompiledEstate after = stands == Rung.PERSON ? byName : forAll;
                    Outcome outcome = new AccountResolver(
                                    after,
                                    NOW,
                                    entitlements,
                                    after.estate().account(account.id()).orElseThrow())
                            .outcome(after.estate()
                                    .catalogue()
                                    .setting(setting.key())
                                    .orElseThrow());
                    int against = stands.compareTo(climb.outcome().rung());
                    if (lock || against < 0)
                        assertThat(outcome.rest()).isEqualTo(climb.outcome().rest());
                    else if (against > 0) assertThat(outcome.policy()).contains("new");
                }
            }
        }
    }

    /** The same estate with one policy more, ranked last, that sets the setting for these targets. */
    private static CompiledEstate withSet(ObjectNode json, Setting setting, List<String> targets) {
        ObjectNode more = json.deepCopy();
        ObjectNode policy =
                ((ArrayNode) more.get("policies")).addObject().put("id", "new").put("name", "New");
        ArrayNode assignments = policy.putArray("assignments");
        targets.forEach(target -> assignments.addObject().put("include", target));
        policy.putArray("statements").addObject().put("setting", setting.key()).set("set", aValue(setting.source()));
        ((ArrayNode) more.get("ranking")).add("new");
        return ground(more);
    }

    @Property(tries = 200)
    void capsBindAndClosedGatesNeverLoosen(@ForAll long seed) {
        CompiledEstate compiledEstate = ground(RandomEstate.json(seed));
        Entitlements entitlements = compiledEstate.seats(NOW.at());
        for (Account account : compiledEstate.estate().accounts()) {
            if (!account.active()) continue;
            AccountResolver accountResolver = new AccountResolver(compiledEstate, NOW, entitlements, account);
            for (Setting setting :
                    compiledEstate.estate().catalogue().settings().values()) {
                if (setting.strictness().isEmpty()) continue;
                var strictness = setting.strictness().get();
                Climb climb = accountResolver.climb(setting);
                assertThat(strictness.isLooser(
                                climb.outcome().value(), climb.outcome().decided()))
                        .isFalse();
                climb.entries().stream()
                        .filter(w -> w.verdict() == Verdict.BINDS || w.verdict() == Verdict.SLACK)
                        .forEach(w -> assertThat(strictness.isLooser(
                                        climb.outcome().value(),
                                        w.rankedStatement().statement().value()))
                                .isFalse());
            }
        }
    }

    @Property(tries = 200)
    void movingInwardOrConsentingNeverTakesAReleaseAway(@ForAll long seed) {
        ObjectNode json = RandomEstate.json(seed);
        if (json.path("rings").isEmpty() || json.get("accounts").isEmpty()) return;
        Random random = new Random(seed);
        ObjectNode account = (ObjectNode)
                json.get("accounts").get(random.nextInt(json.get("accounts").size()));
        account.put("active", true);
        for (JsonNode setting : json.at("/catalogue/settings")) {
            if (setting.get("key").asText().startsWith("preview.")) continue;
            ((ObjectNode) setting).set("needs", Json.read("[{\"release\":true}]"));
            if (!setting.has("fallback")) ((ObjectNode) setting).set("fallback", fallback(setting));
        }
        Map<String, Boolean> before = released(json, account.get("id").asText());
        ObjectNode inward = json.deepCopy();
        ObjectNode moved =
                (ObjectNode) StreamSupport.stream(inward.get("accounts").spliterator(), false)
                        .filter(a -> a.get("id").equals(account.get("id")))
                        .findFirst()
                        .orElseThrow();
        ArrayNode consents = moved.withArray("/consents");
        consents.addObject()
                .put(
                        "ring",
                        json.get("rings")
                                .get(random.nextInt(json.get("rings").size()))
                                .get("id")
                                .asText())
                .put("at", "2020-01-01T00:00:00Z");
        Map<String, Boolean> consented = released(inward, account.get("id").asText());
        before.forEach(
                (key, come) -> assertThat(!come || consented.get(key)).as(key).isTrue());
        for (int ring = json.get("rings").size() - 1; ring > 0; ring--) {
            var further =
                    released(inRing(json, account, ring - 1), account.get("id").asText());
            released(inRing(json, account, ring), account.get("id").asText())
                    .forEach((key, come) ->
                            assertThat(!come || further.get(key)).as(key).isTrue());
        }
    }

    private static JsonNode fallback(JsonNode setting) {
        if (setting.path("ordered").asBoolean()) return setting.get("options").get(0);
        if (!setting.has("strict")) return aValue(setting);
        if (setting.get("strict").isBoolean()) return setting.get("strict");
        return setting.get(setting.get("strict").asText().equals("lower") ? "min" : "max");
    }

    private static ObjectNode inRing(ObjectNode json, JsonNode account, int ring) {
        ObjectNode moved = json.deepCopy();
        ObjectNode policy = ((ArrayNode) moved.get("policies"))
                .insertObject(0)
                .put("id", "ring")
                .put("name", "Ring");
        policy.putArray("assignments")
                .addObject()
                .put("include", "account:" + account.get("id").asText());
        boolean hasSetting = StreamSupport.stream(json.at("/catalogue/settings").spliterator(), false)
                .anyMatch(s -> s.get("key").asText().equals(Setting.RING));
        if (hasSetting)
            policy.putArray("statements")
                    .addObject()
                    .put("setting", Setting.RING)
                    .put("set", json.get("rings").get(ring).get("id").asText());
        ((ArrayNode) moved.get("ranking")).insert(0, "ring");
        return moved;
    }

    /** For each setting, whether its release gate is open for the account, asked whether or not the value needs it. */
    private static Map<String, Boolean> released(ObjectNode json, String account) {
        CompiledEstate compiledEstate = ground(json);
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, NOW);
        Map<String, Boolean> come = new TreeMap<>();
        for (String key : compiledEstate.estate().catalogue().settings().keySet())
            come.put(
                    key,
                    compiledEstate
                            .estate()
                            .release(key)
                            .map(compiledEstate.estate()::trackOf)
                            .filter(track -> columnResolver
                                    .releases(track)
                                    .reachedBy(key)
                                    .contains(compiledEstate.directory().number(account)))
                            .isPresent());
        return come;
    }

    private static Map<String, List<List<String>>> seats(ObjectNode json) {
        CompiledEstate compiledEstate = ground(json);
        Map<String, List<List<String>>> seats = new TreeMap<>();
        for (Allocation a : compiledEstate.seats(NOW.at()).allocations())
            seats.put(a.plan().id(), List.of(a.seatedInOrder(), a.waiting(), a.released()));
        return seats;
    }

    @Property(tries = 100)
    void anUnrelatedEditMovesNobodysSeat(@ForAll long seed) {
        ObjectNode json = RandomEstate.json(seed);
        ObjectNode more = json.deepCopy();
        ((ArrayNode) more.get("accounts"))
                .insertObject(0)
                .put("id", "new")
                .put("userName", "new@skerrymore.example")
                .put("displayName", "New")
                .put("kind", "person")
                .put("unit", "u0")
                .put("active", false);
        ((ArrayNode) more.get("policies")).addObject().put("id", "new").put("name", "New");
        assertThat(seats(more)).isEqualTo(seats(json));
    }
}
