package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.server.TestClock;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;

/** Drafts, reading over, publishing, and what others do meanwhile, in the real interface. */
class DraftEditingTest extends Editing {
    @Test
    void whatSomebodyElsePublishedMeanwhileIsShownWithBothSides() throws Exception {
        browser.open("/policies/house-rules");
        browser.pick("Value of Talk between two", "Off");
        browser.sees("people affected");
        try (Browser other = new Browser(server.address(), 1280, 800)) {
            other.open("/policies/house-rules");
            other.pick("How it sets Talk between two", "not set");
            other.press("Review");
            other.sees("House rules no longer sets Talk between two");
            other.type("Note", "meanwhile");
            other.press("Publish");
            other.sees("Change 2 is published");
            browser.sees("published change 2: meanwhile");
        }
        browser.sees("1 edit conflicts");
        browser.press("Review");
        browser.sees("House rules no longer sets Talk between two. Yours: House rules sets Talk between two to Off.");
        browser.press("Use mine");
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
        browser.outcome("No. Talk between two is off for Mirela Osk.");
        browser.sees("As it stood on");
        browser.sees("change 1.");
        browser.open("/ladder?" + MIRELA);
        browser.outcome("Yes. Talk between two is on for Mirela Osk.");
        browser.keys("g");
        browser.keys("b");
        browser.sees("Compare two days");
        browser.press("Change 2: Talk again");
        browser.sees("Bridge under way sets Talk between two to On");
        browser.sees("57 accounts changed: 57 gained");
        browser.reload();
        browser.sees("Change 2, ");
        assertThat(browser.axe()).isEmpty();
        browser.press("Undo");
        browser.sees("57 people affected");
        assertThat(browser.valueOf("Name of the draft")).isEqualTo("Undo of change 2");
        assertThat(browser.axe()).isEmpty();
        browser.type("Note", "Not after all");
        browser.press("Publish");
        browser.sees("Change 3 is published");
        browser.follow("See the answer on the ladder");
        browser.outcome("No. Talk between two is off for Mirela Osk.");
        browser.open("/logbook/2");
        browser.press("Undo");
        browser.sees("Change 3 by Ivo Tarn");
        browser.press("Use theirs");
        browser.sees("There is nothing to review");
        browser.open("/logbook/1");
        browser.press("Undo");
        browser.sees("Put an export from before it in its place instead.");
    }

    @Test
    void aDraftOutlivesTheServerIsPutAsideAndTakenUpAgain() throws Exception {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Talk between two", "On");
        browser.sees("57 people affected");
        browser.type("Name of the draft", "Talk on the bridge");
        browser.keys(Keys.ENTER);
        browser.until(
                "The name is kept", () -> server.get("/api/v1/drafts").body().contains("Talk on the bridge"));
        server = server.restarted();
        browser.reload();
        browser.sees("57 people affected");
        browser.until(
                "The draft has its name",
                () -> browser.valueOf("Name of the draft").equals("Talk on the bridge"));
        browser.open("/ladder?" + MIRELA);
        browser.outcome("No.");
        browser.press("When now");
        browser.press("After Talk on the bridge");
        browser.outcome("Yes. Talk between two is on for Mirela Osk.");
        browser.sees("The draft turns it from Off to On.");
        browser.press("Save for later");
        browser.open("/policies/bridge-under-way");
        browser.until(
                "Nothing is staged",
                () -> browser.valueOf("Value of Talk between two").equals("false"));
        browser.press("1 draft saved for later");
        browser.press("Open");
        browser.until(
                "The edit is back",
                () -> browser.valueOf("Value of Talk between two").equals("true"));
    }

    @Test
    void aDraftThatWasToPublishItselfIsToldNotTo() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Talk between two", "On");
        browser.sees("57 people affected");
        browser.press("Review");
        browser.pick("When to publish", "at a set time");
        browser.press("Schedule");
        browser.sees("Scheduled for");
        browser.sees("Cancel schedule");
        browser.press("1 draft saved for later");
        browser.press("Open");
        browser.sees("It publishes itself on");
        browser.press("Cancel schedule");
        browser.until("It does not any more", () -> !browser.body().contains("It publishes itself on"));
        browser.sees("57 people affected");
    }

    @Test
    void aWindowThatOpensTomorrowIsInTheRipple() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Talk between two", "On");
        browser.sees("57 people affected");
        String tomorrow = TestClock.now()
                .plus(1, ChronoUnit.DAYS)
                .truncatedTo(ChronoUnit.MINUTES)
                .toString();
        server.draft(
                "{\"kind\":\"put-assignment\",\"policy\":\"assistant-pilot\",\"assignment\":{\"include\":\"group:captains\",\"from\":\""
                        + tomorrow + "\"}}");
        browser.sees("2 edits");
        browser.press("Review");
        browser.sees("Later, by itself");
        browser.sees("9 more");
    }

    @Test
    void aDraftPublishesItselfAndIsListedUntilThen() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Talk between two", "On");
        browser.press("Review");
        browser.sees("57 people affected");
        browser.type("Note", "For the feast");
        browser.pick("When to publish", "at a set time");
        browser.press("Schedule");
        browser.press("1 draft saved for later");
        browser.sees("publishes itself on");
    }

    @Test
    void aReceiptSaysWhatChangedAndOnesOwnChangeIsNoAlarm() throws Exception {
        browser.open("/policies/bridge-under-way?" + MIRELA);
        browser.pick("Value of Talk between two", "On");
        browser.sees("57 people affected");
        browser.press("When now");
        browser.press("After this draft");
        browser.press("Review");
        browser.sees("Worth a second look");
        browser.type("Note", "asked for by the officers");
        browser.press("Publish");
        browser.sees("Change 2 is published");
        browser.sees("57 people affected: 57 gain.");
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
                server.joined(ThrowAwayPostgres.get(), ThrowAwayPostgres.get().connectionTo(DATABASE))) {
            browser.open("/ladder?" + MIRELA);
            browser.outcome("No. Talk between two is off");
            other.post(
                    "{\"base\":1,\"note\":\"from the other\",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"bridge-under-way\",\"statement\":{\"setting\":\"chat.private\",\"set\":true}}]}");
            browser.outcome("Yes. Talk between two is on");
            browser.sees("published change 2: from the other");
        }
    }
}
