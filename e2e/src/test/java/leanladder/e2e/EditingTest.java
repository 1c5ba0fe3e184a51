package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import leanladder.demo.DemoEstate;
import leanladder.document.Json;
import leanladder.server.Hands;
import leanladder.server.RunningServer;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;

/** Editing in the real interface: drafts, reading over, publishing, and what others do meanwhile. */
class EditingTest {
    private static final String MIRELA = "who=account:mirela.osk&what=setting:chat.private";

    private Hands clock;
    private RunningServer server;
    private Browser browser;

    @BeforeEach
    void open() throws Exception {
        clock = new Hands();
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "editing_test",
                Path.of("../web/dist"),
                Json.write(new DemoEstate().build()),
                clock);
        browser = new Browser(server.address(), 1280, 800);
    }

    @AfterEach
    void close() throws Exception {
        browser.close();
        server.close();
    }

    private void name(String name) {
        browser.type("Name it for what it does", name);
        browser.keys(Keys.ENTER);
    }

    private void writePolicy(String name, String value, String typed, String whom) {
        browser.press("New policy");
        name(name);
        browser.sees("Silent on everything so far");
        browser.choose("Add a setting", "private chat", "Start private chats");
        browser.pick("Value of Start private chats", value);
        browser.choose("Include", typed, whom);
    }

    private void publish(String note, String effect) {
        browser.sees(effect);
        browser.press("Read over");
        browser.sees("The edits");
        browser.type("Note", note);
        browser.press("Publish");
        browser.sees("is published");
    }

    @Test
    void aCopyAimedAtAGroupExceptAnotherChangesTheAnswerThenAPersonThenALock() {
        browser.open("/policies/bridge-under-way?" + MIRELA);
        browser.press("Copy");
        browser.until(
                "The copy is open",
                () -> browser.valueOf("Name it for what it does").equals("Bridge under way, copy"));
        name("Officers may talk");
        browser.pick("Value of Start private chats", "On");
        for (String silent : new String[] {"Quiet hours under way", "Read receipts", "Night screen on the bridge"})
            browser.pick("How it speaks on " + silent, "silent");
        browser.until("All tokens are gone", () -> {
            browser.script(
                    "document.querySelector('ul[aria-label=Included] button[aria-label^=Remove], ul[aria-label=Excepted] button[aria-label^=Remove]')?.click()");
            return browser.number(
                            "document.querySelectorAll('ul[aria-label=Included] li, ul[aria-label=Excepted] li').length")
                    == 0;
        });
        browser.choose("Include", "bridge officers", "Bridge officers");
        browser.choose("Except", "safety stewards", "Safety stewards");
        publish("Officers asked for it", "gain");
        browser.follow("See the answer on the ladder");
        browser.outcome(
                "Yes. Start private chats is on for Mirela Osk. Officers may talk turned it on for the group Bridge officers.");

        browser.open("/policies?" + MIRELA);
        writePolicy("Not Mirela", "Off", "mirela", "Mirela Osk");
        publish("", "lose");
        browser.follow("See the answer on the ladder");
        browser.outcome("Not Mirela turned it off for Mirela Osk by name");
        browser.ladder("Officers may talk says On; by Bridge officers: lower rung");

        browser.open("/policies?" + MIRELA);
        writePolicy("Everybody talks", "On", "everyone", "Everyone");
        browser.pick("How it speaks on Start private chats", "locked at");
        publish("For the feast", "gain");
        browser.follow("See the answer on the ladder");
        browser.outcome("Everybody talks turned it on, and locked it, for the whole organisation");
        browser.ladder("Not Mirela says Off; by Mirela Osk: cut off by the lock below");
        browser.reload();
        browser.outcome("Everybody talks turned it on, and locked it");
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
        browser.press("Undo");
        browser.until(
                "The value is back",
                () -> browser.valueOf("Value of Picture size over satellite").equals("240"));
        browser.press("Redo");
        browser.until(
                "The value is there again",
                () -> browser.valueOf("Value of Picture size over satellite").equals("480"));
    }

    @Test
    void theRankingMovesByKeyboardAndThePolicyCanBePausedAndDeleted() {
        browser.open("/policies");
        browser.sees("Old bridge rules");
        browser.script("document.querySelector('[data-policy=old-bridge-rules]').focus()");
        browser.keys(Keys.chord(Keys.ALT, Keys.ARROW_UP));
        browser.sees("Old bridge rules moves above Bridge under way");
        browser.sees("accounts change");
        browser.press("Read over");
        browser.sees("Quiet hours under way");
        browser.press("Publish");
        browser.sees("Change 2 is published");
        browser.open("/policies/talk-trial");
        browser.press("Resume");
        browser.sees("Talk trial is live again");
        browser.press("Undo");
        browser.sees("no edit");
        browser.press("Delete");
        browser.sees("Nobody would notice");
        browser.press("Delete it in the draft");
        browser.sees("Talk trial is deleted");
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
        browser.sees("1 edit");
        browser.until(
                "Old bridge rules stands sixth",
                () -> browser.number(
                                "[...document.querySelectorAll('[data-policy]')].findIndex(e => e.dataset.policy === 'old-bridge-rules')")
                        == 5);
        browser.press("Undo");
        browser.until(
                "It stands ninth again",
                () -> browser.number(
                                "[...document.querySelectorAll('[data-policy]')].findIndex(e => e.dataset.policy === 'old-bridge-rules')")
                        == 8);
    }

    @Test
    void halfAFamilyIsFlaggedAndCompletedInOneStep() {
        browser.open("/policies/blocks-for-the-office");
        browser.sees("Half of Interactive blocks: it is silent on Interactive blocks in mail.");
        browser.press("On everywhere");
        browser.until("The family is whole", () -> !browser.body().contains("Half of Interactive blocks"));
        browser.sees("1 edit");
        browser.sees("accounts change");
    }

    @Test
    void whatSomebodyElsePublishedMeanwhileIsShownWithBothSides() throws Exception {
        browser.open("/policies/house-rules");
        browser.pick("Value of Start private chats", "Off");
        browser.sees("accounts change");
        try (Browser other = new Browser(server.address(), 1280, 800)) {
            other.open("/policies/house-rules");
            other.pick("How it speaks on Start private chats", "silent");
            other.press("Read over");
            other.sees("House rules no longer sets Start private chats");
            other.type("Note", "meanwhile");
            other.press("Publish");
            other.sees("Change 2 is published");
            browser.sees("published change 2: meanwhile");
        }
        browser.sees("One edit does not stand");
        browser.press("Read over");
        browser.sees(
                "House rules no longer sets Start private chats. Yours: House rules sets Start private chats to Off.");
        browser.press("Put mine on top");
        browser.until("Nothing clashes", () -> !browser.body().contains("does not stand"));
        browser.press("Publish");
        browser.sees("Change 3 is published");
    }

    @Test
    void aChangeIsToldAndUndoneAndThePastIsAskedAsItStood() throws Exception {
        server.post(
                "{\"base\":1,\"note\":\"Talk again\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}}]}");
        String before =
                Json.read(server.get("/api/v1/changes/2").body()).get("at").asText();
        browser.open("/ladder?" + MIRELA + "&when=" + Instant.parse(before).minusMillis(1));
        browser.outcome("No. Start private chats is off for Mirela Osk.");
        browser.sees("As it stood on");
        browser.sees("change 1.");
        browser.open("/ladder?" + MIRELA);
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
        browser.sees("57 accounts change");
        assertThat(browser.valueOf("Name of the draft")).isEqualTo("Undo of change 2");
        assertThat(browser.axe()).isEmpty();
        browser.type("Note", "Not after all");
        browser.press("Publish");
        browser.sees("Change 3 is published");
        browser.follow("See the answer on the ladder");
        browser.outcome("No. Start private chats is off for Mirela Osk.");
        browser.open("/logbook/2");
        browser.press("Undo");
        browser.sees("Change 3 by Ivo Tarn");
        browser.press("Keep theirs");
        browser.sees("There is nothing to read over");
        browser.open("/logbook/1");
        browser.press("Undo");
        browser.sees("Put an export from before it in its place instead.");
    }

    @Test
    void aDraftOutlivesTheServerIsPutAsideAndTakenUpAgain() throws Exception {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Start private chats", "On");
        browser.sees("57 accounts change");
        browser.type("Name of the draft", "Talk on the bridge");
        browser.keys(Keys.ENTER);
        browser.until(
                "The name is kept", () -> server.get("/api/v1/drafts").body().contains("Talk on the bridge"));
        server = server.restarted();
        browser.reload();
        browser.sees("57 accounts change");
        browser.until(
                "The draft has its name",
                () -> browser.valueOf("Name of the draft").equals("Talk on the bridge"));
        browser.open("/ladder?" + MIRELA);
        browser.outcome("No.");
        browser.press("When now");
        browser.press("After Talk on the bridge");
        browser.outcome("Yes. Start private chats is on for Mirela Osk.");
        browser.sees("The draft turns it from Off to On.");
        browser.press("Put aside");
        browser.open("/policies/bridge-under-way");
        browser.until(
                "Nothing is staged",
                () -> browser.valueOf("Value of Start private chats").equals("false"));
        browser.press("1 draft put aside");
        browser.press("Take up");
        browser.until(
                "The edit is back",
                () -> browser.valueOf("Value of Start private chats").equals("true"));
    }

    @Test
    void aPastedListReportsFiveKindsOfFaultyLines() throws Exception {
        server.post(
                "{\"base\":1,\"note\":\"\",\"edits\":[{\"kind\":\"add-account\",\"account\":{\"id\":\"second-mirela\",\"userName\":\"m.osk@skerrymore.example\",\"displayName\":\"Mirela Osk\",\"kind\":\"person\",\"unit\":\"engineering\"}}]}");
        browser.open("/policies/dry-dock-testers");
        browser.press("Add or take out many by pasting a list");
        browser.type(
                "Addresses, one a line",
                "Zofia Lisowa <zofia.lisowa@skerrymore.example>\nnobody@skerrymore.example\nMirela Osk\nkerensa.osk@skerrymore.example\nivo.tarn@skerrymore.example\nzofia.lisowa@skerrymore.example\nOSKAR.TREGEAR@skerrymore.example");
        browser.press("Look through the list");
        browser.sees("2 lines fit, 5 lines cannot be taken:");
        browser.sees("Nobody has this address, id or name.");
        browser.sees("It can mean 2 accounts");
        browser.sees("The account is deactivated; a policy does not reach it.");
        browser.sees("Dry dock testers names this account already.");
        browser.sees("Stands in the list before.");
        assertThat(browser.axe()).isEmpty();
        browser.press("Add 2 accounts");
        browser.sees("Dry dock testers includes Zofia Lisowa; Dry dock testers includes Oskar Tregear");
        browser.sees("Reached 3");
    }

    @Test
    void theMatrixIsEditedByKeyboardAndStagesAStatement() {
        browser.open("/spread?columns=app:chat");
        browser.sees("Skerrymore Ferries");
        browser.sees("Engineering");
        browser.script("document.querySelector('[role=grid]').focus()");
        standOn("Engineering", Keys.ARROW_DOWN);
        standOn("Start private chats", Keys.ARROW_RIGHT);
        browser.sees("House rules");
        browser.keys("o");
        browser.sees("“o” can become On or Off: type on.");
        browser.keys("ff");
        browser.sees("in a new policy, “Start private chats for Engineering”");
        browser.sees("in Workshop phones");
        assertThat(browser.axe()).isEmpty();
        browser.keys(Keys.ENTER);
        browser.sees("Workshop phones sets Start private chats to Off");
        browser.sees("52 accounts change");
        browser.keys(Keys.DELETE);
        browser.sees("no more in Workshop phones");
        browser.keys(Keys.ENTER);
        browser.sees("Workshop phones no longer sets Start private chats");
        browser.keys(Keys.DELETE);
        browser.sees("No policy aimed at exactly Engineering sets it");
        browser.keys(Keys.ESCAPE);
        browser.keys("off");
        browser.sees("in Workshop phones");
        browser.keys(Keys.ENTER);
        browser.sees("52 accounts change");
        browser.pick("Which rows to show", "where the draft changes something");
        browser.sees("only where the draft changes something");
        browser.until("Only Engineering is shown", () -> !browser.body().contains("MV Heron"));
        assertThat(browser.axe()).isEmpty();
        browser.press("Show everything");
        browser.sees("MV Heron");
    }

    @Test
    void theColumnsOfTheMatrixAreChosenOneByOne() {
        browser.open("/spread?columns=family:blocks");
        browser.sees("Skerrymore Ferries");
        browser.pick("Columns", "Chosen one by one");
        browser.choose("Add a column", "private chat", "Start private chats");
        browser.sees("4 settings");
        browser.press("Take Start private chats away");
        browser.sees("3 settings");
    }

    /** Moves over the matrix, one cell with each key, until the strip speaks of this row or setting. */
    private void standOn(String name, Keys key) {
        String cell = "document.querySelector('[role=grid]').getAttribute('aria-activedescendant')";
        for (int steps = 0; !browser.region("The cell").contains(name); steps++) {
            assertThat(steps).as("Steps on the way to " + name).isLessThan(40);
            String before = browser.text(cell);
            browser.keys(key);
            browser.until(
                    "The next cell is stood on", () -> !List.of("", before).contains(browser.text(cell)));
        }
    }

    @Test
    void aFileOfPeopleIsReportedLineByLineAndOnlyWhatFitsIsStaged() throws Exception {
        Path file = Files.createTempFile("crew", ".csv");
        Files.writeString(
                file,
                "address,name,unit,started\nquill.tarn@skerrymore.example,Quill Tarn,engineering,2026-11-02\n"
                        + "zofia.lisowa@skerrymore.example,Zofia Lisowa,nowhere,\n");
        browser.open("/directory/people");
        browser.press("From a file");
        browser.upload("The file", file);
        browser.sees("2 lines: 1 new, 0 altered, 0 as they are already, 1 refused.");
        browser.sees("There is no unit");
        assertThat(browser.axe()).isEmpty();
        browser.press("Put 1 line into the draft");
        browser.sees("Quill Tarn is a new person");
        browser.sees("1 new");
        Files.delete(file);
    }

    @Test
    void severalPeopleAreTickedAndAddedToAPolicyAtOnceAndWhoIsInAlreadyIsTold() {
        browser.open("/directory/people?q=tarn");
        browser.tick("Choose Ivo Tarn");
        browser.tick("Choose Lowenna Tarn");
        browser.sees("2 accounts ticked");
        assertThat(browser.axe()).isEmpty();
        browser.choose("A policy, group or plan for those ticked", "dry dock testers", "Dry dock testers");
        browser.sees("Ivo Tarn: Dry dock testers names this account already.");
        browser.sees("Dry dock testers includes Lowenna Tarn");
    }

    @Test
    void twoPoliciesStandSideBySideLineByLine() {
        browser.open("/policies/bridge-under-way");
        browser.press("Compare");
        browser.pick("Compare with", "Relief captain");
        browser.sees("Compared line by line");
        browser.until(
                "Both values of one setting stand in one line",
                () -> browser.body().contains("Start private chats Off On"));
        browser.sees("included until Tue 15 Dec");
        assertThat(browser.axe()).isEmpty();
    }

    @Test
    void aDraftThatWasToPublishItselfIsToldNotTo() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Start private chats", "On");
        browser.sees("57 accounts change");
        browser.press("Read over");
        browser.pick("When to publish", "at an instant");
        browser.press("Let it publish itself");
        browser.sees("an edit stops it");
        browser.press("1 draft put aside");
        browser.press("Take up");
        browser.sees("It publishes itself on");
        browser.press("Do not");
        browser.until("It does not any more", () -> !browser.body().contains("It publishes itself on"));
        browser.sees("57 accounts change");
    }

    @Test
    void aMailingGroupIsRefusedAndAnAccessGroupThatHoldsItIsOffered() {
        browser.open("/policies/dry-dock-testers");
        browser.type("Include", "company news");
        browser.sees("A mailing group cannot be aimed at");
        browser.choose("Include", "company news", "A new access group that holds Company news");
        browser.sees("Company news, for access");
        browser.sees("1 edit");
        browser.type("Include", "company news");
        browser.sees("access group that holds Company news");
    }

    @Test
    void aWindowThatOpensTomorrowIsInTheRipple() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Start private chats", "On");
        browser.sees("57 accounts change");
        String tomorrow = Instant.now()
                .plus(1, ChronoUnit.DAYS)
                .truncatedTo(ChronoUnit.MINUTES)
                .toString();
        server.draft(
                "{\"kind\":\"put-assignment\",\"policy\":\"assistant-pilot\",\"assignment\":{\"include\":\"group:captains\",\"from\":\""
                        + tomorrow + "\"}}");
        browser.sees("2 edits");
        browser.press("Read over");
        browser.sees("Later, by itself");
        browser.sees("9 more");
    }

    @Test
    void aDraftPublishesItselfAndIsListedUntilThen() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Start private chats", "On");
        browser.press("Read over");
        browser.sees("57 accounts change");
        browser.type("Note", "For the feast");
        browser.pick("When to publish", "at an instant");
        browser.press("Let it publish itself");
        browser.press("1 draft put aside");
        browser.sees("publishes itself on");
    }

    @Test
    void movingAUnitAndDeactivatingAnAccountShowTheirRipple() {
        browser.open("/directory/people/mirela.osk");
        browser.sees("Second officer");
        browser.press("Deactivate");
        browser.sees("Mirela Osk is deactivated");
        browser.sees("1 gone");
        browser.press("Undo");
        browser.open("/directory/units/fleet");
        browser.sees("Units below");
        browser.choose("Move below another unit", "MV Heron Bridge", "Bridge");
        browser.sees("would close a cycle of units: Fleet → Bridge → MV Heron → Fleet");
    }

    @Test
    void aReceiptSaysWhatChangedAndOnesOwnChangeIsNoAlarm() throws Exception {
        browser.open("/policies/bridge-under-way?" + MIRELA);
        browser.pick("Value of Start private chats", "On");
        browser.sees("57 accounts change");
        browser.press("When now");
        browser.press("After this draft");
        browser.press("Read over");
        browser.sees("Worth a second look");
        browser.type("Note", "asked for by the officers");
        browser.press("Publish");
        browser.sees("Change 2 is published");
        browser.sees("57 accounts change: 57 gain.");
        browser.sees("Copy a link for the ticket");
        browser.until(
                "The bar says what is on its way",
                () -> browser.region("Settling")
                        .contains("1 change on the way to people’s screens: asked for by the officers until "));
        browser.press("Undo");
        browser.until(
                "The undo begins with a note",
                () -> browser.valueOf("Note").equals("Takes back change 2: asked for by the officers"));
        browser.press("Publish");
        browser.sees("Change 3 is published");
        browser.until("The bar says both", () -> browser.region("Settling").startsWith("2 changes on the way"));
        assertThat(browser.number(
                        "performance.getEntriesByType('resource').filter(e => e.responseStatus >= 400).length"))
                .as("requests for what is no more")
                .isZero();
        browser.open("/policies/bridge-under-way?" + MIRELA);
        browser.sees("It settles for 57 accounts by ");
        browser.press("When now");
        browser.until(
                "When offers the instant at which all is settled",
                () -> browser.body().contains("When settled, "));
    }

    @Test
    void whatIsPublishedOnAnotherServerShowsInTheBrowser() throws Exception {
        try (RunningServer other =
                server.joined(ThrowAwayPostgres.get(), ThrowAwayPostgres.get().connectionTo("editing_test"))) {
            browser.open("/ladder?" + MIRELA);
            browser.outcome("No. Start private chats is off");
            other.post(
                    "{\"base\":1,\"note\":\"from the other\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}}]}");
            browser.outcome("Yes. Start private chats is on");
            browser.sees("published change 2: from the other");
        }
    }

    @Test
    void aFeatureForAGroupWithoutLicencesIsGivenSeatsUntilThePlanIsFullAndTheRestComeWithTomorrowsPurchase() {
        browser.open("/policies");
        browser.press("New policy");
        name("Engineers ask the assistant");
        browser.choose("Add a setting", "use the assistant", "Use the assistant");
        browser.pick("Value of Use the assistant", "On");
        browser.choose("Include", "engineers", "Engineers");
        browser.sees("reaches 17");
        browser.press("Read over");
        browser.sees("On for 17; 17 hold no plan with Assistant; no seat is free.");
        browser.type("Note", "A pilot");
        browser.press("Publish");
        browser.sees("is published");

        browser.open("/seats/assistant-add-on");
        browser.type("How many seats", "15");
        browser.press("Buy");
        browser.choose("Include in the plan", "engineers", "Engineers");
        browser.sees("All 40 seats held, 7 waiting");
        browser.sees("rule 3, Engineers");
        browser.type("How many seats", "10");
        browser.type("From when", "tomorrow 8:00");
        browser.press("Buy");
        browser.sees("10 more from");
        browser.press("Read over");
        browser.sees("The edits");
        browser.press("Publish");
        browser.sees("is published");
        browser.open("/seats/assistant-add-on");
        browser.sees("All 40 seats held, 7 waiting");

        clock.step(Duration.ofDays(2));
        browser.sees("47 of 50 seats held, 3 free");
        browser.open("/logbook");
        browser.sees("the clock");
    }

    @Test
    void aTrialWorkspaceKeepsAGateClosedAndAPaidOneOpensIt() {
        String asked = "/ladder?who=account:tobin.velho&what=setting:assistant.use&where=workspace:new-ideas";
        browser.open(asked);
        browser.ladder("Gate closed: Hosting of size M, no trial");
        browser.press("Stage it");
        browser.sees("1 edit");
        browser.open("/directory/workspaces/new-ideas");
        browser.sees("No policy says anything for this workspace now.");
        browser.press("Read over");
        browser.sees("New ideas is no trial any more");
        browser.press("Publish");
        browser.sees("is published");
        browser.open(asked);
        browser.outcome("Yes.");
        browser.ladder("Gate open: Hosting of size M, no trial");

        browser.open("/directory/workspaces");
        browser.press("New workspace");
        browser.type("Name", "Winter timetable");
        browser.press("Make it in the draft");
        browser.press("Winter timetable");
        browser.sees("Nobody works here yet");
        browser.choose("Add a member", "first mates", "First mates");
        browser.sees("a group of 18");
        browser.tick("On trial");
        browser.sees("Kept away by its hosting");
    }

    private boolean rulesStandSo(String first, String second) {
        String rules = browser.text("document.querySelector('section[aria-label=Rules]')?.innerText");
        return rules.contains(first) && rules.indexOf(first) < rules.indexOf(second);
    }

    @Test
    void theRulesOfAPlanMoveByMouseAndThoseTickedToAnotherPlanWithoutADayBetween() {
        browser.open("/seats/desk-plan");
        browser.until("Commercial comes first", () -> rulesStandSo("Commercial", "Captains"));
        browser.drag("Move the rule for Captains by mouse or keys", "Move the rule for Commercial by mouse or keys");
        browser.sees("1 edit");
        browser.until("Captains come first", () -> rulesStandSo("Captains", "Commercial"));
        browser.press("Undo");
        browser.until("Commercial comes first again", () -> rulesStandSo("Commercial", "Captains"));

        // Who holds a seat, and when each was last seen.
        browser.pressBeginning("114 hold a seat", "Who has a seat");
        browser.type("Filter by name or address", "ivo tarn");
        browser.sees("1 account with");
        assertThat(browser.text("document.querySelector('section[aria-label=\"Who has a seat\"]')?.innerText")
                        .replace('\n', ' '))
                .containsPattern("Ivo Tarn.*rule 2, Shore office.*since .*, seen ");
        browser.tick("Choose Ivo Tarn");
        browser.pick("Move those ticked to another plan", "Recording trial, 0 free");
        browser.press("Read over");
        browser.sees("Ivo Tarn");
        browser.sees("Recording trial");
        browser.press("Publish");
        browser.sees("is published");
        // That plan is full, so that he waits there.
        assertThat(server.get("/api/v1/plans/recording-trial/claims?which=waiting&q=ivo")
                        .body())
                .contains("\"account\":\"ivo.tarn\"");
        assertThat(server.get("/api/v1/plans/desk-plan/claims?which=held&q=ivo").body())
                .doesNotContain("\"account\":\"ivo.tarn\"");
    }

    @Test
    void aSettingIsClosedToWorkspacesAndNoneIsSpokenOnThereAnyMore() {
        browser.open("/directory/workspaces/new-ideas");
        browser.sees("Kept away by its hosting");
        browser.press("Close Use the assistant to all workspaces");
        browser.sees("1 edit");
        browser.press("Read over");
        browser.sees("Use the assistant");
        browser.press("Publish");
        browser.sees("is published");
        assertThat(server.get("/api/v1/workspaces/new-ideas/settings").body())
                .contains("\"key\":\"assistant.use\"")
                .doesNotContainPattern("\"key\":\"assistant.use\"[^}]*\"open\":true");
    }

    @Test
    void aTesterIsPutIntoARingConsentsAndTheReleaseMovesOutwardIsHeldAndDrawnBack() {
        browser.open("/previews");
        browser.sees("Better known beforehand");
        browser.sees("Only Ivo Tarn has consented in Dry dock");
        browser.press("Who is in Dry dock");
        browser.sees("It is written into");
        browser.choose("Put somebody into the ring", "zofia lisowa", "Zofia Lisowa");
        browser.sees("1 of 2 not yet");
        String room = Json.read(server.get("/api/v1/directory/rooms").body())
                .at("/rows/0/name")
                .asText();
        browser.choose("Put somebody into the ring", room, room);
        browser.sees("2 of 3 not yet");
        browser.press("Add or take out many by pasting a list");
        browser.type("Addresses, one a line", "mirela.osk@skerrymore.example");
        browser.press("Look through the list");
        browser.press("Add 1 account");
        browser.sees("3 of 4 not yet");
        browser.press("Ask to join");
        browser.sees("3 accounts not asked yet");
        browser.type("The text", "Would you try it with us?");
        browser.press("Mark 3 accounts as asked");
        browser.sees("asked");
        browser.press("Record the word of " + room);
        browser.type("Who looks after " + room + ", and agreed that it takes part in Dry dock?", "The master");
        browser.press("Record it");
        browser.sees("2 did");
        browser.tick("Tick Mirela Osk");
        browser.press("Take them out");
        browser.sees("1 of 3 not yet");
        browser.press("Read over");
        browser.press("Publish");
        browser.sees("is published");
        browser.open("/previews/ring/dry-dock");
        browser.sees("Zofia Lisowa");
        server.send(
                "POST",
                "/api/v1/accounts/zofia.lisowa/consents",
                "{\"ring\":\"dry-dock\"}",
                "Authorization",
                "Bearer " + RunningServer.SECRET);
        // Nobody reloads: she moves from who may to who did, and the warning goes.
        browser.sees("3 did");
        browser.until("The warning goes", () -> !browser.body().contains("Only Ivo Tarn has consented"));

        browser.open("/previews/release/meetings.captions");
        browser.sees("It has come to");
        browser.press("Open Live captions to Everyone now");
        browser.sees("gain");
        browser.type("Why it is held", "It mixes languages up");
        browser.press("Hold");
        browser.sees("Held:");
        browser.press("Let it go");
        browser.choose("Open it early", "captains", "Captains");
        browser.sees("No longer");
        browser.press("Read over");
        browser.sees("Live captions opens early to Captains");
        browser.press("Publish");
        browser.sees("is published");
        browser.open("/previews/release/meetings.captions");
        browser.press("Draw Live captions back from Everyone");
        browser.sees("1 edit");
    }

    @Test
    void aGroupGetsOneFeatureInTwoPressesAndSubscribersSeeADayMove() throws Exception {
        browser.open("/previews");
        browser.press("As a calendar");
        browser.sees("It has no address yet");
        browser.press("Give it one");
        browser.sees("renewing it shuts the one before");
        String address = browser.valueOf("Its address");
        JsonNode before = opening(address, "Translate pages opens to Dry dock");
        assertThat(before.get("wholeDay").asBoolean()).isTrue();
        assertThat(before.get("from").asText()).isEqualTo("2026-12-07");
        assertThat(before.get("until").asText()).isEqualTo("2026-12-08");

        browser.open("/ladder?who=group:captains&what=setting:pages.translate");
        browser.press("Open it early to Captains");
        browser.sees("1 edit");
        browser.open("/previews/release/pages.translate");
        browser.sees("Captains");
        browser.press("Another day");
        browser.type("Opens to Dry dock", "11 dec 9:00");
        browser.press("Set");
        browser.sees("opens Fri 11 Dec, 09:00");
        browser.press("Read over");
        browser.sees("Translate pages opens early to Captains");
        browser.press("Publish");
        browser.sees("is published");

        JsonNode after = opening(address, "Translate pages opens to Dry dock");
        assertThat(after.get("uid")).isEqualTo(before.get("uid"));
        assertThat(after.get("from").asText()).isEqualTo("2026-12-11");
        assertThat(after.get("sequence").asInt())
                .isGreaterThan(before.get("sequence").asInt());
        assertThat(opening(address, "Translate pages opens early to Captains")
                        .get("status")
                        .asText())
                .isEqualTo("CONFIRMED");
    }

    /** One event of a calendar, as a reader in JavaScript that is not ours has it. */
    private JsonNode opening(String address, String summary) throws Exception {
        String text = server.get(URI.create(address).getPath()).body();
        Process reader = new ProcessBuilder("node", "scripts/read-calendar.mjs")
                .directory(Path.of("../web").toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        reader.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
        reader.getOutputStream().close();
        JsonNode events = Json.read(new String(reader.getInputStream().readAllBytes(), StandardCharsets.UTF_8));
        for (JsonNode event : events) if (event.get("summary").asText().equals(summary)) return event;
        throw new AssertionError("No \"" + summary + "\" among " + events);
    }

    @Test
    void whatAPersonFindsIsReadAndDealtWithAndRingsAreArranged() {
        browser.open("/previews/release/files.scan");
        browser.sees("A crumpled waybill is cut off at the fold");
        server.send(
                "POST",
                "/api/v1/accounts/ivo.tarn/feedback",
                "{\"release\":\"files.scan\",\"verdict\":\"idea\",\"text\":\"Straighten the page\",\"device\":\"phone\"}",
                "Authorization",
                "Bearer " + RunningServer.SECRET);
        browser.sees("Straighten the page");
        browser.press("Deal with the word of Ivo Tarn");
        browser.type("What was done about it", "In the next version");
        browser.press("Mark it");
        browser.sees("dealt with: In the next version");

        browser.press("Arrange the rings");
        browser.press("One more, inside all others");
        browser.type("Name of the new ring", "Slipway");
        browser.press("Arrange them so");
        browser.sees("0 may, 0 did");
        browser.press("Read over");
        browser.sees("Slipway is a new preview ring, inside Dry dock");
        browser.press("Publish");
        browser.sees("is published");
    }
}
