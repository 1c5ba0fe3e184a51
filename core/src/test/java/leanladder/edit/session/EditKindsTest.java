package leanladder.edit.session;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import leanladder.RandomEstate;
import leanladder.conflict.ConflictIndex;
import leanladder.edit.EditKind;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.text.EditFormatter;
import leanladder.text.EstateFormatter;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityStore;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What holds of every kind of edit there is; a new kind wants a row here. */
class EditKindsTest {
    /**
     * The table of conflicts.
     *
     * @param edit fits the small estate
     * @param meets an edit of somebody else that it gets into the way of
     * @param passes one that it does not
     */
    private record Row(String edit, String meets, String passes) {
        Row {
            edit = edit.replace('\'', '"');
            meets = meets.replace('\'', '"');
            passes = passes.replace('\'', '"');
        }
    }

    private static final String RENAME = "{'kind':'amend-policy','policy':'p1','members':{'name':'Other'}}";
    private static final String SAY =
            "{'kind':'put-statement','policy':'p1','statement':{'setting':'chat.private','set':true}}";
    private static final String AIM = "{'kind':'put-assignment','policy':'p1','assignment':{'include':'account:a1'}}";
    private static final String MOVE = "{'kind':'amend-account','account':'a1','members':{'unit':'u2'}}";
    private static final String JOIN = "{'kind':'put-members','group':'g1','who':['account:a2']}";
    private static final String OPEN =
            "{'kind':'open-release','release':'meet.captions','ring':'everyone','from':'2026-12-01T00:00:00Z'}";
    private static final String BUY = "{'kind':'buy-seats','plan':'l1','purchase':{'seats':5}}";
    private static final String RULE = "{'kind':'put-rule','plan':'l1','rule':{'include':'unit:u1'}}";
    private static final Map<String, Row> TABLE = Map.ofEntries(
            Map.entry(
                    "add-policy",
                    new Row(
                            "{'kind':'add-policy','policy':{'id':'p9','name':'Nine','statements':[{'setting':'chat.private','set':true}]}}",
                            "{'kind':'add-policy','policy':{'id':'p9','name':'Another'}}",
                            RENAME)),
            Map.entry("remove-policy", new Row("{'kind':'remove-policy','policy':'p1'}", SAY, MOVE)),
            Map.entry(
                    "amend-policy",
                    new Row(RENAME, "{'kind':'amend-policy','policy':'p1','members':{'name':'Third'}}", SAY)),
            Map.entry(
                    "put-statement",
                    new Row(
                            SAY,
                            "{'kind':'remove-statement','policy':'p1','setting':'chat.private','says':'set'}",
                            "{'kind':'remove-statement','policy':'p1','setting':'chat.private','says':'cap'}")),
            Map.entry(
                    "remove-statement",
                    new Row(
                            "{'kind':'remove-statement','policy':'p1','setting':'chat.private','says':'set'}",
                            SAY,
                            AIM)),
            Map.entry(
                    "put-assignment",
                    new Row(
                            AIM,
                            "{'kind':'put-assignment','policy':'p1','assignment':{'include':'account:a1','until':'2030-01-01T00:00:00Z'}}",
                            AIM)),
            Map.entry(
                    "remove-assignment",
                    new Row(
                            "{'kind':'remove-assignment','policy':'p1','assignment':{'include':'unit:u2'}}",
                            "{'kind':'remove-assignment','policy':'p1','assignment':{'include':'unit:u2'}}",
                            AIM)),
            Map.entry("clear-assignments", new Row("{'kind':'clear-assignments','policy':'p1'}", AIM, SAY)),
            Map.entry(
                    "rank-policy",
                    new Row(
                            "{'kind':'rank-policy','policy':'p1','above':null}",
                            "{'kind':'remove-policy','policy':'p1'}",
                            RENAME)),
            Map.entry(
                    "add-unit",
                    new Row(
                            "{'kind':'add-unit','unit':{'id':'u9','name':'New','parent':'u1'}}",
                            "{'kind':'amend-unit','unit':'u9','members':{'name':'Other'}}",
                            MOVE)),
            Map.entry(
                    "amend-unit",
                    new Row(
                            "{'kind':'amend-unit','unit':'u2','members':{'name':'Other'}}",
                            "{'kind':'remove-unit','unit':'u2'}",
                            "{'kind':'amend-unit','unit':'u2','members':{'parent':'u1'}}")),
            Map.entry(
                    "remove-unit",
                    new Row(
                            "{'kind':'remove-unit','unit':'u8'}",
                            "{'kind':'amend-unit','unit':'u8','members':{'name':'Other'}}",
                            MOVE)),
            Map.entry(
                    "add-account",
                    new Row(
                            "{'kind':'add-account','account':{'id':'a9','userName':'a9@small.example','displayName':'Nine','kind':'person','unit':'u2'}}",
                            "{'kind':'remove-account','account':'a9'}",
                            MOVE)),
            Map.entry(
                    "amend-account",
                    new Row(MOVE, MOVE, "{'kind':'amend-account','account':'a1','members':{'active':false}}")),
            Map.entry(
                    "remove-account",
                    new Row(
                            "{'kind':'remove-account','account':'a8'}",
                            "{'kind':'amend-account','account':'a8','members':{'unit':'u2'}}",
                            MOVE)),
            Map.entry(
                    "add-group",
                    new Row(
                            "{'kind':'add-group','group':{'id':'g9','name':'Nine','purpose':'access'}}",
                            "{'kind':'put-members','group':'g9','who':['account:a1']}",
                            JOIN)),
            Map.entry(
                    "amend-group",
                    new Row(
                            "{'kind':'amend-group','group':'g1','members':{'name':'Other'}}",
                            "{'kind':'remove-group','group':'g1'}",
                            JOIN)),
            Map.entry(
                    "remove-group",
                    new Row(
                            "{'kind':'remove-group','group':'g8'}",
                            "{'kind':'put-members','group':'g8','who':['account:a1']}",
                            JOIN)),
            Map.entry(
                    "put-members", new Row(JOIN, "{'kind':'remove-members','group':'g1','who':['account:a2']}", JOIN)),
            Map.entry(
                    "remove-members",
                    new Row(
                            "{'kind':'remove-members','group':'g8','who':['account:a1']}",
                            "{'kind':'put-members','group':'g8','who':['account:a1']}",
                            JOIN)),
            Map.entry(
                    "add-workspace",
                    new Row(
                            "{'kind':'add-workspace','workspace':{'id':'w9','name':'Nine','size':'M'}}",
                            "{'kind':'amend-workspace','workspace':'w9','members':{'trial':true}}",
                            MOVE)),
            Map.entry(
                    "amend-workspace",
                    new Row(
                            "{'kind':'amend-workspace','workspace':'w1','members':{'trial':true}}",
                            "{'kind':'remove-workspace','workspace':'w1'}",
                            "{'kind':'amend-workspace','workspace':'w1','members':{'size':'M'}}")),
            Map.entry(
                    "remove-workspace",
                    new Row(
                            "{'kind':'remove-workspace','workspace':'w8'}",
                            "{'kind':'amend-workspace','workspace':'w8','members':{'size':'M'}}",
                            MOVE)),
            Map.entry(
                    "add-hosting",
                    new Row(
                            "{'kind':'add-hosting','hosting':{'id':'h9','name':'Nine','size':'M'}}",
                            "{'kind':'amend-hosting','hosting':'h9','members':{'trial':true}}",
                            MOVE)),
            Map.entry(
                    "amend-hosting",
                    new Row(
                            "{'kind':'amend-hosting','hosting':'h8','members':{'state':'paused'}}",
                            "{'kind':'remove-hosting','hosting':'h8'}",
                            "{'kind':'amend-hosting','hosting':'h8','members':{'size':'M'}}")),
            Map.entry(
                    "remove-hosting",
                    new Row(
                            "{'kind':'remove-hosting','hosting':'h8'}",
                            "{'kind':'amend-hosting','hosting':'h8','members':{'size':'M'}}",
                            MOVE)),
            Map.entry(
                    "arrange-tracks",
                    new Row(
                            "{'kind':'arrange-tracks','tracks':[{'id':'t8','name':'Builders','setting':'preview.builders','rings':[{'name':'New'},{'id':'b8','name':'All'}]}]}",
                            "{'kind':'arrange-tracks','tracks':[]}",
                            OPEN)),
            Map.entry(
                    "add-setting",
                    new Row(
                            "{'kind':'add-setting','setting':{'key':'new.one','title':'New one','type':'switch','default':true}}",
                            "{'kind':'add-setting','setting':{'key':'new.one','title':'Another','type':'switch','default':false}}",
                            RENAME)),
            Map.entry(
                    "remove-setting",
                    new Row(
                            "{'kind':'remove-setting','setting':'files.help'}",
                            "{'kind':'amend-setting','setting':'files.help','members':{'help':'Other'}}",
                            MOVE)),
            Map.entry(
                    "amend-catalogue",
                    new Row(
                            "{'kind':'amend-catalogue','members':{'sizes':['S','M','L','XL']}}",
                            "{'kind':'amend-catalogue','members':{'sizes':null}}",
                            "{'kind':'amend-catalogue','members':{'other':1}}")),
            Map.entry(
                    "amend-setting",
                    new Row(
                            "{'kind':'amend-setting','setting':'files.share','members':{'openToWorkspaces':true}}",
                            "{'kind':'amend-setting','setting':'files.share','members':{'openToWorkspaces':false}}",
                            MOVE)),
            Map.entry(
                    "add-plan",
                    new Row(
                            "{'kind':'add-plan','plan':{'id':'l9','name':'Nine','seats':3,'components':['chat']}}",
                            "{'kind':'remove-plan','plan':'l9'}",
                            BUY)),
            Map.entry(
                    "amend-plan",
                    new Row(
                            "{'kind':'amend-plan','plan':'l1','members':{'name':'Other','ends':'2030-01-01T00:00:00Z'}}",
                            "{'kind':'amend-plan','plan':'l1','members':{'name':'Third'}}",
                            BUY)),
            Map.entry("remove-plan", new Row("{'kind':'remove-plan','plan':'l1'}", BUY, MOVE)),
            Map.entry(
                    "buy-seats",
                    new Row(BUY, "{'kind':'return-seats','plan':'l1','seats':1,'from':'2026-12-01T00:00:00Z'}", RULE)),
            Map.entry(
                    "return-seats",
                    new Row("{'kind':'return-seats','plan':'l1','seats':1,'from':'2026-12-01T00:00:00Z'}", BUY, RULE)),
            Map.entry("put-rule", new Row(RULE, "{'kind':'take-seats','plan':'l1','accounts':['a1']}", BUY)),
            Map.entry(
                    "remove-rule",
                    new Row("{'kind':'remove-rule','plan':'l1','rule':{'include':'unit:u3'}}", RULE, BUY)),
            Map.entry(
                    "rank-rule",
                    new Row(
                            "{'kind':'rank-rule','plan':'l1','rule':{'include':'unit:u2','off':['video']},'above':null}",
                            RULE,
                            BUY)),
            Map.entry(
                    "give-seats",
                    new Row(
                            "{'kind':'give-seats','plan':'l1','accounts':['a1','a8']}",
                            "{'kind':'take-seats','plan':'l1','accounts':['a8']}",
                            "{'kind':'take-seats','plan':'l1','accounts':['a2']}")),
            Map.entry(
                    "take-seats",
                    new Row(
                            "{'kind':'take-seats','plan':'l1','accounts':['a1']}",
                            "{'kind':'take-seats','plan':'l1','accounts':['a1']}",
                            "{'kind':'give-seats','plan':'l1','accounts':['a2']}")),
            Map.entry(
                    "add-release",
                    new Row(
                            "{'kind':'add-release','release':{'setting':'files.share','opens':{}}}",
                            "{'kind':'remove-release','release':'files.share'}",
                            OPEN)),
            Map.entry(
                    "amend-release",
                    new Row(
                            "{'kind':'amend-release','release':'meet.captions','members':{'note':'For watch keepers'}}",
                            "{'kind':'remove-release','release':'meet.captions'}",
                            OPEN)),
            Map.entry("remove-release", new Row("{'kind':'remove-release','release':'meet.captions'}", OPEN, BUY)),
            Map.entry(
                    "open-release",
                    new Row(
                            OPEN,
                            "{'kind':'open-release','release':'meet.captions','ring':'everyone','from':'2027-01-01T00:00:00Z'}",
                            "{'kind':'open-release','release':'meet.captions','ring':'dry-dock','from':null}")),
            Map.entry(
                    "open-early",
                    new Row(
                            "{'kind':'open-early','release':'meet.captions','to':'unit:u2','from':'2026-12-01T00:00:00Z'}",
                            "{'kind':'open-early','release':'meet.captions','to':'unit:u2','from':null}",
                            OPEN)),
            Map.entry(
                    "pause-release",
                    new Row(
                            "{'kind':'pause-release','release':'meet.captions','reason':'It crashes','since':'2026-10-01T00:00:00Z'}",
                            OPEN,
                            BUY)),
            Map.entry(
                    "resume-release",
                    new Row(
                            "{'kind':'resume-release','release':'chat.private'}",
                            "{'kind':'open-release','release':'chat.private','ring':'everyone','from':'2027-01-01T00:00:00Z'}",
                            OPEN)),
            Map.entry(
                    "give-consent",
                    new Row(
                            "{'kind':'give-consent','account':'a8','ring':'dry-dock','at':'2026-11-20T00:00:00Z'}",
                            "{'kind':'withdraw-consent','account':'a8','ring':'dry-dock','at':'2026-11-21T00:00:00Z'}",
                            OPEN)),
            Map.entry(
                    "withdraw-consent",
                    new Row(
                            "{'kind':'withdraw-consent','account':'a1','ring':'dry-dock','at':'2026-11-21T00:00:00Z'}",
                            "{'kind':'give-consent','account':'a1','release':'meet.captions','at':'2026-11-20T00:00:00Z'}",
                            "{'kind':'withdraw-consent','account':'a8','ring':'dry-dock','at':'2026-11-21T00:00:00Z'}")),
            Map.entry(
                    "record-consent",
                    new Row(
                            "{'kind':'record-consent','account':'r8','ring':'dry-dock','at':'2026-11-20T00:00:00Z','agreed':'The master of MV Heron'}",
                            "{'kind':'amend-account','account':'r8','members':{'consents':[]}}",
                            OPEN)),
            Map.entry(
                    "arrange-rings",
                    new Row(
                            "{'kind':'arrange-rings','rings':[{'name':'Slipway','asksConsent':true},{'id':'dry-dock','name':'Dock'},{'id':'everyone','name':'Everyone'}]}",
                            "{'kind':'arrange-rings','rings':[{'id':'everyone','name':'All'}]}",
                            OPEN)),
            Map.entry(
                    "ask-to-join",
                    new Row(
                            "{'kind':'ask-to-join','account':'a8','ring':'dry-dock','at':'2026-11-20T00:00:00Z','by':'Bo','text':'Would you?'}",
                            "{'kind':'stop-asking','account':'a8','ring':'dry-dock'}",
                            MOVE)),
            Map.entry(
                    "stop-asking",
                    new Row(
                            "{'kind':'stop-asking','account':'a8','ring':'dry-dock'}",
                            "{'kind':'decline-preview','account':'a8','ring':'dry-dock','at':'2026-11-20T00:00:00Z'}",
                            OPEN)),
            Map.entry(
                    "decline-preview",
                    new Row(
                            "{'kind':'decline-preview','account':'a8','ring':'dry-dock','at':'2026-11-20T00:00:00Z'}",
                            "{'kind':'amend-account','account':'a8','members':{'asked':[]}}",
                            "{'kind':'give-consent','account':'a8','ring':'dry-dock','at':'2026-11-20T00:00:00Z'}")),
            Map.entry(
                    "add-feedback",
                    new Row(
                            "{'kind':'add-feedback','feedback':{'id':'f9','release':'meet.captions','account':'a1','at':'2026-11-20T00:00:00Z','verdict':'idea','text':'Larger, please'}}",
                            "{'kind':'remove-feedback','feedback':'f9'}",
                            MOVE)),
            Map.entry(
                    "amend-feedback",
                    new Row(
                            "{'kind':'amend-feedback','feedback':'f8','members':{'dealt':{'at':'2026-11-21T00:00:00Z','note':'Mended'}}}",
                            "{'kind':'amend-feedback','feedback':'f8','members':{'dealt':null}}",
                            OPEN)),
            Map.entry(
                    "remove-feedback",
                    new Row(
                            "{'kind':'remove-feedback','feedback':'f8'}",
                            "{'kind':'amend-feedback','feedback':'f8','members':{'dealt':null}}",
                            OPEN)),
            Map.entry("batch", new Row("{'kind':'batch','edits':[" + RENAME + "," + MOVE + "]}", MOVE, JOIN)));

    private ObjectNode estate;
    private CompiledEstate compiledEstate;
    private EntityStore stored;

    static List<EditKind> kinds() {
        return EditKinds.all();
    }

    @BeforeEach
    void open() throws Exception {
        estate = (ObjectNode) Json.read(Files.readString(Path.of("src/test/resources/small-estate.json")));
        estate.withArray("units")
                .addObject()
                .put("id", "u8")
                .put("name", "Empty")
                .put("parent", "u1");
        estate.withArray("accounts")
                .addObject()
                .put("id", "a8")
                .put("userName", "a8@small.example")
                .put("displayName", "Eight")
                .put("kind", "person")
                .put("unit", "u1")
                .putArray("asked")
                .addObject()
                .put("ring", "dry-dock")
                .put("at", "2026-11-01T00:00:00Z")
                .put("by", "Ana");
        estate.withArray("feedback")
                .addObject()
                .put("id", "f8")
                .put("release", "meet.captions")
                .put("account", "a8")
                .put("at", "2026-11-02T00:00:00Z")
                .put("verdict", "works");
        estate.withArray("accounts")
                .addObject()
                .put("id", "r8")
                .put("userName", "r8@small.example")
                .put("displayName", "Chart room")
                .put("kind", "room")
                .put("unit", "u1");
        estate.withArray("groups")
                .addObject()
                .put("id", "g8")
                .put("name", "Eight")
                .put("purpose", "mailing")
                .putArray("members")
                .add("account:a1");
        estate.withArray("hostings")
                .addObject()
                .put("id", "h8")
                .put("name", "Eight")
                .put("size", "S");
        ((ObjectNode) estate.get("catalogue"))
                .withArray("settings")
                .add(Json.read(
                        "{'key':'preview.builders','title':'Builders','type':'choice','options':['b8'],'default':'b8'}"
                                .replace('\'', '"')));
        estate.withArray("tracks")
                .add(Json.read(
                        "{'id':'t8','name':'Builders','setting':'preview.builders','rings':[{'id':'b8','name':'All'}]}"
                                .replace('\'', '"')));
        estate.withArray("workspaces")
                .addObject()
                .put("id", "w8")
                .put("name", "Eight")
                .put("size", "S");
        ((ObjectNode) estate.at("/plans/0")).withArray("rules").addObject().put("include", "unit:u3");
        ObjectNode held = estate.withArray("releases").addObject().put("setting", "chat.private");
        held.putObject("opens");
        held.putObject("planned").put("everyone", "2027-01-01T00:00:00Z");
        held.putObject("held")
                .put("reason", "It crashes")
                .put("since", "2026-11-01T00:00:00Z")
                .putArray("openings")
                .add("everyone");
        compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        stored = RandomEdits.bodies(estate);
    }

    @Test
    void everyKindHasARowInTheTableOfConflicts() {
        assertThat(kinds().stream().map(EditKind::name)).containsExactlyInAnyOrderElementsOf(TABLE.keySet());
    }

    @Test
    void everyKindStandsInTheTableOfEditsForClients() throws Exception {
        String table = Files.readString(Path.of("../docs/rest.md"));
        assertThat(kinds().stream().map(kind -> "`" + kind.name() + "`")).allMatch(table::contains);
    }

    @ParameterizedTest
    @MethodSource("kinds")
    void anEditOfTheKindIsReadToldCarriedOutAndTakenBack(EditKind kind) {
        EditSession editSession = new EditSession(compiledEstate, stored);
        ObjectNode sent = (ObjectNode) Json.read(TABLE.get(kind.name()).edit);
        Defects defects = new Defects();
        Map<String, Object> before = parts(editSession);
        AppliedEdit applied =
                editSession.apply(new JsonCursor(sent, "", defects)).orElse(null);
        assertThat(defects.all()).isEmpty();
        assertThat(applied.kind()).isEqualTo(kind);
        assertThat(applied.json().get("kind")).isEqualTo(sent.get("kind"));
        EditFormatter editFormatter = new EditFormatter(new EstateFormatter(compiledEstate.estate(), Instant.EPOCH));
        assertThat(editFormatter.format(applied)).isNotBlank();
        assertThat(editFormatter.count(kind).of(2)).contains("2").doesNotContain("#");
        assertThat(applied.touched().isEmpty()).isFalse();
        assertThat(EditKinds.paths(sent)).isNotEmpty().doesNotContain("");
        assertThat(EditKinds.rights(sent)).isNotEmpty().isSubsetOf(Set.of(Duty.values()));

        Map<String, Object> after = parts(editSession);
        boolean alters = !after.equals(before);
        Optional<ObjectNode> inverse = applied.inverse();
        if (inverse.isPresent())
            assertThat(editSession.apply(new JsonCursor(inverse.get(), "", defects)))
                    .as("%s", inverse)
                    .isPresent();
        assertThat(defects.all()).isEmpty();
        assertThat(alters).isEqualTo(inverse.isPresent());
        assertThat(parts(editSession)).isEqualTo(before);
    }

    /** Everything that edits can alter, as the model has it. */
    private static Map<String, Object> parts(EditSession editSession) {
        var estate = editSession.compile().estate();
        Map<String, Object> parts = new TreeMap<>();
        estate.policies()
                .forEach(p -> parts.put(
                        "policy " + p.id(),
                        List.of(p.name(), p.live(), Set.copyOf(p.statements()), Set.copyOf(p.assignments()))));
        parts.put("ranking", estate.policies().stream().map(p -> p.id()).toList());
        parts.put("units", estate.units());
        parts.put("accounts", estate.accounts());
        parts.put("workspaces", estate.workspaces());
        parts.put("hostings", estate.hostings());
        parts.put(
                "tracks",
                estate.tracks().stream()
                        .map(t -> Json.read(Json.write(t.json())))
                        .toList());
        parts.put("plans", RandomEdits.read(estate.plans()));
        parts.put(
                "rings",
                estate.rings().stream()
                        .map(r -> Json.read(Json.write(r.source())))
                        .toList());
        parts.put(
                "feedback",
                estate.feedback().stream()
                        .map(f -> Json.read(Json.write(f.source())))
                        .toList());
        estate.releases().forEach(r -> parts.put("release " + r.setting(), Json.read(Json.write(r.source()))));
        parts.put("catalogue", Json.write(estate.catalogue().frame().source()));
        estate.catalogue()
                .settings()
                .values()
                .forEach(s -> parts.put(
                        "setting " + s.key(), List.of(s.openToWorkspaces(), s.type(), Json.write(s.source()))));
        estate.groups()
                .forEach(g -> parts.put(
                        "group " + g.id(),
                        List.of(
                                g.name(),
                                g.access(),
                                g.owners(),
                                g.members().texts().collect(Collectors.toCollection(TreeSet::new)))));
        return parts;
    }

    @ParameterizedTest
    @MethodSource("kinds")
    void theKindConflictsAsTheTableSays(EditKind kind) {
        Row row = TABLE.get(kind.name());
        JsonNode edit = Json.read(row.edit);
        assertThat(ConflictIndex.isConflict(edit, Json.read(row.meets))).isTrue();
        assertThat(ConflictIndex.isConflict(Json.read(row.meets), edit)).isTrue();
        assertThat(ConflictIndex.isConflict(edit, Json.read(row.passes))).isFalse();
        assertThat(ConflictIndex.isConflict(Json.read(row.passes), edit)).isFalse();
    }

    @ParameterizedTest
    @MethodSource("kinds")
    void theSchemaOfTheKindFitsItsEditsAndNoOthers(EditKind kind) {
        ObjectNode schema = kind.schema();
        ObjectNode any = Json.NODES.objectNode();
        for (String name : List.of(
                "Policy", "Statement", "Assignment", "Edit", "RuleForm", "PurchaseForm", "RingForm", "TrackForm"))
            any.putObject(name);
        schema.putObject("components").set("schemas", any);
        var read = SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                .getSchema(schema);
        for (var row : TABLE.entrySet())
            assertThat(read.validate(Json.read(row.getValue().edit)).isEmpty())
                    .as(row.getKey())
                    .isEqualTo(row.getKey().equals(kind.name()));
    }

    @Test
    void whatReplacedTheWholeEstateMeetsEverythingAndNeedsEveryRight() {
        JsonNode replaced = Json.read("{\"kind\":\"replace-estate\"}");
        for (Row row : TABLE.values())
            assertThat(ConflictIndex.isConflict(replaced, Json.read(row.edit))).isTrue();
        assertThat(EditKinds.rights(replaced)).containsExactlyInAnyOrder(Duty.values());
    }
}
