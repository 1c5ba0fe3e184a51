package leanladder.edit.session;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.estate.Policy;
import leanladder.estate.read.Section;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.text.EditDescriber;
import leanladder.workingcopy.EntityStore;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Reference;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What edits of the directory are refused for, and how edits read. */
class EditSessionTest {
    private EditSession editSession;
    private EditDescriber words;

    @BeforeEach
    void open() throws Exception {
        ObjectNode estate = (ObjectNode) Json.read(Files.readString(Path.of("src/test/resources/small-estate.json")));
        estate.withArray("units")
                .addObject()
                .put("id", "u9")
                .put("name", "Empty")
                .put("parent", "u2");
        estate.withArray("groups")
                .addObject()
                .put("id", "news")
                .put("name", "News")
                .put("purpose", "mailing")
                .putArray("members")
                .add("group:g1");
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        EntityStore bodies = (section, key) -> {
            for (JsonNode part : estate.get(section.member()))
                if (part.get("id").asText().equals(key)) return (ObjectNode) part;
            throw new IllegalArgumentException(key);
        };
        editSession = new EditSession(compiledEstate, bodies);
        words = new EditDescriber(compiledEstate.estate(), Instant.parse("2026-11-23T12:00:00Z"));
    }

    private static JsonNode json(String edit) {
        return Json.read(edit.replace('\'', '"'));
    }

    private List<Defect> refused(String edit) {
        Defects defects = new Defects();
        assertThat(editSession.apply(new JsonCursor(json(edit), "", defects)))
                .as(edit)
                .isEmpty();
        assertThat(defects.all()).as(edit).isNotEmpty();
        return defects.all();
    }

    private String told(String edit) {
        Defects defects = new Defects();
        var told = words.apply(new JsonCursor(json(edit), "", defects), editSession);
        assertThat(defects.all()).as(edit).isEmpty();
        return told.orElseThrow().words();
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            {'kind':'add-unit','unit':{'name':'New'}}                                              | /unit           | only the organisation stands below no other unit
            {'kind':'add-unit','unit':{'id':'u2','name':'New','parent':'u1'}}                      | /unit           | leave the id out to be given one
            {'kind':'add-unit','unit':{'name':' ','parent':'u1'}}                                  | /unit/name      | must not be empty
            {'kind':'add-unit','unit':{'name':'New','parent':'nowhere'}}                           | /unit/parent    | names the unit "nowhere", which does not exist
            {'kind':'amend-unit','unit':'u1','members':{'parent':'u2'}}                            | /members/parent | this is the organisation
            {'kind':'amend-unit','unit':'u2','members':{'parent':'u9'}}                            | /members/parent | would close a cycle of units
            {'kind':'amend-unit','unit':'u2','members':{'parent':null}}                            | /members/parent | only the organisation stands below no other unit
            {'kind':'amend-unit','unit':'u2','members':{'colour':'red'}}                           | /members/colour | cannot be amended so; name, parent can
            {'kind':'remove-unit','unit':'u1'}                                                     | /unit           | is the organisation itself
            {'kind':'remove-unit','unit':'u2'}                                                     | /unit           | is used by the policy
            {'kind':'amend-account','account':'a1','members':{'unit':'nowhere'}}                   | /members/unit   | names the unit "nowhere", which does not exist
            {'kind':'amend-account','account':'a1','members':{'kind':'ship'}}                      | /members/kind   | must be one of
            {'kind':'amend-account','account':'a1','members':{'displayName':''}}                   | /members/displayName | must not be empty
            {'kind':'amend-account','account':'nobody','members':{}}                               | /account        | does not exist (any more)
            {'kind':'add-account','account':{'userName':'x','displayName':'X','kind':'person'}}    | /account        | lacks the member "unit"
            {'kind':'remove-account','account':'a1'}                                               | /account        | Deactivate the account
            {'kind':'put-members','group':'g1','who':['account:nobody']}                           | /who/0          | names the account "nobody", which does not exist
            {'kind':'put-members','group':'g1','who':['group:news']}                               | /who/0          | would close a cycle of groups
            {'kind':'put-members','group':'g1','who':['group:g1']}                                 | /who/0          | would close a cycle of groups
            {'kind':'put-members','group':'g1','who':[]}                                           | /who            | must name at least one member
            {'kind':'put-members','group':'g1','who':['somebody']}                                 | /who/0          | must be account:ID or group:ID
            {'kind':'remove-members','group':'news','who':['account:a1']}                          | /who/0          | is no member of News
            {'kind':'amend-group','group':'g1','members':{'purpose':'mailing'}}                    | /members/purpose | cannot become mailing
            {'kind':'remove-group','group':'g1'}                                                   | /group          | is used by the policy
            {'kind':'put-assignment','policy':'p1','assignment':{'include':'group:news'}}          | /assignment/include | mailing
            {'kind':'amend-release','release':'meet.captions','members':{'owner':'nobody'}}        | /members/owner  | names the account "nobody", which does not exist
            {'kind':'amend-release','release':'meet.captions','members':{'feedbackUntil':'soon'}}  | /members/feedbackUntil | must be a day such as 2026-12-24
            {'kind':'amend-release','release':'meet.captions','members':{'atLeast':0}}             | /members/atLeast | must be a whole number of at least 1
            {'kind':'batch','edits':[]}                                                            | ''              | must hold at least one edit
            {'kind':'batch','edits':[{'kind':'batch','edits':[{}]}]}                               | /edits/0        | is a batch within a batch
            {'kind':'sail'}                                                                        | /kind           | must be the kind of an edit
            """)
    void anEditThatDoesNotFitSaysWhereAndWhy(String edit, String pointer, String message) {
        assertThat(refused(edit)).anySatisfy(d -> {
            assertThat(d.pointer()).isEqualTo(pointer);
            assertThat(d.message()).contains(message);
        });
    }

    @Test
    void aCycleIsNamedByTheNamesOfItsUnits() {
        assertThat(refused("{'kind':'amend-unit','unit':'u2','members':{'parent':'u9'}}")
                        .get(0)
                        .message())
                .endsWith(editSession.overlay().name(EntityType.UNIT, "u2") + " → Empty → "
                        + editSession.overlay().name(EntityType.UNIT, "u2"));
    }

    @Test
    void whatOneEditMadeTheNextCanName() {
        told("{'kind':'add-unit','unit':{'id':'new','name':'New','parent':'u9'}}");
        told(
                "{'kind':'add-account','account':{'userName':'hand@small.example','displayName':'New Hand','kind':'person','unit':'new'}}");
        told("{'kind':'add-group','group':{'id':'crew','name':'Crew','purpose':'access','members':['account:hand']}}");
        told("{'kind':'put-assignment','policy':'p1','assignment':{'include':'group:crew'}}");
        assertThat(refused("{'kind':'remove-group','group':'crew'}").get(0).message())
                .contains("Take it out there first");
        var after = editSession.compile();
        assertThat(after.directory().members("crew").contains(after.directory().number("hand")))
                .isTrue();
        assertThat(after.directory().inOrBelow("u2").contains(after.directory().number("hand")))
                .isTrue();
    }

    @Test
    void noEditNestsMoreThanAHundredLevels() {
        String unit = "u9";
        for (int i = 0; i < 97; i++) {
            told("{'kind':'add-unit','unit':{'id':'deep" + i + "','name':'Deep','parent':'" + unit + "'}}");
            unit = "deep" + i;
        }
        assertThat(refused("{'kind':'add-unit','unit':{'id':'more','name':'More','parent':'" + unit + "'}}")
                        .get(0)
                        .message())
                .contains("101 levels deep");
        told("{'kind':'add-unit','unit':{'id':'pair','name':'Pair','parent':'u2'}}");
        told("{'kind':'add-unit','unit':{'id':'inner','name':'Inner','parent':'pair'}}");
        assertThat(refused("{'kind':'amend-unit','unit':'pair','members':{'parent':'deep95'}}")
                        .get(0)
                        .message())
                .contains("101 levels deep");
        String group = "news";
        for (int i = 0; i < 98; i++) {
            told("{'kind':'add-group','group':{'id':'nest" + i + "','name':'Nest','purpose':'access','members':['group:"
                    + group + "']}}");
            group = "nest" + i;
        }
        assertThat(refused(
                                "{'kind':'add-group','group':{'id':'outer','name':'Outer','purpose':'access','members':['group:"
                                        + group + "']}}")
                        .get(0)
                        .message())
                .contains("101 levels deep");
        told("{'kind':'add-group','group':{'id':'low','name':'Low','purpose':'access','members':[]}}");
        assertThat(refused("{'kind':'put-members','group':'g1','who':['group:low']}")
                        .get(0)
                        .message())
                .contains("101 levels deep");
    }

    @Test
    void ofABatchThatDoesNotFitAsAWholeNothingIsCarriedOut() {
        refused("{'kind':'batch','edits':[{'kind':'amend-unit','unit':'u9','members':{'name':'Other'}},"
                + "{'kind':'remove-unit','unit':'nowhere'}]}");
        assertThat(editSession.overlay().name(EntityType.UNIT, "u9")).isEqualTo("Empty");
        assertThat(editSession.writeSet().touchesDirectory()).isFalse();
        assertThat(editSession.written()).isEmpty();
    }

    @Test
    void membersWhoAreInAlreadyAreNotAddedTwice() {
        told("{'kind':'put-members','group':'news','who':['account:a1']}");
        assertThat(told("{'kind':'put-members','group':'news','who':['account:a1']}"))
                .startsWith("nobody new");
        assertThat(editSession.written().get(0).body().get("members")).isEqualTo(json("['group:g1','account:a1']"));
    }

    @Test
    void membersOfAPartThatNobodyKnowsAreKeptWhenItIsAmended() {
        told("{'kind':'amend-account','account':'a1','members':{'displayName':'Another'}}");
        ObjectNode body = editSession.written().get(0).body();
        assertThat(body.get("displayName").asText()).isEqualTo("Another");
        assertThat(body.has("started") || body.has("consents") || body.has("attributes"))
                .isTrue();
    }

    @Test
    void editsReadAsSentencesThatNameWhatTheyNamed() {
        assertThat(told("{'kind':'add-unit','unit':{'name':'Boats','parent':'u2'}}"))
                .startsWith("Boats is a new unit below ");
        assertThat(told("{'kind':'amend-unit','unit':'u9','members':{'name':'Hold'}}"))
                .isEqualTo("Empty is called Hold");
        assertThat(told("{'kind':'amend-unit','unit':'u9','members':{'parent':'u1'}}"))
                .startsWith("Hold moves to ");
        assertThat(told("{'kind':'amend-account','account':'a1','members':{'active':false}}"))
                .endsWith(" is deactivated");
        assertThat(told("{'kind':'amend-account','account':'a1','members':{'active':true,'started':'2026-01-05'}}"))
                .endsWith(" is active again and started on 2026-01-05");
        assertThat(told("{'kind':'add-group','group':{'name':'Crew','purpose':'access','members':['account:a1']}}"))
                .isEqualTo("Crew is a new access group with one member");
        assertThat(told("{'kind':'amend-group','group':'crew','members':{'owners':[]}}"))
                .isEqualTo("Crew no longer has an owner");
        assertThat(told("{'kind':'amend-group','group':'crew','members':{'purpose':'mailing'}}"))
                .isEqualTo("Crew becomes a mailing group");
        assertThat(told("{'kind':'remove-members','group':'crew','who':['account:a1']}"))
                .endsWith(" leaves Crew");
        assertThat(told("{'kind':'remove-group','group':'crew'}")).isEqualTo("Crew is removed");
        assertThat(told("{'kind':'remove-unit','unit':'u9'}")).isEqualTo("Hold is removed");
    }

    @Test
    void aLongBatchIsToldByWhatItDoesHowOften() {
        StringBuilder edits = new StringBuilder();
        for (int i = 0; i < 5; i++)
            edits.append("{'kind':'add-account','account':{'userName':'x")
                    .append(i)
                    .append("','displayName':'X','kind':'person','unit':'u9'}},");
        edits.append("{'kind':'amend-account','account':'a1','members':{'displayName':'Y'}}");
        assertThat(told("{'kind':'batch','source':'crew.csv','edits':[" + edits + "]}"))
                .isEqualTo("5 accounts are new, one account is changed (from crew.csv)");
        assertThat(told("{'kind':'batch','edits':[{'kind':'amend-unit','unit':'u9','members':{'name':'A'}},"
                        + "{'kind':'amend-unit','unit':'u9','members':{'name':'B'}}]}"))
                .isEqualTo("Empty is called A; A is called B");
    }

    @Test
    void usesOfAGroupAreToldByNameAndATargetOfAPolicyIsAmongThem() {
        assertThat(editSession.uses(Section.GROUPS, "g1").stream().map(Reference::words))
                .anyMatch(u -> u.startsWith("the policy "))
                .contains("the group News");
    }

    @Test
    void aNewPolicyTellsWhatItSetsAndForWhomWhereThatIsLittle() {
        assertThat(
                        told(
                                "{'kind':'add-policy','policy':{'name':'Off','statements':[{'setting':'files.share','cap':'own'}],"
                                        + "'assignments':[{'include':'unit:u2','until':'2026-12-01T00:00:00Z'},{'except':'unit:u9'}]}}"))
                .startsWith("Off is new: caps Share outside at own for ")
                .contains("until the end of 30 Nov")
                .endsWith(", except Empty");
        assertThat(told("{'kind':'add-policy','policy':{'name':'Bare'}}"))
                .isEqualTo("Bare is new, with no statement for nobody yet");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            {'owner':'a1'}                     | is owned by
            {'owner':null}                     | no longer has an owner
            {'feedbackUntil':'2026-12-24'}     | wants feedback until 24 Dec
            {'feedbackUntil':'2027-01-08'}     | wants feedback until 8 Jan 2027
            {'feedbackUntil':null}             | wants feedback for as long as it is there
            {'atLeast':3}                      | takes 3 at least
            """)
    void whatIsToldOfAReleaseIsSaidInWords(String members, String said) {
        assertThat(told("{'kind':'amend-release','release':'meet.captions','members':" + members + "}"))
                .contains(said);
    }

    @Test
    void whatStoodOnceIsPutInPlaceAndTakenAwayAgain() {
        CompiledEstate before = editSession.base();
        told("{'kind':'add-unit','unit':{'id':'boats','name':'Boats','parent':'u2'}}");
        told("{'kind':'amend-policy','policy':'p1','members':{'name':'Otherwise'}}");
        EditSession.WrittenEntity gone = new EditSession.WrittenEntity("units", "boats", Json.NODES.objectNode());
        EditSession.WrittenEntity policy = new EditSession.WrittenEntity(
                "policies", "p1", before.estate().policy("p1").orElseThrow().source());
        editSession.restore(List.of(gone, policy), EditSession.FileFrame.SAME);
        var after = editSession.compile().estate();
        assertThat(after.units()).isEqualTo(before.estate().units());
        assertThat(after.policies()).isEqualTo(before.estate().policies());
    }

    @Test
    void policiesThatARankingOfOnceLeavesOutFollowById() {
        told("{'kind':'add-policy','policy':{'id':'a-new-one','name':'New','statements':[],'assignments':[]}}");
        told("{'kind':'rank-policy','policy':'a-new-one','above':'"
                + editSession.overlay().ranking().get(0) + "'}");
        ArrayNode ranking = Json.NODES.arrayNode().add("p1");
        editSession.restore(
                List.of(),
                new EditSession.FileFrame(Optional.of(ranking), Optional.empty(), Optional.empty(), Optional.empty()));
        List<String> all = editSession.compile().estate().policies().stream()
                .map(Policy::id)
                .toList();
        assertThat(all.get(0)).isEqualTo("p1");
        assertThat(all.subList(1, all.size())).isSorted().contains("a-new-one");
    }
}
