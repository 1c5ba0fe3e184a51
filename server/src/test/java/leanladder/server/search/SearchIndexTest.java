package leanladder.server.search;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.EnumSet;
import java.util.Set;
import java.util.stream.StreamSupport;
import leanladder.RandomEstate;
import leanladder.demo.DemoEstate;
import leanladder.edit.session.EditSession;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.server.http.JsonWriter;
import leanladder.server.paging.FuzzyMatcher;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SearchIndexTest {
    private static final SearchIndex INDEX = new SearchIndex(RandomEstate.read(new DemoEstate().build()));

    @ParameterizedTest(name = "{0} finds {1}")
    @CsvSource({
        "private chat, chat.private",
        "privat chat, chat.private",
        "pirvate talk, chat.private",
        "screen sharing, meetings.screen",
        "gifs, chat.flags",
        "file sharing with external people, files.share",
        "dlp, files.seals",
        "transcription, meetings.captions",
        "read reciepts, chat.order-read",
        "reach of cargo, files.share",
        "captoins, meetings.captions",
        "subtitels, meetings.captions",
        "asistant, assistant.use",
        "assisstant use, assistant.use",
        "external sharing, files.share",
        "extrenal sharing, files.share",
        "retension chat, chat.log-days",
        "blocked domians, mail.blocked-domains",
        "spam, mail.blocked-domains",
        "signiture, mail.letterhead",
        "deligation mailbox, mail.relief",
        "voicmail, calls.slate",
        "muser, meetings.muster",
        "call a muster, meetings.muster",
        "pilot boook, help.pilot-book",
        "help link, help.pilot-book",
        "trainig link, help.school",
        "watermark, files.stamp",
        "qouta, files.hold",
        "usb, devices.sticks",
        "two factor, devices.second-proof",
        "screen lock timeout, devices.idle",
        "picture satellite, meetings.picture-height",
        "preveiw ring, preview.ring",
        "sitckers delete, chat.flags-strike",
        "chat.private, chat.private",
        "loby, meetings.gangway"
    })
    void settingsAreFoundByTheWordsPeopleUseAndDespiteSlips(String typed, String key) {
        assertThat(INDEX.find(FuzzyMatcher.words(typed), EnumSet.of(SearchIndex.HitKind.SETTING), 3))
                .extracting(SearchIndex.Hit::id)
                .contains(key);
    }

    @Test
    void namesAreFoundWithoutAccentsAndWithSlips() {
        Set<SearchIndex.HitKind> accounts = EnumSet.of(SearchIndex.HitKind.ACCOUNT);
        assertThat(INDEX.find(FuzzyMatcher.words("MIRELA"), accounts, 3).get(0).title())
                .isEqualTo("Mirela Osk");
        assertThat(INDEX.find(FuzzyMatcher.words("mirella ósk"), accounts, 3)
                        .get(0)
                        .title())
                .isEqualTo("Mirela Osk");
        assertThat(INDEX.find(FuzzyMatcher.words("osk mir"), accounts, 3).get(0).title())
                .isEqualTo("Mirela Osk");
        assertThat(INDEX.find(FuzzyMatcher.words(""), accounts, 3)).isEmpty();
        assertThat(INDEX.find(FuzzyMatcher.words("qqqqqq"), accounts, 3)).isEmpty();
    }

    @Test
    void freeTypingIsReadAsSomebodyAndASetting() {
        for (String typed : new String[] {
            "mirela private chat", "private chat mirela", "why can mirela not talk in private?", "mirella privte chat"
        })
            assertThat(INDEX.readings(FuzzyMatcher.words(typed)).get(0))
                    .as(typed)
                    .satisfies(r -> {
                        assertThat(r.who().title()).isEqualTo("Mirela Osk");
                        assertThat(r.what().id()).isEqualTo("chat.private");
                    });
    }

    @ParameterizedTest(name = "{0} is about {2}")
    @CsvSource({
        "fleet captions, unit, Fleet, meetings.captions",
        "captions fleet, unit, Fleet, meetings.captions",
        "captoins fleet, unit, Fleet, meetings.captions",
        "night watch read receipts, group, Night watch, chat.order-read",
        "everyone external sharing, everyone, Everyone, files.share",
        "external sharing everybody, everyone, Everyone, files.share",
        "skerrymore ferries external sharing, everyone, Everyone, files.share",
        "mv heron private chat, unit, MV Heron, chat.private"
    })
    void freeTypingIsReadAsAUnitAGroupOrEveryone(String typed, String kind, String who, String what) {
        assertThat(INDEX.readings(FuzzyMatcher.words(typed)).get(0)).satisfies(r -> {
            assertThat(JsonWriter.word(r.who().kind())).isEqualTo(kind);
            assertThat(r.who().title()).isEqualTo(who);
            assertThat(r.what().id()).isEqualTo(what);
        });
    }

    @Test
    void whatEditsAddAlterAndTakeAwayIsFoundAsTheyLeaveIt() {
        JsonNode demo = new DemoEstate().build();
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(demo));
        JsonNode edits = Json.read("""
                [{"kind": "add-account", "account": {"id": "new-one", "userName": "quill.tarn@skerrymore.example",
                  "displayName": "Quillon Tarn", "kind": "person", "unit": "engineering"}},
                 {"kind": "add-workspace", "workspace": {"id": "new-room", "name": "Quarterdeck", "size": "M"}},
                 {"kind": "add-plan", "plan": {"id": "new-plan", "name": "Quayside plan", "seats": 3, "components": []}},
                 {"kind": "add-group", "group": {"id": "new-group", "name": "Quay walkers", "purpose": "access"}},
                 {"kind": "amend-account", "account": "mirela.osk", "members": {"displayName": "Quenby Osk"}}]""");
        EditSession editSession = new EditSession(
                compiledEstate,
                (section, id) -> StreamSupport.stream(demo.get(section.member()).spliterator(), false)
                        .filter(part -> part.get("id").asText().equals(id))
                        .map(ObjectNode.class::cast)
                        .findFirst()
                        .orElseThrow());
        Defects defects = new Defects();
        for (JsonNode edit : edits)
            assertThat(editSession.apply(new JsonCursor(edit, "", defects)))
                    .as(edit + " " + defects.all())
                    .isPresent();
        SearchIndex after = new SearchIndex(compiledEstate.estate())
                .update(editSession.compile().estate(), editSession.writeSet())
                .orElseThrow();
        Set<SearchIndex.HitKind> accounts = EnumSet.of(SearchIndex.HitKind.ACCOUNT);
        assertThat(after.find(FuzzyMatcher.words("quillon"), accounts, 1))
                .extracting(SearchIndex.Hit::id)
                .containsExactly("new-one");
        assertThat(after.find(FuzzyMatcher.words("quenby osk"), accounts, 1))
                .extracting(SearchIndex.Hit::id)
                .containsExactly("mirela.osk");
        assertThat(after.find(FuzzyMatcher.words("mirela"), accounts, 9))
                .extracting(SearchIndex.Hit::title)
                .doesNotContain("Mirela Osk");
        assertThat(after.find(FuzzyMatcher.words("kerensa osk"), accounts, 1))
                .extracting(SearchIndex.Hit::title)
                .containsExactly("Kerensa Osk");
        assertThat(after.find(FuzzyMatcher.words("quarterdeck"), EnumSet.of(SearchIndex.HitKind.WORKSPACE), 1))
                .extracting(SearchIndex.Hit::id)
                .containsExactly("new-room");
        assertThat(after.find(FuzzyMatcher.words("quayside"), EnumSet.of(SearchIndex.HitKind.PLAN), 1))
                .extracting(SearchIndex.Hit::id)
                .containsExactly("new-plan");
        assertThat(after.find(FuzzyMatcher.words("quay walkers"), EnumSet.allOf(SearchIndex.HitKind.class), 1))
                .extracting(SearchIndex.Hit::id)
                .containsExactly("new-group");
    }
}
