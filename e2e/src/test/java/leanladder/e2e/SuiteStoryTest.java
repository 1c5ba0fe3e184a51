package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import leanladder.json.Json;
import leanladder.server.TestClock;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;

/** What administrators do, seen by those whom it is for: in the simulated suite, when it has arrived there, and not before. */
class SuiteStoryTest {
    private static final String CAPTIONS = "[data-setting='meetings.captions']";
    private final TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
    /** In the hands of somebody who works. */
    private static Browser suite;
    /** In the hands of an administrator, and of somebody else who works. */
    private static Browser browser;

    private Beside beside;

    @BeforeAll
    static void openBrowsers() throws Exception {
        suite = new Browser("about:blank", 1280, 900);
        browser = new Browser("about:blank", 1440, 900);
    }

    @AfterAll
    static void closeBrowsers() throws Exception {
        suite.close();
        browser.close();
    }

    @BeforeEach
    void start() throws Exception {
        beside = new Beside("suite_story", testClock);
        suite.at(beside.suiteAddress());
        browser.at(beside.server.address());
    }

    @AfterEach
    void stop() throws Exception {
        suite.leave();
        browser.leave();
        beside.close();
    }

    private String shown(String selector) {
        return suite.text("document.querySelector(\"" + selector + "\")?.dataset.shown");
    }

    private void shows(String selector, String shown) {
        suite.until(selector + " is " + shown, () -> shown(selector).equals(shown));
    }

    /** From the ring to the talk that is gone, one after the other on one estate. */
    @Test
    void theWholeStoryFromTheRingToEachPersonsPage() throws Exception {
        String room = twoPeopleAndARoomAreTried();
        eachConsentsAndSeesItAfterTheTimeItTakesAndARestart(room);
        itMovesOutwardAndIsDrawnBack();
        aFeatureIsAskedForGrantedByTheSmallestRippleAndSeenThere();
        sharingOutsideIsClosedForOneAndTheLooserLevelsAreGrey();
        helpLeadsToTheCompanysPagesAndWhatNobodyCanChangeSaysSo();
        aPrivateTalkTakesTwoAndIsGoneForWhoeverHasNone();
    }

    /** Into the outermost preview ring; while one alone has said yes there is a warning. */
    private String twoPeopleAndARoomAreTried() {
        String rings = Json.read(beside.server.get("/api/v1/estate").body())
                .get("rings")
                .toString();
        beside.publish("{'kind':'arrange-rings','rings':"
                + rings.replaceFirst("\\[", "[{\"id\":\"slipway\",\"name\":\"Slipway\",\"asksConsent\":true},")
                + "},{'kind':'open-release','release':'meetings.captions','ring':'slipway','from':'2026-11-20T00:00:00Z'},"
                + "{'kind':'add-policy','policy':{'id':'slipway','name':'On the slipway','statements':[{'setting':'preview.ring','set':'slipway'}],"
                + "'assignments':[]}}");
        browser.open("/previews/ring/slipway");
        browser.choose("Put somebody into the ring", "rafael osk", "Rafael Osk");
        browser.choose("Put somebody into the ring", "yara brekke", "Yara Brekke");
        String room = Json.read(beside.server.get("/api/v1/directory/rooms").body())
                .at("/rows/0/name")
                .asText();
        browser.choose("Put somebody into the ring", room, room);
        browser.sees("3 of 3 not yet");
        browser.press("Review");
        browser.press("Publish");
        browser.sees("is published");
        return room;
    }

    private void eachConsentsAndSeesItAfterTheTimeItTakesAndARestart(String room) {
        testClock.step(Duration.ofDays(2));
        browser.open("/previews/ring/slipway");
        browser.sees("3 of 3 not yet");
        suite.open("/?as=yara.brekke&app=meetings");
        shows(CAPTIONS, "greyed");
        suite.sees("Spoken words on screen have not come to you yet.");
        joins();
        suite.sees("You try previews (Slipway): some of what you see is unfinished.");
        // Nobody reloads the administrator's page; one alone is warned of.
        browser.sees("1 joined");
        browser.open("/previews");
        browser.sees("Only Yara Brekke has consented in Slipway");
        suite.press("Meetings");
        // It takes up to a quarter of an hour, and then a restart; the word counts at once.
        assertThat(shown(CAPTIONS)).isEqualTo("greyed");
        restarts();
        assertThat(shown(CAPTIONS)).isEqualTo("greyed");
        testClock.step(Duration.ofMinutes(15));
        suite.sees("Something new has arrived; it shows after a restart.");
        assertThat(shown(CAPTIONS)).isEqualTo("greyed");
        restarts();
        shows(CAPTIONS, "there");
        suite.press("Show what is said");
        suite.sees("if the tide allows");
        suite.press("What is coming");
        suite.script("[...document.querySelectorAll('li')].find(l => l.innerText.startsWith('Spoken words on screen'))"
                + ".querySelector('button').click()");
        suite.type("What you found of Spoken words on screen", "Reads well on the bridge.");
        suite.press("Send");
        suite.sees("Thank you; it was sent.");

        suite.open("/?as=rafael.osk&app=meetings&deed=restart");
        shows(CAPTIONS, "greyed");
        joins();
        browser.until("the warning goes", () -> !browser.body().contains("Only Yara Brekke has consented"));
        browser.open("/previews/ring/slipway");
        browser.press("Record the word of " + room);
        browser.type("Who looks after " + room + ", and agreed that it takes part in Slipway?", "The master");
        browser.press("Record it");
        // The clock stands still here, and the word was given a moment later.
        testClock.step(Duration.ofMinutes(1));
        browser.press("Review");
        browser.press("Publish");
        browser.sees("is published");
        browser.open("/previews/ring/slipway");
        browser.sees("3 joined");
        browser.open("/previews/release/meetings.captions");
        browser.sees("Reads well on the bridge.");
        testClock.step(Duration.ofMinutes(15));
        suite.open("/?as=rafael.osk&app=meetings&deed=restart");
        shows(CAPTIONS, "there");
    }

    private void restarts() {
        String before = lastRestart();
        suite.press("Restart");
        suite.until("it was restarted", () -> !lastRestart().equals(before));
    }

    private String lastRestart() {
        return suite.text("[...document.querySelectorAll('button')].find(b => b.innerText === 'Restart').title");
    }

    private void joins() {
        suite.press("What is coming");
        suite.sees("A preview is unfinished.");
        suite.sees("Waiting for your word");
        suite.press("Join");
    }

    private void itMovesOutwardAndIsDrawnBack() {
        suite.open("/?as=zofia.lisowa&app=meetings&deed=restart");
        shows(CAPTIONS, "greyed");
        browser.open("/previews/release/meetings.captions");
        browser.press("Open Spoken words on screen to Everyone now");
        browser.sees("gain");
        browser.press("Review");
        browser.press("Publish");
        browser.sees("is published");
        testClock.step(Duration.ofMinutes(20));
        suite.open("/?as=zofia.lisowa&app=meetings&deed=restart");
        shows(CAPTIONS, "there");
        browser.open("/previews/release/meetings.captions");
        browser.press("Withdraw Spoken words on screen from Everyone");
        browser.press("Review");
        browser.press("Publish");
        browser.sees("is published");
        testClock.step(Duration.ofMinutes(20));
        suite.open("/?as=zofia.lisowa&app=meetings&deed=restart");
        shows(CAPTIONS, "greyed");
    }

    private void sharingOutsideIsClosedForOneAndTheLooserLevelsAreGrey() {
        beside.publish(
                "{'kind':'add-policy','policy':{'id':'audit','name':'Audit','statements':[{'setting':'files.share','set':'company','lock':true}],"
                        + "'assignments':[{'include':'account:tobin.velho'}]}}");
        testClock.step(Duration.ofDays(2));
        suite.open("/?as=tobin.velho&app=files&deed=sign-in");
        suite.until("looser levels are grey", () -> greyedLevels().contains("customs"));
        suite.sees("Your organisation allows “company” at most.");
    }

    @Test
    void termsAreReadBeforeOneJoinsAndAgainWhenTheyChange() {
        String region = "Previews: For those who build on the suite";
        joinsAfterReading(region, 2);
        String track = Json.read(
                        beside.server.get("/api/v1/previews?track=builders").body())
                .at("/tracks/0/written")
                .toString();
        testClock.step(Duration.ofMinutes(1));
        beside.publish("{'kind':'arrange-tracks','tracks':["
                + track.replace("\"version\":2", "\"version\":3")
                        .replace("\"from\":2", "\"from\":3")
                        .replace("without notice", "without a word")
                + "]}");
        joinsAfterReading(region, 3);
    }

    private void joinsAfterReading(String region, int version) {
        suite.open("/?as=ivo.tarn&app=coming");
        suite.sees("You may try previews: Workbench");
        assertThat(suite.text("String(document.querySelector(\"[aria-label='" + region + "'] button\").disabled)"))
                .isEqualTo("true");
        suite.tick("I have read these terms (version " + version + ") and agree.");
        suite.press("Join", region);
        suite.sees("You try previews: Workbench");
    }

    @Test
    void aPageCanBeSetForwardToSeeWhatIsOnItsWayAndNobodyElseIsAltered() {
        // What was loaded and what is published now are two instants, as they always are.
        testClock.step(Duration.ofDays(1));
        suite.open("/?as=tobin.velho&app=files");
        shows("[data-setting='files.share']", "there");
        suite.until("the level is not closed yet", () -> !greyedLevels().contains("customs"));
        beside.publish(
                "{'kind':'add-policy','policy':{'id':'audit','name':'Audit','statements':[{'setting':'files.share','set':'company','lock':true}],"
                        + "'assignments':[{'include':'account:tobin.velho'}]}}");
        suite.pick("Set this page’s clock forward", "by a day");
        suite.sees("set forward to");
        suite.until(
                "looser levels are grey",
                () -> greyedLevels().contains("customs")
                        && greyedLevels().contains("waybill holders")
                        && !greyedLevels().contains("company"));
        suite.sees("Your organisation allows “company” at most.");
        suite.open("/?as=tobin.velho&app=files");
        suite.until("now it is as it was", () -> !greyedLevels().contains("customs"));
    }

    private String greyedLevels() {
        return suite.text(
                "[...document.querySelectorAll(\"[role=radio][aria-disabled=true]\")].map(e => e.innerText).join(', ')");
    }

    private void helpLeadsToTheCompanysPagesAndWhatNobodyCanChangeSaysSo() {
        suite.open("/?as=rafael.osk&app=help");
        suite.sees("https://pilot-book.skerrymore.example/ — your company’s own page");
        suite.sees("Terms of the suite");
        suite.sees("the suite’s own; your company cannot change this one");
    }

    private void aPrivateTalkTakesTwoAndIsGoneForWhoeverHasNone() throws Exception {
        suite.open("/?as=rafael.osk&app=chat");
        talkTo("Bastien Kovarik");
        suite.type("Write to Bastien Kovarik", "Is the ledger closed?");
        suite.press("Send", "Talk between two");
        suite.sees("Is the ledger closed?");
        browser.at(beside.suiteAddress());
        browser.open("/?as=bastien.kovarik&app=chat");
        browser.pressBeginning("Rafael Osk", "Talk between two");
        browser.type("Write to Rafael Osk", "Since yesterday.");
        browser.press("Send", "Talk between two");
        suite.sees("Since yesterday.");
        // Her exception ends; Mirela has no private talks on the bridge under way, and nobody can begin one with her.
        beside.publish("{'kind':'remove-statement','policy':'mirelas-relief','setting':'chat.private','says':'set'}");
        testClock.step(Duration.ofDays(2));
        suite.open("/?as=rafael.osk&app=chat");
        talkTo("Mirela Osk");
        suite.type("Write to Mirela Osk", "Hello?");
        suite.press("Send", "Talk between two");
        suite.sees("This person cannot be written to privately.");
        suite.open("/?as=mirela.osk&app=chat&deed=refresh");
        suite.sees("Morning watch");
        suite.until("the talks between two are gone", () -> !suite.body().contains("Talk between two"));
    }

    private void talkTo(String name) {
        suite.type("Write to one person", name);
        suite.pressBeginning(name, "Talk between two");
    }

    @Test
    void theirPageStandsBesideTheLadderAndLeadsBackToIt() throws Exception {
        browser.open("/ladder?who=account:mirela.osk&what=setting:chat.private");
        browser.outcome("No. Talk between two is off for Mirela Osk.");
        browser.press("Their view");
        browser.inside("What Mirela Osk sees now", () -> browser.sees("Morning watch"));
        browser.sees("Not there on this page:");
        browser.follow("Read in one's own language");
        browser.outcome("Read in one's own language is off for Mirela Osk");
        browser.sees("Not there on this page:");
        browser.inside("What Mirela Osk sees now", () -> {
            browser.pick("App", "Meetings");
            browser.sees("Timetable round");
        });
        browser.follow("As them");
        browser.sees("Both pages are the same.");
        browser.choose("Beside somebody else", "rafael osk", "Rafael Osk");
        browser.sees("What Mirela Osk and Rafael Osk see");
        browser.sees("They differ in");
        browser.follow("Talk between two");
        browser.outcome("No. Talk between two is off for Mirela Osk.");
        // A list beside somebody's sheet leads there too, from the row that has the focus.
        browser.open("/directory/people/mirela.osk");
        String row = "document.querySelector('[aria-label=People] [role=listitem] button')";
        browser.until("There are people", () -> !browser.text(row).isEmpty());
        browser.script(row + ".focus()");
        String first = browser.focused();
        browser.follow("Show me as " + first);
        browser.sees("What " + first + " sees");
    }

    private void aFeatureIsAskedForGrantedByTheSmallestRippleAndSeenThere() throws Exception {
        suite.open("/?as=mirela.osk&app=chat");
        suite.sees("Do you miss something here?");
        suite.script("document.querySelector('main details').open = true");
        suite.press("Talk between two");
        suite.sees("It was decided for the part of the company that you work in.");
        suite.type("What you need it for", "A word with my relief.");
        suite.press("Ask for it");
        suite.sees("It was asked for.");
        suite.press("What is coming");
        suite.sees("Nobody has answered yet.");
        browser.open("/");
        browser.sees("the most urgent first");
        browser.follow("Mirela Osk asks for “Talk between two”.");
        browser.sees("“A word with my relief.”");
        browser.sees("A policy for this person alone, “Talk between two for Mirela Osk”");
        // The smallest ripple stands first: one who gains.
        assertThat(browser.text("document.querySelector('[aria-label=\"Where it is decided\"] li').innerText"))
                .contains("1 gains");
        browser.press("Add to draft");
        browser.press("Review");
        browser.press("Publish");
        browser.sees("is published");
        suite.sees("It was granted on 27 Nov, and is there by Fri 27 Nov");
        suite.sees("at the latest, after a refresh.");
        testClock.step(Duration.ofHours(1));
        suite.press("Refresh");
        suite.press("Chat");
        suite.sees("Talk between two");
    }

    @Test
    void aCheckWrittenFromTheLadderSaysOnTodayWhatTheSuiteReports() throws Exception {
        testClock.step(Duration.ofDays(1));
        beside.publish(
                "{'kind':'put-statement','policy':'deputies-ashore','statement':{'setting':'mail.relief','set':false}}");
        browser.open("/ladder?who=account:rafael.osk&what=setting:mail.relief");
        browser.press("Check delivery");
        browser.sees("Whether it has arrived is looked at on Thu 26 Nov, 16:00.");
        testClock.step(Duration.ofMinutes(241));
        // He has not signed in since, unless his habit says so.
        suite.open("/?as=rafael.osk&app=mail&deed=sign-in");
        suite.sees("My post");
        browser.open("/today");
        browser.until("what was found is told", () -> {
            if (browser.body().contains("“The relief opens one's post” for Rafael Osk: arrived for")) return true;
            browser.reload();
            return false;
        });
    }

    @Test
    void aRequestIsDeclinedAndWhatIsPutOffIsPutOffForOneselfAlone() throws Exception {
        beside.suite("POST", page("yara.brekke") + "/requests", "{\"setting\":\"assistant.use\"}");
        browser.open("/today");
        browser.follow("Yara Brekke asks for “Use the assistant”.");
        browser.sees("Buy a seat of Assistant add-on and give it");
        browser.type("Why not, for the person to read", "The pilot ends in spring.");
        browser.press("Decline");
        browser.sees("Declined by Ivo Tarn");
        browser.until("the matter is gone", () -> !browser.body().contains("asks for “Use"));
        String matter = "Deck plan has no seat free, and 5 accounts wait.";
        browser.sees(matter);
        browser.focus(matter);
        browser.press("Snooze until tomorrow: " + matter);
        browser.until("it is put off", () -> !browser.body().contains(matter));
        browser.type("Your name", "Vera");
        browser.keys(org.openqa.selenium.Keys.ENTER);
        browser.sees(matter);
        browser.type("Your name", "Ivo Tarn");
        browser.keys(org.openqa.selenium.Keys.ENTER);
        browser.until("it is still put off for Ivo", () -> !browser.body().contains(matter));
        browser.press("Bring back 1 thing");
        browser.sees(matter);
        suite.open("/?as=yara.brekke&app=coming");
        suite.sees("It was declined on 25 Nov: The pilot ends in spring.");
    }

    private String page(String account) throws Exception {
        return "/api/pages/"
                + beside.suite("POST", "/api/pages", "{\"account\":\"" + account + "\"}")
                        .get("page")
                        .asText();
    }

    @Test
    void axeFindsNothingSeriousOnThePagesOfTheSuite() {
        for (String app :
                new String[] {"chat", "meetings", "files", "mail", "help", "directory", "assistant", "coming"}) {
            suite.open("/?as=yara.brekke&app=" + app);
            suite.sees("Somebody else");
            isFine(app);
        }
        suite.open("/");
        suite.sees("Step in as somebody");
        suite.sees("Some of them");
        isFine("the way in");
        suite.prefers("dark");
        suite.size(640, 800);
        suite.settles();
        assertThat(suite.axe()).as("the way in, in the dark").isEmpty();
        suite.prefers("light");
        suite.size(1280, 900);
        suite.open("/?as=yara.brekke&app=none-such");
        suite.sees("Somebody else");
        assertThat(suite.number("document.querySelectorAll('main[data-app=chat]').length"))
                .isEqualTo(1);
    }

    private static void isFine(String page) {
        suite.size(1280, 800);
        suite.settles();
        assertThat(suite.axe()).as(page).isEmpty();
        assertThat(suite.number("document.documentElement.scrollWidth"))
                .as(page)
                .isLessThanOrEqualTo(1280);
        suite.prefers("dark");
        suite.size(640, 800);
        suite.settles();
        assertThat(suite.axe(Browser.Rules.CONTRAST)).as("%s in the dark", page).isEmpty();
        assertThat(suite.number("document.documentElement.scrollWidth"))
                .as(page)
                .isLessThanOrEqualTo(640);
        suite.prefers("light");
        suite.size(1280, 900);
    }

    /** Takes pictures of docs/screenshots when asked to: mvn verify -Dladder.pictures=true. */
    @Test
    @EnabledIfSystemProperty(named = "ladder.pictures", matches = "true")
    void picturesOfTheSuiteAndOfToday() throws Exception {
        Path to = Path.of("../docs/screenshots");
        beside.suite(
                "POST",
                page("yara.brekke") + "/requests",
                "{\"setting\":\"assistant.use\",\"words\":\"The other first mates have it.\"}");
        beside.suite("POST", page("mirela.osk") + "/requests", "{\"setting\":\"chat.private\"}");
        testClock.step(Duration.ofMinutes(25));
        beside.publish(
                "{'kind':'put-statement','policy':'deputies-ashore','statement':{'setting':'mail.relief','set':false}}");
        suite.open("/?as=rafael.osk&app=files");
        suite.sees("This paper may travel to");
        suite.picture(to.resolve("suite.png"));
        browser.size(1280, 800);
        browser.open("/today/requests/1");
        browser.sees("Buy a seat of Assistant add-on");
        browser.sees("the most urgent first");
        browser.picture(to.resolve("today.png"));
        browser.open("/their?who=account:rafael.osk&what=setting:mail.relief");
        browser.sees("They differ in");
        browser.picture(to.resolve("their-view.png"));
        browser.size(1440, 900);
        assertThat(Files.size(to.resolve("their-view.png"))).isGreaterThan(10_000);
    }
}
