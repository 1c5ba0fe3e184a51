package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import leanladder.server.Hands;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What administrators do, seen by those whom it is for: in the simulated suite, when it has arrived there, and not before. */
class SuiteStoryTest {
    private static final String CAPTIONS = "[data-setting='meetings.captions']";
    private final Hands hands = Hands.standing("2026-11-25T12:00:00Z");
    private Beside beside;
    private Browser suite;

    @BeforeEach
    void start() throws Exception {
        beside = new Beside("suite_story", hands);
        suite = new Browser(beside.suiteAddress(), 1280, 900);
    }

    @AfterEach
    void stop() throws Exception {
        suite.close();
        beside.close();
    }

    private String shown(String selector) {
        return suite.text("document.querySelector(\"" + selector + "\")?.dataset.shown");
    }

    private void shows(String selector, String shown) {
        suite.until(selector + " is " + shown, () -> shown(selector).equals(shown));
    }

    @Test
    void aPreviewIsJoinedBySomebodyAndShowsAfterTheTimeItTakesAndARefresh() {
        beside.publish(
                "{'kind':'add-policy','policy':{'id':'trial','name':'Trial','statements':[{'setting':'preview.ring','set':'harbour-trial'}],"
                        + "'assignments':[{'include':'account:rafael.osk'},{'include':'account:yara.brekke'}]}},"
                        + "{'kind':'open-release','release':'meetings.captions','ring':'harbour-trial','from':'2026-11-20T00:00:00Z'}");
        hands.step(Duration.ofDays(2));
        suite.open("/?as=yara.brekke&app=meetings");
        shows(CAPTIONS, "greyed");
        suite.sees("Captions have not come to you yet.");
        suite.press("What is coming");
        suite.sees("A preview is unfinished.");
        suite.sees("Waiting for your word");
        suite.press("Join");
        suite.sees("You try previews (Harbour trial): some of what you see is unfinished.");
        suite.press("Meetings");
        // It takes up to a quarter of an hour, and then a refresh; the word counts at once.
        assertThat(shown(CAPTIONS)).isEqualTo("greyed");
        suite.press("Refresh");
        shows(CAPTIONS, "greyed");
        hands.step(Duration.ofMinutes(15));
        suite.sees("Something new has arrived; it shows after a refresh.");
        assertThat(shown(CAPTIONS)).isEqualTo("greyed");
        suite.press("Refresh");
        shows(CAPTIONS, "there");
        suite.press("Captions");
        suite.sees("if the tide allows");

        // Who was not asked for a word has not got it.
        suite.open("/?as=rafael.osk&app=meetings&deed=restart");
        shows(CAPTIONS, "greyed");

        // Drawn back, it goes from her page as it came.
        for (String ring : new String[] {"dry-dock", "harbour-trial", "sea-trial"})
            beside.publish("{'kind':'open-release','release':'meetings.captions','ring':'" + ring + "','from':null}");
        hands.step(Duration.ofMinutes(15));
        suite.open("/?as=yara.brekke&app=meetings&deed=refresh");
        shows(CAPTIONS, "greyed");
    }

    @Test
    void aPageCanBeSetForwardToSeeWhatIsOnItsWayAndNobodyElseIsAltered() {
        suite.open("/?as=tobin.velho&app=files");
        shows("[data-setting='files.share']", "there");
        suite.until("the level is not closed yet", () -> !greyedLevels().contains("listed firms"));
        beside.publish(
                "{'kind':'add-policy','policy':{'id':'audit','name':'Audit','statements':[{'setting':'files.share','set':'own-people','lock':true}],"
                        + "'assignments':[{'include':'account:tobin.velho'}]}}");
        suite.pick("Set this page’s clock forward", "by a day");
        suite.sees("set forward to");
        suite.until(
                "looser levels are grey",
                () -> greyedLevels().contains("listed firms")
                        && greyedLevels().contains("link holders")
                        && !greyedLevels().contains("own people"));
        suite.sees("Your organisation allows “own people” at most.");
        suite.open("/?as=tobin.velho&app=files");
        suite.until("now it is as it was", () -> !greyedLevels().contains("listed firms"));
    }

    private String greyedLevels() {
        return suite.text(
                "[...document.querySelectorAll(\"[role=radio][aria-disabled=true]\")].map(e => e.innerText).join(', ')");
    }

    @Test
    void helpLeadsToTheCompanysPagesAndWhatNobodyCanChangeSaysSo() {
        suite.open("/?as=rafael.osk&app=help");
        suite.sees("https://pilot-book.skerrymore.example/ — your company’s own page");
        suite.sees("Terms of the suite");
        suite.sees("the suite’s own; your company cannot change this one");
    }

    @Test
    void aPrivateTalkTakesTwoAndWhoeverHasNoneCannotBeWrittenTo() throws Exception {
        suite.open("/?as=rafael.osk&app=chat");
        talkTo("Bastien Kovarik");
        suite.type("Write to Bastien Kovarik", "Is the ledger closed?");
        suite.press("Send", "Private talks");
        suite.sees("Is the ledger closed?");
        try (Browser other = new Browser(beside.suiteAddress(), 1280, 900)) {
            other.open("/?as=bastien.kovarik&app=chat");
            other.pressBeginning("Rafael Osk", "Private talks");
            other.type("Write to Rafael Osk", "Since yesterday.");
            other.press("Send", "Private talks");
        }
        suite.sees("Since yesterday.");
        // Mirela has no private talks on the bridge under way; nobody can begin one with her.
        suite.open("/?as=rafael.osk&app=chat");
        talkTo("Mirela Osk");
        suite.type("Write to Mirela Osk", "Hello?");
        suite.press("Send", "Private talks");
        suite.sees("This person cannot be written to privately.");
        suite.open("/?as=mirela.osk&app=chat");
        suite.sees("Morning watch");
        assertThat(suite.body()).doesNotContain("Private talks");
    }

    private void talkTo(String name) {
        suite.type("Write to one person", name);
        suite.pressBeginning(name, "Private talks");
    }

    @Test
    void theirPageStandsBesideTheLadderAndLeadsBackToIt() throws Exception {
        try (Browser browser = new Browser(beside.server.address(), 1440, 900)) {
            browser.open("/ladder?who=account:mirela.osk&what=setting:chat.private");
            browser.outcome("No. Start private chats is off for Mirela Osk.");
            browser.press("Their view");
            browser.inside("What Mirela Osk sees now", () -> browser.sees("Morning watch"));
            browser.sees("Not there on this page:");
            browser.follow("Translate messages");
            browser.outcome("Translate messages is off for Mirela Osk");
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
            browser.follow("Start private chats");
            browser.outcome("No. Start private chats is off for Mirela Osk.");
        }
    }
}
