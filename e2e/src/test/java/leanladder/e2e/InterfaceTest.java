package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import leanladder.demo.DemoEstate;
import leanladder.server.RunningServer;
import leanladder.store.ThrowAwayPostgres;
import leanladder.text.Json;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.Keys;

/** The real interface over a real server and a real PostgreSQL with the demo estate. */
class InterfaceTest {
    private static final String MIRELA = "/ladder?who=account:mirela.osk&what=setting:chat.private";

    private RunningServer server;
    private Browser browser;

    @BeforeEach
    void open() throws Exception {
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "interface_test",
                Path.of("../web/dist"),
                Json.write(new DemoEstate().build()));
        browser = new Browser(server.address(), 1280, 800);
    }

    @AfterEach
    void close() throws Exception {
        browser.close();
        server.close();
    }

    @Test
    void aQuestionTypedFreelyIsAnsweredWithVerdicts() {
        browser.open("/");
        browser.sees("What do you want to know?");
        browser.keys("/");
        browser.choose("Ask anything", "may mirella privat chat?", "Mirela Osk · Start private chats");
        browser.outcome(
                "No. Start private chats is off for Mirela Osk. Bridge under way turned it off for MV Heron / Bridge.");
        browser.ladder("Relief captain says On; by Mirela Osk: window ended 3 Nov");
        browser.ladder("Watch keepers says On; by Night watch: excepted as one of Bridge officers");
        browser.ladder("Talk trial says On; by Bridge officers: paused");
        browser.ladder("Old bridge rules says Off; by Bridge: second in the ranking");
        browser.ladder("House rules says On; by Skerrymore Ferries: lower rung");
        assertThat(browser.url()).contains("who=account:mirela.osk").contains("what=setting:chat.private");
        browser.reload();
        browser.outcome("Bridge under way turned it off");
        browser.press("Ship network says On");
        browser.sees("Also weighed");
    }

    @Test
    void threeClosedGatesAreToldAtOnceAndAWorkspaceMatters() {
        browser.open("/ladder?who=account:yara.brekke&what=setting:meetings.summary&where=workspace:bridge-handbook");
        browser.outcome("No. Written summaries is off for Yara Brekke, working in Bridge handbook.");
        browser.outcome("three gates are closed");
        browser.ladder("Gate closed: Licence for Assistant; Assistant add-on has no seat free, waiting in place 1");
        browser.ladder("Gate closed: Hosting of size M, no trial; Bridge handbook has hosting of size S");
        browser.ladder("Gate closed: Record meetings at On; Record meetings is Off");
        browser.press("Where Bridge handbook");
        browser.press("No particular workspace");
        browser.outcome("two gates are closed");
        browser.sees("A workspace could make it come out otherwise");
    }

    @Test
    void aCapBendsAValueAndAListGathers() {
        browser.open("/ladder?who=account:joaquim.lamego&what=setting:files.share");
        browser.outcome(
                "Proven address. Share outside for Joaquim Lamego. Freight partners asks for link holders, but Outside sharing caps it at proven address");
        browser.ladder("Outside sharing caps at proven address: caps the value");
        browser.open("/ladder?who=account:mirela.osk&what=setting:mail.blocked-domains");
        browser.outcome("Six entries.");
        browser.ladder(
                "House rules says free-cruise.example, prize-draw.example; by Skerrymore Ferries: adds to the list");
    }

    @Test
    void aCopyAimedAtAGroupExceptAnotherChangesTheAnswerThenAPersonThenALock() {
        browser.open("/policies/bridge-under-way?who=account:mirela.osk&what=setting:chat.private");
        browser.press("Copy");
        browser.sees("A copy; it will stand directly below its original");
        browser.type("Name it for what it does", "Officers may talk");
        browser.pick("Value of Start private chats", "On");
        for (String silent : new String[] {"Quiet hours under way", "Read receipts", "Night screen on the bridge"})
            browser.pick("How it speaks on " + silent, "silent");
        browser.script(
                "document.querySelectorAll('ul[aria-label=Included] button[aria-label^=Remove], ul[aria-label=Excepted] button[aria-label^=Remove]').forEach(b => b.click())");
        removeAllTokens();
        browser.choose("Include", "bridge officers", "Bridge officers");
        browser.choose("Except", "safety stewards", "Safety stewards");
        publish("Officers asked for it", "gain");
        browser.follow("See the answer on the ladder");
        browser.outcome(
                "Yes. Start private chats is on for Mirela Osk. Officers may talk turned it on for the group Bridge officers.");

        browser.open("/policies?who=account:mirela.osk&what=setting:chat.private");
        writePolicy("Not Mirela", "Off", "mirela", "Mirela Osk");
        publish("", "lose");
        browser.follow("See the answer on the ladder");
        browser.outcome("Not Mirela turned it off for Mirela Osk by name");
        browser.ladder("Officers may talk says On; by Bridge officers: lower rung");

        browser.open("/policies?who=account:mirela.osk&what=setting:chat.private");
        writePolicy("Everybody talks", "On", "everyone", "Everyone");
        browser.pick("How it speaks on Start private chats", "locked at");
        publish("For the feast", "gain");
        browser.follow("See the answer on the ladder");
        browser.outcome("Everybody talks turned it on, and locked it, for the whole organisation");
        browser.ladder("Not Mirela says Off; by Mirela Osk: cut off by the lock below");
        browser.reload();
        browser.outcome("Everybody talks turned it on, and locked it");
    }

    private void removeAllTokens() {
        browser.until("All tokens are gone", () -> {
            browser.script(
                    "document.querySelector('ul[aria-label=Included] button[aria-label^=Remove], ul[aria-label=Excepted] button[aria-label^=Remove]')?.click()");
            return browser.number(
                            "document.querySelectorAll('ul[aria-label=Included] li, ul[aria-label=Excepted] li').length")
                    == 0;
        });
    }

    private void writePolicy(String name, String value, String typed, String whom) {
        browser.press("New policy");
        browser.type("Name it for what it does", name);
        browser.choose("Add a setting", "private chat", "Start private chats");
        browser.pick("Value of Start private chats", value);
        browser.choose("Include", typed, whom);
    }

    private void publish(String note, String effect) {
        browser.sees(effect);
        browser.press("Read over");
        browser.sees("Start private chats");
        browser.type("Note", note);
        browser.press("Publish");
        browser.sees("is published");
    }

    @Test
    void aWrongValueIsRefusedWithTheReasonAndStaysTyped() {
        browser.open("/policies/ships-on-satellite");
        browser.type("Value of Picture size over satellite", "99999");
        browser.sees("Picture size over satellite must lie between 0 and 1080.");
        assertThat(browser.valueOf("Value of Picture size over satellite")).isEqualTo("99999");
        browser.reload();
        browser.sees("Picture size over satellite must lie between 0 and 1080.");
        assertThat(browser.valueOf("Value of Picture size over satellite")).isEqualTo("99999");
        browser.type("Value of Picture size over satellite", "480");
        browser.sees("accounts change");
        browser.press("Discard");
        browser.until(
                "The value is back",
                () -> browser.valueOf("Value of Picture size over satellite").equals("240"));
    }

    @Test
    void aMissingLicenceBlocksAndTheListCanBeFilteredToIt() {
        browser.open("/ladder?who=account:yara.brekke&what=setting:assistant.use");
        browser.outcome(
                "No. Use the assistant is off for Yara Brekke. Assistant pilot says on, but one gate is closed: Assistant add-on has no seat free");
        browser.until("The filter for blocked settings", () -> {
            browser.script(
                    "[...document.querySelectorAll('button')].find(b => b.textContent.startsWith('Blocked')).click()");
            return browser.body().contains("Show all");
        });
        browser.press("Show all");
    }

    @Test
    void theRankingMovesByKeyboardAndThePolicyCanBePausedAndDeleted() {
        browser.open("/policies");
        browser.sees("Old bridge rules");
        browser.script("document.querySelector('[data-policy=old-bridge-rules]').focus()");
        browser.keys(Keys.chord(Keys.ALT, Keys.ARROW_UP));
        browser.sees("1 move in the ranking");
        browser.sees("accounts change");
        browser.press("Read over");
        browser.sees("Quiet hours under way");
        browser.press("Publish");
        browser.sees("Change 2 is published");
        browser.press("Close");
        browser.open("/policies/talk-trial");
        browser.press("Resume");
        browser.sees("1 change of name or state");
        browser.press("Discard");
        browser.press("Delete");
        browser.sees("policy deleted");
        browser.sees("No value changes");
        browser.press("Read over");
        browser.press("Publish");
        browser.sees("Change 3 is published");
    }

    @Test
    void theRankingMovesByMouse() {
        browser.open("/policies");
        browser.sees("Old bridge rules");
        browser.drag("Move Old bridge rules in the ranking", "Move Watch keepers in the ranking");
        browser.sees("1 move in the ranking");
        browser.until(
                "Old bridge rules stands sixth",
                () -> browser.number(
                                "[...document.querySelectorAll('[data-policy]')].findIndex(e => e.dataset.policy === 'old-bridge-rules')")
                        == 5);
        browser.press("Discard");
        browser.until(
                "It stands ninth again",
                () -> browser.number(
                                "[...document.querySelectorAll('[data-policy]')].findIndex(e => e.dataset.policy === 'old-bridge-rules')")
                        == 8);
    }

    @Test
    void aPolicyListsItsPeopleWithTheWayInAndThoseLeftOutWithTheReason() {
        browser.open("/policies/watch-keepers");
        browser.sees("Reached 17");
        browser.press("Named and left out 1");
        browser.sees("excepted as one of Bridge officers, else by Night watch");
        browser.press("Reached 17");
        browser.type("Find in this list", "nobody by this name");
        browser.sees("Nobody here is called");
        browser.open("/policies/officers-tools");
        browser.sees("by All officers › Bridge officers");
        browser.type("Find in this list", "mirela");
        browser.sees("1 account of 71 shown");
        browser.follow("Mirela Osk");
        browser.sees("Second officer");
    }

    @Test
    void halfAFamilyIsFlaggedAndCompletedInOneStep() {
        browser.open("/policies/blocks-for-the-office");
        browser.sees("Half of Interactive blocks: it is silent on Interactive blocks in mail.");
        browser.press("On everywhere");
        browser.until("The family is whole", () -> !browser.body().contains("Half of Interactive blocks"));
        browser.sees("1 statement");
        browser.sees("accounts change");
    }

    @Test
    void anAnswerIsCopiedAsLinkAndAsText() {
        browser.open(MIRELA);
        browser.outcome("No.");
        copy("The answer as text, for a ticket", "The answer is copied");
        assertThat(browser.clipboard())
                .startsWith("No. Start private chats is off for Mirela Osk.")
                .contains("person: Relief captain sets On (Mirela Osk by name) — window ended 3 Nov")
                .contains(MIRELA);
        copy("The sentence to read aloud", "The sentence is copied");
        assertThat(browser.clipboard())
                .isEqualTo(
                        "No. Start private chats is off for Mirela Osk. Bridge under way turned it off for MV Heron / Bridge.");
        copy("The link", "Link is copied");
        assertThat(browser.clipboard()).endsWith(MIRELA);
    }

    private void copy(String what, String said) {
        browser.press("Copy");
        browser.role("menuitem", what).click();
        browser.sees(said);
    }

    @Test
    void whatSomebodyElsePublishedMeanwhileIsShownWithBothSides() throws Exception {
        browser.open("/policies/house-rules");
        browser.pick("Value of Start private chats", "Off");
        browser.sees("accounts change");
        server.post(
                "{\"base\":1,\"note\":\"meanwhile\",\"edits\":[{\"kind\":\"remove-statement\",\"policy\":\"house-rules\",\"setting\":\"chat.private\",\"says\":\"set\"}]}");
        browser.press("Read over");
        browser.press("Publish");
        browser.sees("Somebody published meanwhile");
        browser.sees(
                "House rules no longer sets Start private chats. Yours: House rules sets Start private chats to Off.");
        browser.press("Put mine on top");
        browser.press("Publish");
        browser.sees("Change 3 is published");
    }

    @Test
    void theLogbookTellsAChangeAndThePastIsAskedAsItStood() throws Exception {
        server.post(
                "{\"base\":1,\"note\":\"Talk again\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}}]}");
        String before =
                Json.read(server.get("/api/v1/changes/2").body()).get("at").asText();
        browser.open(MIRELA + "&when=" + java.time.Instant.parse(before).minusMillis(1));
        browser.outcome("No. Start private chats is off for Mirela Osk.");
        browser.sees("As it stood on");
        browser.sees("change 1.");
        browser.open(MIRELA);
        browser.outcome("Yes. Start private chats is on for Mirela Osk.");
        browser.keys("g");
        browser.keys("b");
        browser.sees("Every published change, the newest first.");
        browser.press("Change 2: Talk again");
        browser.sees("Bridge under way sets Start private chats to On");
        browser.sees("57 accounts changed: 57 gained");
        browser.reload();
        browser.sees("Change 2, ");
        assertThat(browser.axe()).isEmpty();
        browser.press("Undo");
        browser.sees("Undo of change 2: 1 statement.");
        browser.sees("Lose 57");
        browser.type("Note", "Not after all");
        browser.press("Publish");
        browser.sees("Change 3 is published");
        browser.follow("See the answer on the ladder");
        browser.outcome("No. Start private chats is off for Mirela Osk.");
        browser.open("/logbook/2");
        browser.press("Undo");
        browser.sees("Change 3 by Ivo Tarn: Bridge under way sets Start private chats to Off");
        browser.press("Keep theirs");
        browser.open("/logbook/1");
        browser.press("Undo");
        browser.sees("Put an export from before it in its place instead.");
    }

    @Test
    void anInstantToComeAnswersWithWhatBeginsThen() {
        browser.open("/ladder?who=account:mirela.osk&what=setting:meetings.muster-drill&when=2126-12-02T10:00:00Z");
        browser.outcome("No.");
        browser.sees("when nothing else is published");
        browser.ladder("Winter drills says On");
    }

    @ParameterizedTest
    @CsvSource({"light,1280", "dark,1280", "light,1024", "light,1920", "light,640"})
    void axeFindsNothingSeriousAndNothingRunsOut(String theme, int width) throws Exception {
        browser.close();
        browser = new Browser(server.address(), width, 800);
        browser.open("/");
        browser.script("localStorage.setItem('theme', '" + theme + "')");
        for (String page : new String[] {
            MIRELA,
            "/ladder?who=account:yara.brekke&what=setting:meetings.summary&where=workspace:bridge-handbook",
            "/policies",
            "/policies/bridge-under-way",
            "/"
        }) {
            browser.open(page);
            browser.sees(
                    page.contains("bridge-under-way")
                            ? "Says"
                            : page.contains("policies")
                                    ? "Safety first"
                                    : page.equals("/") ? "What do you want" : "As it stands now");
            assertThat(browser.axe()).as("%s in %s at %d", page, theme, width).isEmpty();
            assertThat(browser.number("document.documentElement.scrollWidth"))
                    .as(page)
                    .isLessThanOrEqualTo(width);
        }
    }

    @Test
    void theLadderIsWalkedByKeyboard() {
        browser.open(MIRELA);
        browser.ladder("Relief captain");
        browser.script("document.querySelector('svg[role=list] [tabindex=\"0\"]').focus()");
        assertThat(browser.focused()).startsWith("Relief captain");
        browser.keys(Keys.ARROW_DOWN);
        assertThat(browser.focused()).startsWith("Watch keepers");
        browser.keys(Keys.ENTER);
        browser.sees("Also weighed");
        browser.keys("?");
        browser.sees("show these keys");
        browser.keys(Keys.ESCAPE);
        browser.keys("g");
        browser.keys("p");
        browser.sees("Policies in their ranking");
    }

    /** Takes the pictures of docs/screenshots when asked to: mvn verify -Dladder.pictures=true. */
    @Test
    void picturesOfTheMainViews() throws Exception {
        Path to = Boolean.getBoolean("ladder.pictures")
                ? Path.of("../docs/screenshots")
                : Files.createTempDirectory("pictures");
        Files.createDirectories(to);
        shoot(MIRELA, "Bridge under way turned", to.resolve("ladder.png"));
        shoot(
                "/ladder?who=account:yara.brekke&what=setting:meetings.summary&where=workspace:bridge-handbook",
                "three gates are closed",
                to.resolve("ladder-gates.png"));
        shoot("/ladder?who=account:joaquim.lamego&what=setting:files.share", "caps it", to.resolve("ladder-cap.png"));
        shoot("/ladder?who=account:zofia.lisowa&what=setting:files.share", "locked it", to.resolve("ladder-lock.png"));
        shoot("/policies", "Safety first", to.resolve("policies.png"));
        server.post(
                "{\"base\":1,\"note\":\"Talk on the bridge, asked for by the officers\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}},{\"kind\":\"rank-policy\",\"policy\":\"old-bridge-rules\",\"above\":null}]}");
        server.post(
                "{\"base\":2,\"note\":\"Quiet again: the pilots asked\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":false}},{\"kind\":\"rank-policy\",\"policy\":\"old-bridge-rules\",\"above\":\"assistant-pilot\"}]}");
        shoot("/logbook/2", "57 accounts changed", to.resolve("logbook.png"));
        browser.open("/policies/officers-tools");
        browser.sees("by All officers");
        browser.script("document.querySelector('section[aria-label=Reaches]').scrollIntoView({block: 'end'})");
        browser.picture(to.resolve("policy-reaches.png"));
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Start private chats", "On");
        browser.sees("accounts change");
        browser.picture(to.resolve("policy-sheet.png"));
        browser.press("Read over");
        browser.sees("Back to the edits");
        browser.picture(to.resolve("read-over.png"));
        browser.open("/");
        browser.script("localStorage.setItem('theme', 'dark')");
        shoot(MIRELA, "Bridge under way turned", to.resolve("ladder-dark.png"));
        assertThat(Files.size(to.resolve("ladder-dark.png"))).isGreaterThan(10_000);
    }

    private void shoot(String page, String seen, Path to) throws Exception {
        browser.open(page);
        browser.sees(seen);
        browser.sees("Ivo Tarn");
        browser.picture(to);
    }
}
