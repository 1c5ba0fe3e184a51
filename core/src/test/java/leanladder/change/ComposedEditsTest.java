package leanladder.change;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import leanladder.RandomEstate;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Policy;
import leanladder.estate.Workspace;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Share;
import leanladder.resolve.Solution;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Drafts whose later edits name what earlier ones created. */
class ComposedEditsTest {
    private static final Question NOW = Question.at(RandomEstate.NOW);
    private static final int MOST = 20;

    /** A draft as it was staged: the edits that fitted, and what undoes them. */
    private record Staged(ObjectNode file, Ground before, Book book, List<JsonNode> edits, Inverse inverse) {}

    private static Staged staged(long seed) {
        ObjectNode file = RandomEstate.json(seed);
        Ground before = new Ground(RandomEstate.read(file));
        Book book = new Book(before, RandomEdits.bodies(file));
        Inverse inverse = new Inverse(book);
        RandomDraft draft = new RandomDraft(before, seed);
        List<JsonNode> edits = new ArrayList<>();
        while (edits.size() < MOST && draft.isGoingOn()) {
            JsonNode edit = Json.read(draft.next(book.after()));
            if (inverse.apply(new Place(edit, "", new Defects()))) edits.add(edit);
        }
        return new Staged(file, before, book, edits, inverse);
    }

    private static Book book(ObjectNode file, Ground before) {
        return new Book(before, RandomEdits.bodies(file));
    }

    private static void apply(Book book, JsonNode edit) {
        Defects defects = new Defects();
        book.apply(new Place(edit, "", defects));
        assertThat(defects.all()).as(edit.toString()).isEmpty();
    }

    @Property(tries = 150)
    void everyStepOfADraftCanBeShown(@ForAll long seed) {
        Staged staged = staged(seed);
        Book book = book(staged.file, staged.before);
        EditTelling words = new EditTelling(staged.before.estate(), NOW.at());
        Ripple growing = new Ripple(book, book.after(), NOW);
        for (JsonNode edit : staged.edits) {
            var told = words.apply(new Place(edit, "", new Defects()), book).orElseThrow();
            assertThat(told.words()).isNotBlank();
            Ground after = book.after();
            growing = growing.with(book, after, told.touched());
            Ripple whole = new Ripple(book, after, NOW);
            assertThat(WarmTest.told(growing)).as(edit.toString()).isEqualTo(WarmTest.told(whole));
            Ripple.later(book, after, NOW);
            Ripple.inWorkspaces(book, after, NOW.at());
            Ripple.seatsPassedOn(book, after, NOW.at());
        }
    }

    @Property(tries = 150)
    void theRippleOfADraftIsTheDifferenceOfAllOutcomes(@ForAll long seed) {
        Staged staged = staged(seed);
        RippleTest.assertIsTheDifference(seed, staged.before, staged.book);
    }

    @Property(tries = 150)
    void whatADraftPredictsHoldsAfterItIsPublishedAndInTheExportedFile(@ForAll long seed) {
        Staged staged = staged(seed);
        Ground after = staged.book.after();
        Ripple ripple = new Ripple(staged.book, after, NOW);
        Ground published = after.withLedger(ripple.seatsPassedOn(NOW.at()).ledger());
        ObjectNode exported = ExportedEstate.withHolders(
                ExportedEstate.of(staged.file, staged.book),
                published.ledger(),
                published.estate().plans(),
                published.directory());
        Ground read = new Ground(RandomEstate.read(exported));
        Book atOnce = book(staged.file, staged.before);
        staged.edits.forEach(edit -> apply(atOnce, edit));
        List<Optional<String>> places = new ArrayList<>(List.of(Optional.empty()));
        after.estate().workspaces().stream()
                .map(Workspace::id)
                .map(Optional::of)
                .forEach(places::add);
        for (Optional<String> place : places) {
            Question question = new Question(NOW.at(), place);
            Map<String, Outcome> expected = climbs(read, question, read.seats(NOW.at()));
            assertThat(columns(after, question, ripple.seatsAfter())).isEqualTo(expected);
            assertThat(columns(published, question, published.seats(NOW.at()))).isEqualTo(expected);
            assertThat(columns(atOnce.after(), question, atOnce.after().seats(NOW.at())))
                    .isEqualTo(expected);
            assertThat(climbs(after, question, ripple.seatsAfter())).isEqualTo(expected);
        }
    }

    @Property(tries = 150)
    void undoingADraftLeavesTheEstateAsItWas(@ForAll long seed) {
        Staged staged = staged(seed);
        for (JsonNode edit : staged.inverse.edits()) apply(staged.book, edit);
        JsonNode left = comparable(ExportedEstate.of(staged.file, staged.book));
        JsonNode was = comparable(ExportedEstate.of(staged.file, book(staged.file, staged.before)));
        was.fieldNames()
                .forEachRemaining(
                        list -> assertThat(left.get(list)).as(list).containsExactlyInAnyOrderElementsOf(was.get(list)));
        assertThat(staged.book.overlay().ranking())
                .isEqualTo(staged.before.estate().policies().stream()
                        .map(Policy::id)
                        .toList());
        Ground after = staged.book.after();
        assertThat(columns(after, NOW, after.seats(NOW.at())))
                .isEqualTo(columns(staged.before, NOW, staged.before.seats(NOW.at())));
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

    private static Map<String, Outcome> climbs(Ground ground, Question question, Entitlements seats) {
        Map<String, Outcome> outcomes = new TreeMap<>();
        for (Account account : ground.estate().accounts())
            if (account.active())
                for (var setting : ground.estate().catalogue().settings().values())
                    outcomes.put(
                            account.id() + " " + setting.key(),
                            new Climber(ground, question, seats, account).outcome(setting));
        return outcomes;
    }

    private static Map<String, Outcome> columns(Ground ground, Question question, Entitlements seats) {
        Map<String, Outcome> outcomes = new TreeMap<>();
        Solution solution = new Solution(ground, question, seats);
        for (String key : ground.estate().catalogue().settings().keySet())
            for (Share<Outcome> share : solution.column(key).shares())
                share.accounts()
                        .forEach((int n) ->
                                outcomes.put(ground.directory().account(n).id() + " " + key, share.what()));
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
        Ground before = new Ground(RandomEstate.read(file));
        Book book = book(file, before);
        for (String edit : edits) apply(book, Json.read(edit.replace('\'', '"')));
        return new Ripple(book, book.after(), NOW);
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
