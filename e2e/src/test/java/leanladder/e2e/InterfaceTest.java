package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.openqa.selenium.Keys;

/** The real interface over a real server and a real PostgreSQL with the demo estate. */
class InterfaceTest {
    private static final String MIRELA = "/ladder?who=account:mirela.osk&what=setting:chat.private";

    /** For all tests that only read. */
    private static RunningServer shared;

    private static Browser sharedBrowser;

    private RunningServer server;
    private Browser browser;

    @BeforeAll
    static void start() throws Exception {
        shared = started("interface_test");
        sharedBrowser = new Browser(shared.address(), 1280, 800);
    }

    @AfterAll
    static void stop() throws Exception {
        sharedBrowser.close();
        shared.close();
    }

    private static RunningServer started(String database) throws Exception {
        return RunningServer.start(
                ThrowAwayPostgres.get(), database, Path.of("../web/dist"), Json.write(new DemoEstate().build()));
    }

    @BeforeEach
    void share() {
        server = shared;
        browser = sharedBrowser;
        browser.forget();
    }

    /** A server and a browser for one test alone: one that publishes. */
    private void alone() throws Exception {
        server = started("interface_alone");
        browser = new Browser(server.address(), 1280, 800);
    }

    @AfterEach
    void close() throws Exception {
        if (browser != sharedBrowser) browser.close();
        if (server != shared) server.close();
    }

    @Test
    void aQuestionTypedFreelyIsAnsweredWithVerdicts() {
        browser.open("/ladder");
        browser.sees("What do you want to know?");
        browser.keys("/");
        browser.choose("Ask anything", "may mirella privat chat?", "Mirela Osk · Talk between two");
        browser.outcome(
                "No. Talk between two is off for Mirela Osk. Bridge under way turned it off for MV Heron / Bridge.");
        browser.ladder("Relief captain says On; by Mirela Osk: window ended 2 Nov");
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
        browser.ladder("Gate closed: Record meetings on; Record meetings is Off");
        browser.press("Where Bridge handbook");
        browser.press("No particular workspace");
        browser.outcome("two gates are closed");
        browser.sees("Can differ by workspace");
    }

    @Test
    void aCapBendsAValueAndAListGathers() {
        browser.open("/ladder?who=account:joaquim.lamego&what=setting:files.share");
        browser.outcome(
                "Customs. Reach of cargo papers for Joaquim Lamego. Freight partners asks for waybill holders, but Outside sharing caps it at customs");
        browser.ladder("Outside sharing caps at customs: caps the value");
        browser.open("/ladder?who=account:mirela.osk&what=setting:mail.blocked-domains");
        browser.outcome("Six entries.");
        browser.ladder(
                "House rules says free-cruise.example, prize-draw.example; by Skerrymore Ferries: adds to the list");
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
    void aPolicyListsItsPeopleWithTheWayInAndThoseLeftOutWithTheReason() {
        browser.open("/policies/watch-keepers");
        browser.sees("Reached 17");
        browser.press("Excluded 1");
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
    void anAnswerIsCopiedAsLinkAndAsText() {
        browser.open(MIRELA);
        browser.outcome("No.");
        copy("The answer as text, for a ticket", "The answer is copied");
        assertThat(browser.clipboard())
                .startsWith("No. Talk between two is off for Mirela Osk.")
                .contains("person: Relief captain sets On (Mirela Osk by name) — window ended 2 Nov")
                .contains(MIRELA);
        copy("The sentence to read aloud", "The sentence is copied");
        assertThat(browser.clipboard())
                .isEqualTo(
                        "No. Talk between two is off for Mirela Osk. Bridge under way turned it off for MV Heron / Bridge.");
        copy("The link", "Link is copied");
        assertThat(browser.clipboard()).endsWith(MIRELA);
    }

    private void copy(String what, String said) {
        browser.press("Copy");
        browser.role("menuitem", what).click();
        browser.sees(said);
    }

    @Test
    void anInstantToComeAnswersWithWhatBeginsThen() {
        browser.open("/ladder?who=account:mirela.osk&what=setting:meetings.muster-drill&when=2126-12-02T10:00:00Z");
        browser.outcome("No.");
        browser.sees("when nothing else is published");
        browser.ladder("Winter drills says On");
    }

    @Test
    void anExceptionIsFoundInTheOneListAndOpensItsPolicy() {
        browser.open("/policies");
        browser.press("Exceptions");
        browser.type("Filter the exceptions", "stewards");
        browser.sees("1 exception of 13 shown");
        browser.press("Safety stewards, left out of Bridge under way");
        browser.sees("Decides for 57 of 74");
        browser.sees("1 exception of 13 shown");
    }

    @Test
    void aLengthOfTheLadderForManyListsItsAccounts() {
        browser.open("/ladder?who=everyone&what=setting:chat.private");
        browser.outcome("On for 514, Off for 102. Talk between two in Chat for everyone, 616 accounts.");
        browser.press("Safety stewards' talk: On for 19 accounts");
        browser.sees("On, by Safety stewards' talk");
        browser.sees("19 accounts");
        browser.press("Who everyone");
        browser.choose("Who", "heron bridge", "Bridge");
        browser.sees("for Bridge");
    }

    @Test
    void listsOfTheDirectoryAreSearchedAndTheFilterIsSaidAndCleared() {
        browser.open("/directory/people");
        browser.sees("583 people");
        browser.type("Search the people", "mirela");
        browser.sees("with “mirela”.");
        browser.press("Show all");
        browser.sees("583 people");
        browser.press("Groups");
        browser.press("All officers");
        browser.sees("Bridge officers");
        browser.sees("a group of");
        browser.sees("included");
    }

    @Test
    void whatDiffersBetweenTwoDaysIsTold() throws Exception {
        alone();
        server.post(
                "{\"base\":1,\"note\":\"Talk again\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}}]}");
        String first =
                Json.read(server.get("/api/v1/changes/1").body()).get("at").asText();
        browser.open("/logbook?between=" + first + "&and=now");
        browser.sees("57 accounts have other values");
        browser.sees("Talk between two");
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
        browser.sees("In their ranking");
    }

    @Test
    void seatsAreBoughtPassOnToThoseWhoWaitAndTheNextGetsALeavers() throws Exception {
        alone();
        browser.open("/seats/assistant-add-on");
        browser.sees("All 25 seats held, 5 waiting");
        browser.type("How many seats", "3");
        browser.press("Buy");
        browser.sees("All 28 seats held, 2 waiting");
        browser.press("Review");
        browser.sees("3 accounts get one, and with it Assistant");
        browser.sees("because 3 more seats were bought");
        browser.press("Publish");
        browser.sees("Change 2 is published");
        browser.open("/logbook/2");
        browser.sees("was given a seat of Assistant add-on");
        browser.open("/seats/assistant-add-on");
        browser.sees("2 wait");
        String leaver = Json.read(server.get("/api/v1/plans/assistant-add-on/claims?limit=1")
                        .body())
                .at("/claims/0/account")
                .asText();
        var left = server.post("{\"base\":2,\"note\":\"Leaves\",\"edits\":[{\"kind\":\"amend-account\",\"account\":\""
                + leaver + "\",\"members\":{\"active\":false}}]}");
        assertThat(left.statusCode()).as(left.body()).isEqualTo(201);
        // Nobody reloads: the browser is told.
        browser.sees("All 28 seats held, 1 waiting");
        browser.sees("came free");
    }

    @Test
    void whatItWouldTakeIsStagedAndSeenInThePlan() throws Exception {
        alone();
        browser.open("/ladder?who=account:yara.brekke&what=setting:assistant.use");
        browser.sees("What opens the gate");
        browser.sees("Buy a seat of Assistant add-on and give it");
        browser.open("/seats?list=needed&who=unit:engineering&what=setting:assistant.use");
        browser.sees("seats of Assistant add-on to buy");
        browser.press("Add to draft");
        browser.sees("1 edit");
        browser.open("/seats/assistant-add-on");
        browser.sees("Engineering");
    }

    /** Takes the pictures of docs/screenshots when asked to: mvn verify -Dladder.pictures=true. */
    @Test
    @EnabledIfSystemProperty(named = "ladder.pictures", matches = "true")
    void picturesOfTheMainViews() throws Exception {
        alone();
        Path to = Path.of("../docs/screenshots");
        shoot(MIRELA, "Bridge under way turned", to.resolve("ladder.png"));
        browser.press("On");
        browser.sees("A policy of its own");
        browser.picture(to.resolve("change-here.png"));
        shoot(
                "/ladder?who=account:yara.brekke&what=setting:meetings.summary&where=workspace:bridge-handbook",
                "three gates are closed",
                to.resolve("ladder-gates.png"));
        shoot("/ladder?who=account:joaquim.lamego&what=setting:files.share", "caps it", to.resolve("ladder-cap.png"));
        shoot("/ladder?who=account:zofia.lisowa&what=setting:files.share", "locked it", to.resolve("ladder-lock.png"));
        shoot("/settings/files.share", "Policies that state something", to.resolve("settings.png"));
        server.post(
                "{\"base\":1,\"note\":\"Talk on the bridge, asked for by the officers\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}},{\"kind\":\"rank-policy\",\"policy\":\"old-bridge-rules\",\"above\":null}]}");
        server.post(
                "{\"base\":2,\"note\":\"Quiet again: the pilots asked\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":false}},{\"kind\":\"rank-policy\",\"policy\":\"old-bridge-rules\",\"above\":\"assistant-pilot\"}]}");
        shoot("/logbook/2", "57 accounts changed", to.resolve("logbook.png"));
        shoot("/ladder?who=everyone&what=setting:chat.private", "Ship network", to.resolve("ladder-for-many.png"));
        shoot("/matrix", "Engineering", to.resolve("matrix.png"));
        shoot("/seats", "Worth looking at", to.resolve("seats.png"));
        shoot("/previews/release/meetings.captions", "Ring by ring", to.resolve("previews.png"));
        shoot("/directory/groups/all-officers", "a group of", to.resolve("directory.png"));
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Talk between two", "On");
        browser.sees("people affected");
        browser.picture(to.resolve("policy-sheet.png"));
        browser.press("Review");
        browser.sees("Worth a second look");
        browser.picture(to.resolve("review.png"));
        browser.open(MIRELA);
        browser.press("When now");
        browser.press("After this draft");
        browser.sees("The draft turns it from");
        browser.picture(to.resolve("before-and-after.png"));
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
