package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.EnumSet;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.demo.DemoEstate;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SearchIndexTest {
    private static final SearchIndex INDEX = new SearchIndex(RandomEstate.read(new DemoEstate().build()));

    @ParameterizedTest(name = "{0} finds {1}")
    @CsvSource({
        "private chats, chat.private",
        "privat chat, chat.private",
        "pirvate chats, chat.private",
        "dm, chat.private",
        "whisper, chat.private",
        "captoins, meetings.captions",
        "subtitels, meetings.captions",
        "asistant, assistant.use",
        "assisstant use, assistant.use",
        "external sharing, files.share",
        "outsied share, files.share",
        "retension chat, chat.keep-days",
        "blocked domians, mail.blocked-domains",
        "spam, mail.blocked-domains",
        "signiture, mail.signature",
        "deligation mailbox, mail.delegate",
        "voicmail, calls.voicemail",
        "muser, meetings.muster",
        "call a muster, meetings.muster",
        "helplink, help.link",
        "help link, help.link",
        "trainig link, help.training",
        "watermark, files.stamp",
        "qouta, files.quota",
        "usb, devices.usb",
        "two factor, devices.second-proof",
        "screen lock timeout, devices.idle",
        "picture satellite, meetings.picture-height",
        "preveiw ring, preview.ring",
        "sitckers delete, chat.stickers-delete",
        "chat.private, chat.private",
        "loby, meetings.lobby"
    })
    void settingsAreFoundByTheWordsPeopleUseAndDespiteSlips(String typed, String key) {
        assertThat(INDEX.find(typed, EnumSet.of(SearchIndex.Kind.SETTING), 3))
                .extracting(SearchIndex.Hit::id)
                .contains(key);
    }

    @Test
    void namesAreFoundWithoutAccentsAndWithSlips() {
        Set<SearchIndex.Kind> accounts = EnumSet.of(SearchIndex.Kind.ACCOUNT);
        assertThat(INDEX.find("MIRELA", accounts, 3).get(0).title()).isEqualTo("Mirela Osk");
        assertThat(INDEX.find("mirella ósk", accounts, 3).get(0).title()).isEqualTo("Mirela Osk");
        assertThat(INDEX.find("osk mir", accounts, 3).get(0).title()).isEqualTo("Mirela Osk");
        assertThat(INDEX.find("", accounts, 3)).isEmpty();
        assertThat(INDEX.find("qqqqqq", accounts, 3)).isEmpty();
    }

    @Test
    void freeTypingIsReadAsSomebodyAndASetting() {
        for (String typed : new String[] {
            "mirela private chat",
            "private chat mirela",
            "why can mirela not start private chats?",
            "mirella privte chats"
        })
            assertThat(INDEX.readings(typed).get(0)).as(typed).satisfies(r -> {
                assertThat(r.who().title()).isEqualTo("Mirela Osk");
                assertThat(r.what().id()).isEqualTo("chat.private");
            });
    }
}
