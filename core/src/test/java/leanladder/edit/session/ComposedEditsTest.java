package leanladder.edit.session;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import leanladder.RandomEstate;
import leanladder.conflict.NetEdits;
import leanladder.estate.Account;
import leanladder.estate.Policy;
import leanladder.estate.Workspace;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.ripple.Ripple;
import leanladder.seat.Entitlements;
import leanladder.text.EditDescriber;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Drafts whose later edits name what earlier ones created. */
class ComposedEditsTest {
    private static final EvaluationContext NOW = EvaluationContext.at(RandomEstate.NOW);
    private static final int MOST = 20;

    /** A draft as it was staged: the edits that fitted, and what undoes them. */
    private record Staged(
            ObjectNode file,
            CompiledEstate before,
            EditSession editSession,
            List<JsonNode> edits,
            InverseBuilder inverse) {}

    private static Staged staged(long seed) {
        // As text: numbers are equal where they are written alike.
        ObjectNode file = (ObjectNode) Json.read(Json.write(RandomEstate.json(seed)));
        CompiledEstate before = new CompiledEstate(RandomEstate.read(file));
        EditSession editSession = new EditSession(before, RandomEdits.bodies(file));
        InverseBuilder inverseBuilder = new InverseBuilder(editSession);
        RandomDraft draft = new RandomDraft(before, seed);
        List<JsonNode> edits = new ArrayList<>();
        while (edits.size() < MOST && draft.isGoingOn()) {
            JsonNode edit = Json.read(draft.next(editSession.compile()));
            if (inverseBuilder.apply(new JsonCursor(edit, "", new Defects()))) edits.add(edit);
        }
        return new Staged(file, before, editSession, edits, inverseBuilder);
    }

    private static EditSession book(ObjectNode file, CompiledEstate before) {
        return new EditSession(before, RandomEdits.bodies(file));
    }

    private static void apply(EditSession editSession, JsonNode edit) {
        Defects defects = new Defects();
        editSession.apply(new JsonCursor(edit, "", defects));
        assertThat(defects.all()).as(edit.toString()).isEmpty();
    }

    @Test
    void randomDraftsHoldEditsOfTheCatalogueThatFit() {
        Set<String> kinds = new TreeSet<>();
        for (long seed = 0; seed < 40; seed++)
            staged(seed).edits.forEach(edit -> kinds.add(edit.get("kind").asText()));
        assertThat(kinds)
                .contains("add-setting", "amend-setting", "remove-setting", "amend-catalogue", "clear-assignments");
    }

    @Property(tries = 90)
    void everyStepOfADraftCanBeShown(@ForAll long seed) {
        Staged staged = staged(seed);
        EditSession editSession = book(staged.file, staged.before);
        EditDescriber words = new EditDescriber(staged.before.estate(), NOW.at());
        Ripple growing = new Ripple(editSession, editSession.compile(), NOW);
        for (JsonNode edit : staged.edits) {
            var editDescription = words.apply(new JsonCursor(edit, "", new Defects()), editSession)
                    .orElseThrow();
            assertThat(editDescription.words()).isNotBlank();
            CompiledEstate after = editSession.compile();
            growing = growing.with(editSession, after, editDescription.applied().touched());
            Ripple whole = new Ripple(editSession, after, NOW);
            assertThat(CacheUpdateTest.told(growing)).as(edit.toString()).isEqualTo(CacheUpdateTest.told(whole));
            Ripple.later(editSession, after, NOW);
            Ripple.inWorkspaces(editSession, after, NOW.at());
            Ripple.seatsPassedOn(editSession, after, NOW.at());
        }
    }

    @Property(tries = 90)
    void withoutEditsThatCancelEachOtherADraftLeadsToTheSame(@ForAll long seed) {
        Staged staged = staged(seed);
        List<JsonNode> edits = new ArrayList<>(staged.edits);
        int undone = edits.isEmpty() ? 0 : Math.floorMod(seed, edits.size());
        for (int i = 0; i < Math.min(undone, staged.inverse.edits().size()); i++)
            edits.add(staged.inverse.edits().get(i));
        BitSet cancelled = NetEdits.cancelled(book(staged.file, staged.before), edits);
        assertThat(cancelled.cardinality() % 2).isZero();
        EditSession all = book(staged.file, staged.before);
        edits.forEach(edit -> apply(all, edit));
        EditSession net = book(staged.file, staged.before);
        Defects defects = new Defects();
        for (int i = 0; i < edits.size(); i++)
            if (!cancelled.get(i)) net.apply(new JsonCursor(edits.get(i), "", defects));
        // What names something that only came and went does not fit alone; a draft is then published as it is.
        if (!defects.isEmpty()) return;
        CompiledEstate one = all.compile();
        CompiledEstate other = net.compile();
        assertThat(CacheUpdateTest.columns(new ColumnResolver(other, NOW), other))
                .isEqualTo(CacheUpdateTest.columns(new ColumnResolver(one, NOW), one));
    }

    @Test
    void anExceptionThatIsPutAndRemovedAgainIsCancelled() throws Exception {
        ObjectNode file = (ObjectNode) Json.read(Files.readString(Path.of("src/test/resources/small-estate.json")));
        CompiledEstate before = new CompiledEstate(RandomEstate.read(file));
        List<JsonNode> edits = List.of(
                Json.read("{\"kind\":\"put-assignment\",\"policy\":\"p1\",\"assignment\":{\"except\":\"account:a1\"}}"),
                Json.read("{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Other\"}}"),
                Json.read(
                        "{\"kind\":\"remove-assignment\",\"policy\":\"p1\",\"assignment\":{\"except\":\"account:a1\"}}"));
        assertThat(NetEdits.cancelled(book(file, before), edits)).isEqualTo(BitSet.valueOf(new long[] {0b101}));
    }

    @Property(tries = 90)
    void theRippleOfADraftIsTheDifferenceOfAllOutcomes(@ForAll long seed) {
        Staged staged = staged(seed);
        RippleTest.assertIsTheDifference(seed, staged.before, staged.editSession);
    }

    @Property(tries = 90)
    void whatADraftPredictsHoldsAfterItIsPublishedAndInTheExportedFile(@ForAll long seed) {
        Staged staged = staged(seed);
        CompiledEstate after = staged.editSession.compile();
        Ripple ripple = new Ripple(staged.editSession, after, NOW);
        CompiledEstate published =
                after.withLedger(ripple.seatsPassedOn(NOW.at()).ledger());
        ObjectNode exported = ExportedEstate.withHolders(
                ExportedEstate.of(staged.file, staged.editSession),
                published.seatLedger(),
                published.estate().plans(),
                published.directory());
        CompiledEstate read = new CompiledEstate(RandomEstate.read(exported));
        EditSession atOnce = book(staged.file, staged.before);
        staged.edits.forEach(edit -> apply(atOnce, edit));
        List<Optional<String>> places = new ArrayList<>(List.of(Optional.empty()));
        after.estate().workspaces().stream()
                .map(Workspace::id)
                .map(Optional::of)
                .forEach(places::add);
        for (Optional<String> place : places) {
            EvaluationContext evaluationContext = new EvaluationContext(NOW.at(), place);
            Map<String, Outcome> expected = climbs(read, evaluationContext, read.seats(NOW.at()));
            assertThat(columns(after, evaluationContext, ripple.seatsAfter())).isEqualTo(expected);
            assertThat(columns(published, evaluationContext, published.seats(NOW.at())))
                    .isEqualTo(expected);
            assertThat(columns(
                            atOnce.compile(),
                            evaluationContext,
                            atOnce.compile().seats(NOW.at())))
                    .isEqualTo(expected);
            assertThat(climbs(after, evaluationContext, ripple.seatsAfter())).isEqualTo(expected);
        }
    }

    /** A setting that names the rings of a track without releases was once removed. */
    @Test
    void whatADraftOncePredictedAgainstTheExportHolds() {
        whatADraftPredictsHoldsAfterItIsPublishedAndInTheExportedFile(683);
    }

    @Property(tries = 90)
    void undoingADraftLeavesTheEstateAsItWas(@ForAll long seed) {
        Staged staged = staged(seed);
        for (JsonNode edit : staged.inverse.edits()) apply(staged.editSession, edit);
        JsonNode left = comparable(ExportedEstate.of(staged.file, staged.editSession));
        JsonNode was = comparable(ExportedEstate.of(staged.file, book(staged.file, staged.before)));
        was.fieldNames()
                .forEachRemaining(
                        list -> assertThat(left.get(list)).as(list).containsExactlyInAnyOrderElementsOf(was.get(list)));
        assertThat(staged.editSession.overlay().ranking())
                .isEqualTo(staged.before.estate().policies().stream()
                        .map(Policy::id)
                        .toList());
        CompiledEstate after = staged.editSession.compile();
        assertThat(columns(after, NOW, after.seats(NOW.at())))
                .isEqualTo(columns(staged.before, NOW, staged.before.seats(NOW.at())));
    }

    /** Edits of the directory, published while others edit policies alone, need not be read again. */
    @Property(tries = 90)
    void editsOfTheDirectoryOnAnEstateWithOtherPoliciesAreThoseThatAreAppliedAfresh(@ForAll long seed) {
        ObjectNode file = RandomEstate.json(seed);
        CompiledEstate base = new CompiledEstate(RandomEstate.read(file));
        EditSession mine = book(file, base);
        for (String edit : RandomEdits.ofDirectory(base, new java.util.Random(seed), 6))
            mine.apply(new JsonCursor(Json.read(edit), "", new Defects()));
        EditSession theirs = book(file, base);
        if (!base.estate().policies().isEmpty())
            for (String edit : RandomEdits.ofPolicies(base, new java.util.Random(seed + 1), 3))
                theirs.apply(new JsonCursor(Json.read(edit), "", new Defects()));
        CompiledEstate later = theirs.compile();
        Optional<EditSession> moved = mine.onOtherPolicies(later);
        if (moved.isEmpty()) return;
        EditSession afresh = new EditSession(later, RandomEdits.bodies(file));
        for (var type : List.of("units", "accounts", "groups"))
            assertThat(moved.get().written().stream().filter(w -> w.section().equals(type)))
                    .containsExactlyElementsOf(mine.written().stream()
                            .filter(w -> w.section().equals(type))
                            .toList());
        afresh.restore(moved.get().written(), EditSession.FileFrame.SAME);
        CompiledEstate expected = afresh.compile();
        assertThat(columns(moved.get().compile(), NOW, moved.get().compile().seats(NOW.at())))
                .isEqualTo(columns(expected, NOW, expected.seats(NOW.at())));
        assertThat(CacheUpdateTest.told(new Ripple(moved.get(), moved.get().compile(), NOW)))
                .isEqualTo(CacheUpdateTest.told(new Ripple(afresh, expected, NOW)));
    }

    /** An estate of the past is the present one with what stood otherwise put in place, in either direction. */
    @Property(tries = 90)
    void whatADraftWroteCanBePutInPlaceAtOnce(@ForAll long seed) {
        Staged staged = staged(seed);
        EditSession after = staged.editSession;
        List<EditSession.WrittenEntity> parts = new ArrayList<>(after.written());
        parts.addAll(after.removed());
        EditSession restored = book(staged.file, staged.before);
        restored.restore(
                parts,
                new EditSession.FileFrame(
                        after.writtenRanking().map(JsonNode.class::cast),
                        after.writtenFrame().map(JsonNode.class::cast),
                        after.writtenRings().map(JsonNode.class::cast),
                        after.writtenTracks().map(JsonNode.class::cast)));
        CompiledEstate expected = after.compile();
        CompiledEstate put = restored.compile();
        assertThat(columns(put, NOW, put.seats(NOW.at()))).isEqualTo(columns(expected, NOW, expected.seats(NOW.at())));
        assertThat(put.estate().catalogue().frame().sizes())
                .isEqualTo(expected.estate().catalogue().frame().sizes());
    }

    /** A file in which order and repeats do not matter where a list is a set. */
    private static JsonNode comparable(JsonNode file) {
        // Numbers are equal where they are written alike.
        ObjectNode whole = (ObjectNode) Json.read(Json.write(file));
        whole.remove("ranking");
        for (JsonNode policy : whole.path("policies")) {
            sort(policy, "statements");
            sort(policy, "assignments");
            if (policy.path("state").asText().equals("live")) ((ObjectNode) policy).remove("state");
        }
        for (JsonNode release : whole.path("releases")) sort(release, "early");
        for (String section : List.of("groups", "workspaces"))
            for (JsonNode group : whole.path(section)) {
                sort(group, "members");
                sort(group, "owners");
            }
        return whole;
    }

    private static void sort(JsonNode part, String list) {
        if (!part.path(list).isArray()) return;
        Set<JsonNode> items = new TreeSet<>(Comparator.comparing(Json::write));
        part.path(list).forEach(items::add);
        ((ObjectNode) part).putArray(list).addAll(items);
    }

    private static Map<String, Outcome> climbs(
            CompiledEstate compiledEstate, EvaluationContext evaluationContext, Entitlements seats) {
        Map<String, Outcome> outcomes = new TreeMap<>();
        for (Account account : compiledEstate.estate().accounts())
            if (account.active())
                for (var setting :
                        compiledEstate.estate().catalogue().settings().values())
                    outcomes.put(
                            account.id() + " " + setting.key(),
                            new AccountResolver(compiledEstate, evaluationContext, seats, account).outcome(setting));
        return outcomes;
    }

    private static Map<String, Outcome> columns(
            CompiledEstate compiledEstate, EvaluationContext evaluationContext, Entitlements seats) {
        Map<String, Outcome> outcomes = new TreeMap<>();
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, evaluationContext, seats);
        for (String key : compiledEstate.estate().catalogue().settings().keySet())
            for (Segment<Outcome> segment : columnResolver.column(key).shares())
                segment.accounts()
                        .forEach((int n) -> outcomes.put(
                                compiledEstate.directory().account(n).id() + " " + key, segment.what()));
        return outcomes;
    }

    private static final String ESTATE = """
            {'format': 'lean-ladder-estate/1', 'organisation': {'name': 'Skerry'},
             'catalogue': {'apps': [{'id': 'chat', 'name': 'Chat'}], 'entitlements': [{'id': 'assistant', 'name': 'Assistant'}],
               'settings': [{'key': 'chat.summaries', 'app': 'chat', 'title': 'Summaries', 'type': 'switch', 'default': true,
                 'strict': false, 'fallback': false, 'needs': [{'entitlement': ['assistant']}]}]},
             'units': [{'id': 'skerry', 'name': 'Skerry'}],
             'accounts': [{'id': 'ann', 'userName': 'ann@skerry.example', 'displayName': 'Ann', 'kind': 'person', 'unit': 'skerry'}],
             'groups': [], 'policies': [{'id': 'house', 'name': 'House', 'statements': [], 'assignments': []}],
             'plans': [{'id': 'desk', 'name': 'Desk', 'seats': 3, 'components': ['assistant'],
               'rules': [{'include': 'account:ann'}], 'holders': []}]}
            """.replace('\'', '"');

    private static final String NEW_UNIT = "{'kind':'add-unit','unit':{'id':'deck','name':'Deck','parent':'skerry'}}";
    private static final String NEW_ACCOUNT =
            "{'kind':'add-account','account':{'id':'bo','userName':'bo@skerry.example','displayName':'Bo','kind':'person','unit':'skerry'}}";
    private static final String NEW_GROUP =
            "{'kind':'add-group','group':{'id':'crew','name':'Crew','purpose':'access','members':['account:ann']}}";

    private static Ripple ripple(String... edits) {
        ObjectNode file = (ObjectNode) Json.read(ESTATE);
        CompiledEstate before = new CompiledEstate(RandomEstate.read(file));
        EditSession editSession = book(file, before);
        for (String edit : edits) apply(editSession, Json.read(edit.replace('\'', '"')));
        return new Ripple(editSession, editSession.compile(), NOW);
    }

    @Test
    void aNewPersonIsGivenASeatInTheSameDraft() {
        Ripple ripple = ripple(NEW_ACCOUNT, "{'kind':'give-seats','plan':'desk','accounts':['bo']}");
        int bo = ripple.after().directory().number("bo");
        assertThat(ripple.joining().contains(bo)).isTrue();
        assertThat(ripple.seats())
                .singleElement()
                .satisfies(s -> assertThat(s.given().contains(bo)).isTrue());
    }

    @ParameterizedTest
    @ValueSource(strings = {"unit:deck", "account:bo", "group:crew"})
    void rulesPlansAndPoliciesNameWhatTheSameDraftCreates(String target) {
        String plan =
                "{'kind':'add-plan','plan':{'id':'more','name':'More','seats':1,'components':['assistant'],'rules':[{'include':'"
                        + target + "'}]}}";
        String rule = "{'kind':'put-rule','plan':'desk','rule':{'include':'" + target + "'}}";
        String except = "{'kind':'put-rule','plan':'desk','rule':{'except':'" + target + "'}}";
        String aimed = "{'kind':'put-assignment','policy':'house','assignment':{'include':'" + target + "'}}";
        for (String edit : List.of(plan, rule, except, aimed)) {
            Ripple ripple = ripple(NEW_UNIT, NEW_ACCOUNT, NEW_GROUP, edit);
            assertThat(ripple.joining().getCardinality()).isEqualTo(1);
        }
    }
}
