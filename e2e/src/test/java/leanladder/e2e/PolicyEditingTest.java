package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;

/** Policies written, copied, ranked and filled with people in the real interface. */
class PolicyEditingTest extends Editing {
    @Test
    void aCopyAimedAtAGroupExceptAnotherChangesTheAnswerThenAPersonThenALock() {
        browser.open("/policies/bridge-under-way?" + MIRELA);
        browser.press("Copy");
        browser.until(
                "The copy is open",
                () -> browser.valueOf("Name it for what it does").equals("Bridge under way, copy"));
        name("Officers may talk");
        browser.pick("Value of Talk between two", "On");
        for (String silent : new String[] {"Quiet under way", "Who has read an order", "Night screen on the bridge"})
            browser.pick("How it sets " + silent, "not set");
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
                "Yes. Talk between two is on for Mirela Osk. Officers may talk turned it on for the group Bridge officers.");

        browser.open("/policies?" + MIRELA);
        writePolicy("Not Mirela", "Off", "mirela", "Mirela Osk");
        publish("", "lose");
        browser.follow("See the answer on the ladder");
        browser.outcome("Not Mirela turned it off for Mirela Osk by name");
        browser.ladder("Officers may talk says On; by Bridge officers: lower rung");

        browser.open("/policies?" + MIRELA);
        writePolicy("Everybody talks", "On", "everyone", "Everyone");
        browser.pick("How it sets Talk between two", "locked to");
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
        browser.sees("people affected");
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
        browser.sees("people affected");
        browser.press("Review");
        browser.sees("Quiet under way");
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
        browser.press("Review");
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
        browser.open("/policies/loading-plans-for-the-office");
        browser.sees("Half of Loading plans: it does not set Loading plans in mail.");
        browser.press("On everywhere");
        browser.until("The family is whole", () -> !browser.body().contains("Half of Loading plans"));
        browser.sees("1 edit");
        browser.sees("people affected");
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
                () -> browser.body().contains("Talk between two Off On"));
        browser.sees("included until Tue 15 Dec");
        assertThat(browser.axe()).isEmpty();
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
}
