package leanladder.estate.read;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import com.fasterxml.jackson.core.JsonPointer;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Random;
import leanladder.RandomEstate;
import leanladder.estate.Estate;
import leanladder.estate.Nesting;
import leanladder.json.Defect;
import leanladder.json.Json;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class DefectsTest {
    private static final Path SMALL = Path.of("src/test/resources/small-estate.json");

    private static ObjectNode small() {
        try {
            return (ObjectNode) Json.MAPPER.readTree(SMALL.toFile());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<Defect> defects(byte[] file) {
        InvalidEstateException invalid = catchThrowableOfType(
                InvalidEstateException.class, () -> EstateReader.read(new ByteArrayInputStream(file)));
        InvalidEstateException stored = catchThrowableOfType(
                InvalidEstateException.class,
                () -> EstateReader.read(new ByteArrayInputStream(file), entityRecord -> {}));
        List<Defect> defects = invalid == null ? List.of() : invalid.defects();
        assertThat(stored == null ? List.of() : stored.defects())
                .as("the same defects where the parts of the file are stored")
                .isEqualTo(defects);
        return defects;
    }

    @Property(tries = 100)
    void anEstateIsTheSameHoweverItsListsCome(@ForAll long seed) throws Exception {
        ObjectNode json = RandomEstate.json(seed);
        byte[] file = Json.write(json).getBytes(StandardCharsets.UTF_8);
        Estate whole = EstateReader.read(new ByteArrayInputStream(file)).estate();
        Estate stored = EstateReader.read(new ByteArrayInputStream(file), entityRecord -> {})
                .estate();
        Random random = new Random(seed);
        Iterator<List<String>> accounts = pieces(json, "accounts", random);
        Iterator<List<String>> groups = pieces(json, "groups", random);
        Estate apart = EstateReader.read(
                        new ByteArrayInputStream(Json.write(json).getBytes(StandardCharsets.UTF_8)), accounts, groups)
                .estate();
        for (Estate other : List.of(stored, apart)) {
            assertThat(other.accounts()).isEqualTo(whole.accounts());
            assertThat(other.groups()).isEqualTo(whole.groups());
            assertThat(other.workspaces()).isEqualTo(whole.workspaces());
            assertThat(other.holders()).isEqualTo(whole.holders());
        }
    }

    /** Takes the elements of a list out of an estate, as texts, some at a time. */
    private static Iterator<List<String>> pieces(ObjectNode json, String list, Random random) {
        List<List<String>> pieces = new ArrayList<>();
        List<String> piece = new ArrayList<>();
        for (JsonNode element : json.path(list)) {
            piece.add(Json.write(element));
            if (random.nextInt(3) > 0) continue;
            pieces.add(piece);
            piece = new ArrayList<>();
        }
        if (!piece.isEmpty()) pieces.add(piece);
        json.set(list, Json.NODES.arrayNode());
        return pieces.iterator();
    }

    @Test
    void aDefectInAListThatComesByItselfIsFoundAtItsPlace() {
        ObjectNode json = small();
        put(json, "/accounts/1/kind", Json.read("\"ghost\""));
        put(json, "/groups/0/members/-", Json.read("\"account:nobody\""));
        List<Defect> wanted = defects(json);
        Random random = new Random(1);
        Iterator<List<String>> accounts = pieces(json, "accounts", random);
        Iterator<List<String>> groups = pieces(json, "groups", random);
        InvalidEstateException invalid = catchThrowableOfType(
                InvalidEstateException.class,
                () -> EstateReader.read(
                        new ByteArrayInputStream(Json.write(json).getBytes(StandardCharsets.UTF_8)), accounts, groups));
        assertThat(invalid.defects()).hasSize(2).containsExactlyInAnyOrderElementsOf(wanted);
    }

    private static List<Defect> defects(JsonNode json) {
        return defects(Json.write(json).getBytes(StandardCharsets.UTF_8));
    }

    /** Puts a value at a pointer: an object member, or a list item at its index or, with "-", at the end. */
    private static void put(ObjectNode root, String pointer, JsonNode value) {
        JsonPointer at = JsonPointer.compile(pointer);
        JsonNode parent = root.at(at.head());
        String last = at.last().getMatchingProperty();
        if (parent instanceof ObjectNode object) object.set(last, value);
        else if (last.equals("-")) ((ArrayNode) parent).add(value);
        else ((ArrayNode) parent).set(Integer.parseInt(last), value);
    }

    @Test
    void theSmallEstateIsValidAndWarnsOnceOfARung() throws Exception {
        assertThat(defects(small())).isEmpty();
        ObjectNode doubtful = small();
        put(doubtful, "/policies/1/statements/-", Json.read("{\"setting\":\"chat.private\",\"set\":true}"));
        put(doubtful, "/plans/0/rules/0/off/-", Json.read("\"chat\""));
        var warnings = EstateReader.read(
                        new ByteArrayInputStream(Json.write(doubtful).getBytes(StandardCharsets.UTF_8)))
                .warnings();
        assertThat(warnings)
                .extracting(Defect::pointer)
                .containsExactly("/policies/1/statements/1", "/plans/0/rules/0/off");
    }

    @ParameterizedTest(name = "{0} = {1} is refused at {2}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            /format | "other/1" | /format | must be "lean-ladder-estate/1"
            /units/2/parent | "u9" | /units/2/parent | does not exist
            /units/- | {"id":"u9","name":"Second"} | /units/3 | second root
            /units/0/parent | "u3" | /units | no root
            /units/1/parent | "u3" | /units/1/parent | cycle of units: u2 → u3 → u2
            /units/2/id | "u2" | /units/2/id | repeats the id
            /accounts/1/unit | "u9" | /accounts/1/unit | does not exist
            /accounts/1/id | "a1" | /accounts/1/id | repeats the id
            /accounts/1/kind | "robot" | /accounts/1/kind | must be one of
            /accounts/0/started | "2024-02-30" | /accounts/0/started | must be a day
            /accounts/0/consents/0/ring | "gone" | /accounts/0/consents/0/ring | does not exist
            /accounts/0/consents/- | {"at":"2026-11-12T09:00:00Z"} | /accounts/0/consents/1 | either a ring or a release
            /accounts/0/consents/0/release | "meet.captions" | /accounts/0/consents/0 | either a ring or a release
            /accounts/0/consents/- | {"release":"chat.private","at":"2026-11-12T09:00:00Z"} | /accounts/0/consents/1/release | does not exist
            /accounts/0/consents/0/until | "2026-11-12T09:00:00Z" | /accounts/0/consents/0/until | must come after
            /accounts/0/consents/0/at | "2026-12-31T23:59:60Z" | /accounts/0/consents/0/at | no leap second
            /accounts/0/consents/0/at | "2026-12-31T23:59:59.1234567890Z" | /accounts/0/consents/0/at | nine digits
            /accounts/0/active | "yes" | /accounts/0/active | true or false
            /accounts/0/userName | "" | /accounts/0/userName | must not be empty
            /groups/1/id | "g1" | /groups/1/id | repeats the id
            /groups/0/members/- | "account:a9" | /groups/0/members/1 | does not exist
            /groups/0/members/- | "group:g9" | /groups/0/members/1 | does not exist
            /groups/0/members/- | "unit:u1" | /groups/0/members/1 | account:ID or group:ID
            /groups/0/members/- | "group:g2" | /groups/0/members | cycle of groups: g1 → g2 → g1
            /groups/0/owners/0 | "a9" | /groups/0/owners/0 | does not exist
            /groups/0/purpose | "secret" | /groups/0/purpose | must be one of
            /workspaces/0/size | "XL" | /workspaces/0/size | size "XL"
            /workspaces/0/stewards/0 | "a9" | /workspaces/0/stewards/0 | does not exist
            /workspaces/0/members/1 | "account:a9" | /workspaces/0/members/1 | does not exist
            /catalogue/sizes/1 | "S" | /catalogue/sizes/1 | repeats the size
            /catalogue/apps/1/id | "chat" | /catalogue/apps/1/id | repeats the id
            /catalogue/entitlements/1/id | "chat" | /catalogue/entitlements/1/id | repeats the id
            /catalogue/settings/0/app | "mail" | /catalogue/settings/0/app | does not list
            /catalogue/settings/1/key | "chat.private" | /catalogue/settings/1/key | repeats the key
            /catalogue/settings/1/key | "Files Share" | /catalogue/settings/1/key | must be a key
            /catalogue/settings/0/default | "yes" | /catalogue/settings/0/default | must be true or false
            /catalogue/settings/0/strict | "lower" | /catalogue/settings/0/strict | must be true or false
            /catalogue/settings/0/ordered | true | /catalogue/settings/0/ordered | fits only a choice
            /catalogue/settings/1/strict | true | /catalogue/settings/1/strict | fits only a switch or a number
            /catalogue/settings/2/strict | true | /catalogue/settings/2/strict | must be one of
            /catalogue/settings/1/options | [] | /catalogue/settings/1/options | must list its "options"
            /catalogue/settings/1/options/1 | "own" | /catalogue/settings/1/options/1 | repeats the option
            /catalogue/settings/1/default | "nobody" | /catalogue/settings/1/default | must be one of
            /catalogue/settings/2/min | 91 | /catalogue/settings/2/min | must not lie above
            /catalogue/settings/2/default | 91 | /catalogue/settings/2/default | between 0 and 90
            /catalogue/settings/2/default | 3.0 | /catalogue/settings/2/default | without fraction
            /catalogue/settings/2/default | 3e1 | /catalogue/settings/2/default | without fraction
            /catalogue/settings/3/default | "help.example" | /catalogue/settings/3/default | must be a link
            /catalogue/settings/3/default | "https:///nowhere" | /catalogue/settings/3/default | must be a link
            /catalogue/settings/3/default | "https://a.example/with space" | /catalogue/settings/3/default | must be a link
            /catalogue/settings/4/default | ["a",""] | /catalogue/settings/4/default | none of them empty
            /catalogue/settings/0/merge | "gather" | /catalogue/settings/0/merge | can only gather lists
            /catalogue/settings/4/merge | "strictest" | /catalogue/settings/4/merge | ordered
            /catalogue/settings/5/merge | "loosest" | /catalogue/settings/5/merge | ordered
            /catalogue/settings/0/fallback | true | /catalogue/settings/0/fallback | strict end
            /catalogue/settings/5/needs | [{"kind":["person"]}] | /catalogue/settings/5/needs | fallback
            /catalogue/settings/5/default/follow | "gone" | /catalogue/settings/5/default/follow | does not list
            /catalogue/settings/5/default/follow | "files.keep" | /catalogue/settings/5/default/follow | cannot
            /catalogue/settings/7/default | {"follow":"files.share"} | /catalogue/settings/7/default/follow | cannot
            /catalogue/settings/0/needs/0/entitlement/0 | "gone" | /catalogue/settings/0/needs/0/entitlement/0 | does not list
            /catalogue/settings/0/needs/1/anyOf/0 | {"anyOf":[{"kind":["person"]}]} | /catalogue/settings/0/needs/1/anyOf/0/anyOf | inside another anyOf
            /catalogue/settings/0/needs/1/anyOf/1/hosting | "XL" | /catalogue/settings/0/needs/1/anyOf/1/hosting | size "XL"
            /catalogue/settings/0/needs/0 | {"entitlement":["chat"],"kind":["person"]} | /catalogue/settings/0/needs/0 | exactly one need
            /catalogue/settings/0/needs/0 | {"kind":["person"],"note":1} | /catalogue/settings/0/needs/0/note | does not belong
            /catalogue/settings/0/needs/0 | {"kind":[]} | /catalogue/settings/0/needs/0/kind | must not be empty
            /catalogue/settings/0/needs/0 | {"release":false} | /catalogue/settings/0/needs/0/release | must be true
            /catalogue/settings/9/needs/1/asLooseAs | "nobody" | /catalogue/settings/9/needs/1/asLooseAs | must be one of
            /catalogue/settings/9/needs/1/setting | "gone" | /catalogue/settings/9/needs/1/setting | does not list
            /catalogue/settings/9/needs/2 | {"setting":"mail.note","asLooseAs":""} | /catalogue/settings/9/needs/2/asLooseAs | not ordered
            /catalogue/settings/9/needs/2/is | 7 | /catalogue/settings/9/needs/2/is | must be a text
            /catalogue/settings/0/default | {"follow":"chat.sidebar"} | /catalogue/settings/0 | cycle of settings
            /catalogue/settings/7/ordered | true | /catalogue/settings/7/ordered | must not be ordered
            /catalogue/settings/7/options | ["everyone","dry-dock"] | /catalogue/settings/7/options | from the inside out
            /catalogue/settings/0/rungs/0 | "roof" | /catalogue/settings/0/rungs/0 | must be one of
            /catalogue/families/0/states/0/values/files.share | "nobody" | /catalogue/families/0/states/0/values/files.share | must be one of
            /policies/0/statements/1/setting | "gone" | /policies/0/statements/1/setting | does not list
            /policies/0/statements/0/set | 4 | /policies/0/statements/0/set | true or false
            /policies/0/statements/1/cap | "nobody" | /policies/0/statements/1/cap | must be one of
            /policies/0/statements/1/lock | true | /policies/0/statements/1/lock | fits only a set
            /policies/0/statements/0/cap | true | /policies/0/statements/0 | either "set" or "cap"
            /policies/0/statements/- | {"setting":"chat.private","set":true} | /policies/0/statements/2 | second set
            /policies/0/statements/- | {"setting":"files.share","cap":"own"} | /policies/0/statements/2 | second cap
            /policies/0/statements/- | {"setting":"mail.note","cap":""} | /policies/0/statements/2/cap | not ordered
            /policies/0/state | "asleep" | /policies/0/state | must be one of
            /policies/0/assignments/0/include | "group:g3" | /policies/0/assignments/0/include | mailing group
            /policies/0/assignments/0/include | "unit:u9" | /policies/0/assignments/0/include | does not exist
            /policies/0/assignments/0/include | "workspace:w9" | /policies/0/assignments/0/include | does not exist
            /policies/0/assignments/0/include | "everyone" | /policies/0/assignments/0/include | must be organisation
            /policies/0/assignments/1/except | "organisation" | /policies/0/assignments/1/except | whole organisation
            /policies/0/assignments/1/except | "unit:u1" | /policies/0/assignments/1/except | whole organisation
            /policies/0/assignments/1/except | "workspace:w1" | /policies/0/assignments/1/except | must not except a workspace
            /policies/0/assignments/1/include | "unit:u2" | /policies/0/assignments/1 | either "include" or "except"
            /policies/0/assignments/2/until | "2026-11-01T00:00:00Z" | /policies/0/assignments/2/until | must come after
            /policies/1/id | "p1" | /policies/1/id | repeats the id
            /ranking/1 | "p1" | /ranking/1 | repeats the policy
            /ranking/- | "p9" | /ranking/2 | does not exist
            /plans/0/seats | -1 | /plans/0/seats | below 0
            /plans/0/ends | "2026-01-01T00:00:00Z" | /plans/0/ends | must come after
            /plans/0/components/0 | "gone" | /plans/0/components/0 | does not list
            /plans/0/rules/0/off/0 | "gone" | /plans/0/rules/0/off/0 | not a component
            /plans/0/rules/1/off | ["chat"] | /plans/0/rules/1/off | fits only an include
            /plans/0/rules/0/include | "workspace:w1" | /plans/0/rules/0/include | must not be a workspace
            /plans/0/rules/0/include | "group:g3" | /plans/0/rules/0/include | mailing group
            /plans/0/rules/1/except | "organisation" | /plans/0/rules/1/except | whole organisation
            /plans/0/kinds | [] | /plans/0/kinds | must not be empty
            /plans/0/holders/- | {"account":"a1","granted":"2026-02-01T08:00:00Z"} | /plans/0/holders/1/account | a second time
            /plans/0/holders/0/account | "a9" | /plans/0/holders/0/account | does not exist
            /plans/- | {"id":"l1","name":"Again","seats":1,"components":[]} | /plans/1/id | repeats the id
            /rings/1/asksConsent | true | /rings/1/asksConsent | outermost ring
            /rings/1/id | "dry-dock" | /rings/1/id | repeats the id
            /releases/0/opens/gone | "2026-11-01T00:00:00Z" | /releases/0/opens/gone | does not exist
            /releases/0/setting | "gone" | /releases/0/setting | does not list
            /releases/0/early/0/to | "organisation" | /releases/0/early/0/to | unit, an access group or an account
            /releases/0/early/0/to | "workspace:w1" | /releases/0/early/0/to | unit, an access group or an account
            /releases/0/early/0/to | "group:g3" | /releases/0/early/0/to | mailing group
            /releases/- | {"setting":"meet.captions","opens":{}} | /releases/1/setting | repeats the setting
            /rings | [] | /catalogue/settings/9/needs/0 | no preview rings
            /hostings | [{"id":"h1"}] | /hostings/0 | "name"
            /hostings | [{"id":"h1","name":"Harbour","region":"eu"},{"id":"h1","name":"Again","region":"eu"}] | /hostings/1/id | repeats the id
            /workspaces/0/hosting | "h9" | /workspaces/0/hosting | does not exist
            /groups/0/rule | "kind eq" | /groups/0/rule | at character 7
            /groups/- | {"id":"g4","name":"By rule","purpose":"access","rule":"kind eq"} | /groups/3/rule | at character 7
            /groups/- | {"id":"g4","name":"By rule","purpose":"access","rule":"memberOf eq \\"g9\\""} | /groups/3/rule | g9
            /groups/- | {"id":"g4","name":"By rule","purpose":"access","rule":"unit eq \\"u9\\""} | /groups/3/rule | u9
            /groups/- | {"id":"g4","name":"By rule","purpose":"access","rule":"memberOf eq \\"g4\\""} | /groups/3 | cycle of groups through members and rules: g4
            /accounts/0/devices | [{"id":"d1","kind":"phone","apps":{"chat":"five"}}] | /accounts/0/devices/0/apps/chat | five
            /accounts/0/devices | [{"id":"d1","kind":"phone","apps":{"mail":"5"}}] | /accounts/0/devices/0/apps/mail | does not
            /rings/0/terms | {"version":1,"from":2,"text":"Read me"} | /rings/0/terms/from | must not lie above
            /rings/0/terms | {"version":0,"text":"Read me"} | /rings/0/terms/version | 1
            /tracks | [{"id":"t1","name":"Builders","setting":"gone","rings":[]}] | /tracks/0/setting | gone
            /releases/0/track | "t9" | /releases/0/track | does not exist
            /policies/0/assignments/0/in | "workspace:w9" | /policies/0/assignments/0/in | does not exist
            /policies/0/assignments/0/in | "unit:u1" | /policies/0/assignments/0/in | workspace
            /policies/0/assignments/1/in | "workspace:w1" | /policies/0/assignments/1/in | include
            /policies/1/statements/- | {"setting":"mail.deputies","set":["account:a9"]} | /policies/1/statements/1/set/0 | does not exist
            /policies/1/statements/- | {"setting":"mail.deputies","set":["workspace:w1"]} | /policies/1/statements/1/set | must be a list of organisation
            """)
    void everyListedDefectIsRefusedAtItsPlace(String at, String value, String pointer, String message) {
        ObjectNode estate = small();
        put(estate, at, Json.read(value));
        assertThat(defects(estate)).anySatisfy(d -> {
            assertThat(d.pointer()).isEqualTo(pointer);
            assertThat(d.message()).contains(message);
        });
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/organisation",
                "/units",
                "/accounts",
                "/catalogue",
                "/units/0/name",
                "/accounts/0/kind",
                "/groups/0/purpose",
                "/workspaces/0/size",
                "/catalogue/settings",
                "/catalogue/settings/0/type",
                "/catalogue/settings/2/min",
                "/policies/0/name",
                "/policies/0/statements/0/setting",
                "/plans/0/seats",
                "/plans/0/components",
                "/rings/0/name",
                "/releases/0/opens",
                "/accounts/0/consents/0/at"
            })
    void aMissingMemberIsNamedAtTheObjectThatLacksIt(String missing) {
        ObjectNode estate = small();
        JsonPointer at = JsonPointer.compile(missing);
        ((ObjectNode) estate.at(at.head())).remove(at.last().getMatchingProperty());
        assertThat(defects(estate)).anySatisfy(d -> {
            assertThat(d.pointer()).isEqualTo(at.head().toString());
            assertThat(d.message()).contains("\"" + at.last().getMatchingProperty() + "\"");
        });
    }

    @Test
    void aMemberNamedTwiceIsRefusedWhereverItStands() throws IOException {
        String text = Files.readString(SMALL);
        byte[] file = text.replace(
                        "\"kind\": \"person\", \"unit\": \"u2\"",
                        "\"kind\": \"person\", \"unit\": \"u2\", \"unit\": \"u2\"")
                .replace("\"ranking\": [", "\"ranking\": [], \"ranking\": [")
                .getBytes(StandardCharsets.UTF_8);
        assertThat(defects(file)).extracting(Defect::pointer).contains("/accounts/1/unit", "/ranking");
    }

    @Test
    void allDefectsAreReportedTogether() {
        ObjectNode estate = small();
        put(estate, "/accounts/1/unit", Json.read("\"u9\""));
        put(estate, "/policies/0/statements/0/set", Json.read("3"));
        put(estate, "/plans/0/seats", Json.read("\"many\""));
        assertThat(defects(estate))
                .extracting(Defect::pointer)
                .contains("/accounts/1/unit", "/policies/0/statements/0/set", "/plans/0/seats");
    }

    @Test
    void brokenEncodingsAndDocumentsEndInOneSentence() throws IOException {
        byte[] good = Files.readAllBytes(SMALL);
        String text = new String(good, StandardCharsets.UTF_8);
        byte[] latin = text.replace("Mirela Osk", "Mirel\u00e9").getBytes(StandardCharsets.ISO_8859_1);
        assertThat(defects(latin).get(0).message()).contains("not UTF-8");
        assertThat(defects(text.getBytes(StandardCharsets.UTF_16LE))).isNotEmpty();
        assertThat(defects(("\uFEFF" + text).getBytes(StandardCharsets.UTF_8))).isNotEmpty();
        assertThat(defects(new byte[0]).get(0).message()).contains("empty");
        assertThat(defects("[]".getBytes(StandardCharsets.UTF_8)).get(0).message())
                .contains("one JSON object");
        assertThat(defects((text + "{}").getBytes(StandardCharsets.UTF_8))
                        .get(0)
                        .message())
                .contains("goes on");
        assertThat(defects((text + "x").getBytes(StandardCharsets.UTF_8))).isNotEmpty();
        String deep =
                text.replace("\"ranking\": [\"p1\", \"p2\"]", "\"deep\": " + "[".repeat(100_000) + "]".repeat(100_000));
        assertThat(defects(deep.getBytes(StandardCharsets.UTF_8)).get(0).message())
                .contains("deep inside one another");
        byte[] lonely = text.replace("Mirela Osk", "Mirela \\ud83d").getBytes(StandardCharsets.UTF_8);
        assertThat(defects(lonely).get(0)).satisfies(d -> {
            assertThat(d.pointer()).isEqualTo("/accounts/0/displayName");
            assertThat(d.message()).contains("surrogate");
        });
    }

    @Test
    void aFileCutAnywhereIsRefused() throws IOException {
        byte[] good = Json.write(small()).getBytes(StandardCharsets.UTF_8);
        for (int length = 0; length < good.length; length += 37)
            assertThat(defects(java.util.Arrays.copyOf(good, length)))
                    .as("cut at %d", length)
                    .isNotEmpty();
    }

    @Property(tries = 300)
    void randomEstatesAreValidByReaderAndSchema(@ForAll long seed) {
        ObjectNode estate = RandomEstate.json(seed);
        assertThat(defects(estate)).isEmpty();
        assertThat(schemaRefuses(estate)).isFalse();
    }

    /** Whatever the schema refuses, the reader refuses too: nodes of a valid file are replaced by others at random. */
    @Property(tries = 800)
    void whatTheSchemaRefusesIsRefused(@ForAll long seed) {
        Random random = new Random(seed);
        ObjectNode estate = seed % 3 == 0 ? small() : RandomEstate.json(seed);
        JsonNode parent = estate;
        while (true) {
            int size = parent.size();
            if (size == 0) return;
            int chosen = random.nextInt(size);
            String name = parent.isObject() ? nth(parent, chosen) : String.valueOf(chosen);
            JsonNode child = parent.isObject() ? parent.get(name) : parent.get(chosen);
            if (!child.isContainerNode() || child.isEmpty() || random.nextInt(5) == 0) {
                JsonNode other = Json.read(
                        List.of("null", "7", "-1", "2.5", "\"\"", "\"x\"", "true", "[]", "{}", "[1]", "\"2026-11-23\"")
                                .get(random.nextInt(11)));
                if (parent instanceof ObjectNode object) {
                    if (random.nextInt(4) == 0) object.remove(name);
                    else object.set(name, other);
                } else ((ArrayNode) parent).set(chosen, other);
                break;
            }
            parent = child;
        }
        if (schemaRefuses(estate))
            assertThat(defects(estate)).as(estate.toString()).isNotEmpty();
    }

    private static ObjectNode chain(int units, int groups) {
        ObjectNode estate = small();
        String root = estate.at("/units/0/id").asText();
        for (int i = 1; i < units; i++)
            estate.withArray("units")
                    .addObject()
                    .put("id", "deep" + i)
                    .put("name", "Deep")
                    .put("parent", i == 1 ? root : "deep" + (i - 1));
        for (int i = 0; i < groups; i++) {
            ArrayNode members = estate.withArray("groups")
                    .addObject()
                    .put("id", "nested" + i)
                    .put("name", "Nested")
                    .put("purpose", "access")
                    .putArray("members");
            if (i > 0) members.add("group:nested" + (i - 1));
        }
        return estate;
    }

    @Test
    void unitsAndGroupsOfMoreThanAHundredLevelsAreDefects() {
        assertThat(defects(chain(100, 100))).isEmpty();
        assertThat(defects(chain(101, 0))).singleElement().satisfies(d -> {
            assertThat(d.pointer()).endsWith("/parent");
            assertThat(d.message()).contains("more than 100 levels deep");
        });
        assertThat(defects(chain(0, 101))).singleElement().satisfies(d -> {
            assertThat(d.pointer()).endsWith("/members");
            assertThat(d.message()).contains("more than 100 levels deep");
        });
    }

    @Test
    void aLongChainOfGroupsIsReportedOnceAndSoon() {
        assertThat(defects(chain(0, 20_000))).hasSize(1);
    }

    @Test
    void whatIsTooDeepAndStoredAlreadyIsReadAndSaysWhatToDo() throws Exception {
        byte[] file = Json.write(chain(150, 0)).getBytes(StandardCharsets.UTF_8);
        Estate estate = EstateReader.readStored(new ByteArrayInputStream(file)).estate();
        assertThat(Nesting.excess(estate))
                .hasValueSatisfying(
                        why -> assertThat(why).contains("150 levels deep").contains("Export the estate"));
        assertThat(Nesting.excess(EstateReader.read(
                                new ByteArrayInputStream(Json.write(small()).getBytes(StandardCharsets.UTF_8)))
                        .estate()))
                .isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "javascript:alert(1)",
                "https://help.skerry.example/a\r\nBEGIN:VEVENT",
                "ftp://help.skerry.example/a",
                "https:///nowhere"
            })
    void aGuideOfAFileIsALinkAsThatOfAnEditIs(String guide) {
        ObjectNode estate = small();
        ((ObjectNode) estate.at("/releases/0")).put("guide", guide);
        assertThat(defects(estate)).anySatisfy(d -> {
            assertThat(d.pointer()).isEqualTo("/releases/0/guide");
            assertThat(d.message()).contains("must be a link");
        });
    }

    @Test
    void whatAFileHoldsOutsideOfItsListsIsBounded() {
        ObjectNode estate = small();
        ArrayNode many = estate.putArray("x");
        for (int i = 0; i < 20_000; i++) many.addArray();
        byte[] file = Json.write(estate).getBytes(StandardCharsets.UTF_8);
        assertThat(defects(file)).isEmpty();
        InvalidEstateException refused = catchThrowableOfType(
                InvalidEstateException.class, () -> EstateReader.read(new ByteArrayInputStream(file), 10_000));
        assertThat(refused.defects())
                .anySatisfy(d ->
                        assertThat(d.message()).contains("holds too much at /x").contains("10,000 values"));
    }

    private static String nth(JsonNode object, int n) {
        var names = object.fieldNames();
        for (int i = 0; i < n; i++) names.next();
        return names.next();
    }

    private static final Schema SCHEMA = schema();

    private static Schema schema() {
        try {
            return SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                    .getSchema(Files.readString(Path.of("src/test/resources/estate.schema.json")), InputFormat.JSON);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static boolean schemaRefuses(JsonNode estate) {
        return !SCHEMA.validate(
                        Json.write(estate),
                        InputFormat.JSON,
                        c -> c.executionConfig(e -> e.formatAssertionsEnabled(true)))
                .isEmpty();
    }
}
