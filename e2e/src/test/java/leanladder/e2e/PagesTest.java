package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Every page by every theme and width, altered under its eyes as people do: nothing that keeps a person from using it, and nothing that runs
 * out of the window. In the dark a page is the same but for its colours, and narrow it has the same ones.
 */
class PagesTest {
    private static RunningServer server;
    private static Browser browser;

    @BeforeAll
    static void start() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(), "pages_test", Path.of("../web/dist"), Json.write(new DemoEstate().build()));
        browser = new Browser(server.address(), 1280, 800);
    }

    @AfterAll
    static void stop() throws Exception {
        browser.close();
        server.close();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/ladder?who=account:mirela.osk&what=setting:chat.private",
                "/settings",
                "/settings/files.share",
                "/ladder?who=account:yara.brekke&what=setting:meetings.summary&where=workspace:bridge-handbook",
                "/policies",
                "/policies/bridge-under-way",
                "/policies?list=exceptions",
                "/seats",
                "/seats/winter-plan",
                "/seats?list=needed&who=unit:engineering&what=setting:assistant.use",
                "/matrix",
                "/previews",
                "/previews/release/meetings.captions",
                "/previews/ring/sea-trial",
                "/directory/workspaces/timetable-room",
                "/directory/people",
                "/directory/groups/all-officers",
                "/ladder?who=unit:fleet&what=setting:chat.private",
                "/today",
                "/ladder"
            })
    void axeFindsNothingSeriousAndNothingRunsOut(String page) {
        browser.size(1280, 800);
        browser.open(page);
        browser.sees(seenOn(page));
        fits(page, 1280, Browser.Rules.ALL);
        browser.prefers("dark");
        fits(page, 1280, Browser.Rules.CONTRAST);
        browser.prefers("light");
        fits(page, 1024, Browser.Rules.NOTHING);
        fits(page, 1920, Browser.Rules.NOTHING);
        fits(page, 640, Browser.Rules.ALL_BUT_CONTRAST);
    }

    private static void fits(String page, int width, Browser.Rules rules) {
        browser.size(width, 800);
        browser.settles();
        assertThat(browser.number("document.documentElement.scrollWidth"))
                .as("%s at %d", page, width)
                .isLessThanOrEqualTo(width);
        assertThat(browser.axe(rules)).as("%s at %d, %s", page, width, rules).isEmpty();
    }

    private static String seenOn(String page) {
        if (page.contains("bridge-under-way")) return "Settings";
        if (page.contains("exceptions")) return "13 exceptions";
        if (page.contains("/previews/release")) return "Ring by ring";
        if (page.contains("/previews/ring")) return "It is written into";
        if (page.contains("/settings")) return "changed here";
        if (page.contains("/previews")) return "Check before you start";
        if (page.contains("timetable-room")) return "Settings for this workspace";
        if (page.contains("needed")) return "Plans that would do";
        if (page.contains("winter-plan")) return "The coming twelve weeks";
        if (page.contains("/seats")) return "Worth looking at";
        if (page.contains("/policies")) return "Safety first";
        if (page.contains("/matrix")) return "Engineering";
        if (page.contains("/people")) return "583 people";
        if (page.contains("/groups")) return "Owners";
        if (page.contains("who=unit")) return "Ship network";
        return page.equals("/ladder")
                ? "What do you want"
                : page.equals("/today") ? "the most urgent first" : "As it stands now";
    }
}
