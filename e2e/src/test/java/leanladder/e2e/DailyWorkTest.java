package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;

/** Everyday tasks, each with the number of actions that it takes at most: a click, a typed text, or a key. */
class DailyWorkTest extends Editing {
    private void begin(String path, String sees) {
        browser.open(path);
        browser.sees(sees);
        browser.count();
    }

    private void atMost(int actions) {
        assertThat(browser.actions()).isLessThanOrEqualTo(actions);
    }

    private JsonNode get(String path) {
        return Json.read(server.get("/api/v1/" + path).body());
    }

    private void publishNow(String edit) {
        assertThat(server.post(("{'base':" + get("session").get("change") + ",'edits':[" + edit + "]}")
                                .replace('\'', '"'))
                        .statusCode())
                .isEqualTo(201);
    }

    @Test
    void oneValueIsChangedForOnePerson() {
        begin("/today", "Ivo Tarn");
        browser.keys("/");
        browser.type("Ask anything", "mirela talk between two");
        browser.sees("Mirela Osk · Talk between two");
        browser.keys(Keys.ENTER);
        browser.sees("Bridge under way turned it off");
        browser.count();
        browser.press("On");
        browser.sees("A policy of its own, “Talk between two for Mirela Osk”");
        browser.until("the first way has the focus", () -> browser.focused().equals("Add to draft"));
        browser.keys(Keys.ENTER);
        browser.sees("The draft turns it from Off to On.");
        browser.sees("1 person affected");
        atMost(4);
    }

    @Test
    void aFeatureIsTurnedOffForEveryoneAndStaysOnForOneUnit() {
        begin("/settings/chat.private", "See and change it for everyone");
        browser.press("Turn off everywhere now");
        browser.until("the exception has the focus", () -> browser.focused().equals("Except a unit or group"));
        browser.keys("MV Heron");
        browser.until("MV Heron is found", () -> browser.body().contains("MV Heron"));
        browser.keys(Keys.ENTER);
        browser.sees("except MV Heron");
        browser.sees("(excepted)");
        browser.press("Review");
        browser.sees("people affected");
        browser.press("Publish");
        browser.sees("is published");
        atMost(5);
        assertThat(server.get("/api/v1/settings/chat.private").body()).contains("Off");
    }

    @Test
    void allSettingsOfAPersonAreCopiedAsText() {
        begin("/ladder?who=account:mirela.osk", "Differs from most of the unit");
        browser.press("Copy all settings as text");
        browser.until(
                "it is copied, or the browser says why not",
                () -> browser.body().contains("189 settings copied")
                        || browser.body().contains("did not allow copying"));
        atMost(2);
    }

    @Test
    void whoChangedAnythingAboutAPolicyIsFoundInTheLogbook() {
        publishNow("{'kind':'amend-policy','policy':'bridge-under-way','members':{'name':'Quiet bridge'}}");
        publishNow("{'kind':'amend-policy','policy':'night-watch','members':{'name':'Watch at night'}}");
        begin("/logbook", "Watch at night");
        browser.type("Words in the changes", "quiet bridge");
        browser.until("the others are gone", () -> !browser.body().contains("is called Watch at night"));
        browser.sees("is called Quiet bridge");
        atMost(3);
    }

    @Test
    void aPolicyIsRestoredToADay() {
        clock.step(Duration.ofDays(3));
        publishNow("{'kind':'remove-statement','policy':'bridge-under-way','setting':'chat.private','says':'set'}");
        browser.open("/policies/bridge-under-way");
        browser.sees("Bring it back to how it was at the end of");
        browser.count();
        browser.type("Day to go back to", "yesterday");
        browser.press("Restore");
        browser.sees("Bridge under way sets Talk between two to Off");
        atMost(4);
    }

    @Test
    void aGroupIsMadeOfASearch() {
        begin("/directory/people", "Tick all");
        browser.type("Search the people", "captain");
        browser.until("the search is answered", () -> browser.body().contains("with “captain”"));
        browser.until("it can be made a group", () -> browser.body().contains("Make a group of these"));
        browser.press(browser.buttonStarting("Make a group of these"));
        browser.keys("Captains and reliefs");
        browser.keys(Keys.ENTER);
        browser.sees("For access: policies can aim at it.");
        browser.sees("Captains and reliefs");
        atMost(5);
    }

    @Test
    void aComponentIsTakenFromThreePeople() {
        List<String> three = new ArrayList<>();
        for (JsonNode row : get("directory/people?q=Lidia&count=500").get("rows"))
            for (JsonNode seat : get("accounts/" + row.get("id").asText()).get("seats"))
                if (three.size() < 3
                        && seat.get("plan").asText().equals("Deck plan")
                        && seat.get("carries").toString().contains("Meetings"))
                    three.add(row.get("name").asText());
        begin("/directory/people?q=Lidia", three.get(0));
        for (String one : three) browser.tick("Choose " + one);
        browser.sees("3 accounts ticked");
        browser.pick("Leave out a component for those ticked", "Meetings of Deck plan");
        browser.sees("3 accounts lose Meetings");
        atMost(6);
    }

    @Test
    void whoLeavesIsDeactivatedAndRemovedFromEverything() {
        begin("/directory/people/mirela.osk", "Mirela Osk");
        browser.press("Deactivate");
        browser.sees("Still named in");
        browser.press("Remove from all of these");
        browser.until("nothing is left", () -> !browser.body().contains("Still named in"));
        browser.press("Review");
        browser.sees("The edits");
        browser.press("Publish");
        browser.sees("is published");
        atMost(6);
        assertThat(get("accounts/mirela.osk/departure").get("namedIn")).isEmpty();
    }

    @Test
    void aPolicyIsCopiedForTwoOtherUnitsAndPlaced() {
        begin("/policies/bridge-under-way", "Copy the settings only");
        browser.press("Copy the settings only");
        browser.sees("Nobody yet. Name a unit");
        browser.pick("Value of Talk between two", "On");
        browser.choose("Include", "Finance", "Finance");
        browser.sees("Reaches 14 accounts");
        browser.choose("Include", "Freight", "Freight");
        browser.press("Place above…");
        browser.choose("Place above", "Safety first", "Safety first");
        browser.sees("Bridge under way, copy moves above Safety first");
        atMost(14);
    }

    @Test
    void aChainOfThreeGatesIsOpened() {
        begin(
                "/ladder?who=account:yara.brekke&what=setting:meetings.summary&where=workspace:bridge-handbook",
                "What opens each gate");
        browser.press("Add to draft", "What opens the gates");
        browser.sees("1 edit");
        browser.press("Add to draft", "What opens the gates");
        browser.sees("2 edits");
        browser.press("Add to draft", "What opens the gates");
        browser.sees("3 edits");
        atMost(9);
    }

    @Test
    void aDraftIsScheduledConflictsAndIsResolved() {
        browser.open("/policies/bridge-under-way");
        browser.pick("Value of Talk between two", "On");
        browser.sees("people affected");
        browser.count();
        browser.press("Review");
        browser.pick("When to publish", "at a set time");
        browser.press("Schedule");
        browser.sees("Scheduled for");
        publishNow(
                "{'kind':'put-statement','policy':'bridge-under-way','statement':{'setting':'chat.private','set':false,'lock':true}}");
        browser.press("Open the draft");
        browser.sees("1 edit conflicts");
        browser.press("Use mine");
        browser.sees("people affected");
        atMost(10);
    }

    private void ask(String account, String setting) {
        assertThat(server.send(
                                "POST",
                                "/api/v1/suite/accounts/" + account + "/requests",
                                "{\"setting\":\"" + setting + "\"}",
                                "Authorization",
                                "Bearer " + RunningServer.SECRET)
                        .statusCode())
                .isEqualTo(201);
    }

    @Test
    void twoRequestsAreAnswered() {
        ask("mirela.osk", "chat.private");
        ask("yara.brekke", "assistant.use");
        begin("/today", "asks for “Talk between two”");
        browser.follow("Mirela Osk asks for “Talk between two”.");
        browser.sees("A policy for this person alone");
        browser.press("Add to draft", "What would grant it");
        browser.sees("1 edit");
        browser.follow("Yara Brekke asks for “Use the assistant”.");
        browser.sees("Or decline it");
        browser.type("Why not, for the person to read", "Not before spring.");
        browser.press("Decline");
        browser.sees("Declined");
        browser.press("Review");
        browser.sees("The edits");
        browser.press("Publish");
        browser.sees("is published");
        atMost(8);
    }

    @Test
    void fortyAddressesArePastedIntoAPolicy() {
        List<String> addresses = new ArrayList<>();
        for (JsonNode row : get("directory/people?active=true&count=40").get("rows"))
            addresses.add(row.get("address").asText());
        begin("/policies/night-watch", "Add or take out many by pasting a list");
        browser.press("Add or take out many by pasting a list");
        browser.type("Addresses, one a line", String.join("\n", addresses));
        browser.press("Look through the list");
        browser.sees("40 lines fit");
        browser.press("Add 40 accounts");
        browser.sees("1 edit");
        atMost(12);
    }

    /** Presses Tab until something has the focus, no more than so often. */
    private void tabTo(String label, int most) {
        List<String> met = new ArrayList<>();
        for (int i = 0; i < most && !browser.focused().equals(label); i++) {
            browser.keys(Keys.TAB);
            met.add(browser.focused());
        }
        assertThat(browser.focused()).as("after %s", met).isEqualTo(label);
    }

    @Test
    void oneValueIsChangedAndPublishedByKeyboardAlone() {
        begin("/today", "Ivo Tarn");
        browser.keys("/");
        browser.until("the finder has the focus", () -> browser.focused().equals("Ask anything"));
        browser.keys("mirela talk between two");
        browser.sees("Mirela Osk · Talk between two");
        browser.keys(Keys.ENTER);
        browser.sees("Bridge under way turned it off");
        tabTo("On", 40);
        browser.keys(Keys.ENTER);
        browser.until("the first way has the focus", () -> browser.focused().equals("Add to draft"));
        browser.keys(Keys.ENTER);
        browser.sees("The draft turns it from Off to On.");
        browser.keys("r");
        browser.sees("The edits");
        tabTo("Note", 8);
        browser.keys("She keeps the watch alone");
        browser.keys(Keys.ENTER);
        browser.sees("is published");
        atMost(30);
    }

    @Test
    void seatsAreBoughtForAUnitAndWhoWaitsAndWhatItCostsAreSeen() {
        begin("/seats/assistant-add-on", "seats held");
        browser.type("How many seats", "15");
        browser.press("Buy");
        browser.choose("Include in the plan", "engineers", "Engineers");
        browser.sees("7 waiting");
        browser.press("Review");
        browser.sees("Cost");
        browser.press("Publish");
        browser.sees("is published");
        atMost(16);
    }

    @Test
    void aSettingIsFoundInTheListByAWordThatIsMistyped() {
        begin("/settings", "189 settings");
        browser.type("Find a setting", "read reciepts");
        browser.until("few are left", () -> !browser.body().contains("189 settings"));
        browser.until(
                "one at least is found",
                () -> !browser.body().contains("No setting fits")
                        && !browser.body().contains("0 settings"));
    }
}
