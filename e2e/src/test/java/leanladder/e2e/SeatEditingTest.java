package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.Test;

/** Seats given, bought and moved in the real interface. */
class SeatEditingTest extends Editing {
    @Test
    void aFeatureForAGroupWithoutLicencesIsGivenSeatsUntilThePlanIsFullAndTheRestComeWithTomorrowsPurchase() {
        browser.open("/policies");
        browser.press("New policy");
        name("Engineers ask the assistant");
        browser.choose("Add a setting", "use the assistant", "Use the assistant");
        browser.pick("Value of Use the assistant", "On");
        browser.choose("Include", "engineers", "Engineers");
        browser.sees("reaches 17");
        browser.press("Review");
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
        browser.press("Review");
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
        browser.press("Review");
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
}
