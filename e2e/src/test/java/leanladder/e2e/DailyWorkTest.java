package leanladder.e2e;

import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;

/** Everyday tasks, each with the number of actions that it takes: a click, a typed text, or a key. */
class DailyWorkTest extends Editing {
    /** Four actions: the finder, what is asked, the value, and Enter for the smallest way. */
    @Test
    void oneValueIsChangedForOnePersonInFourActions() {
        browser.open("/today");
        browser.sees("Ivo Tarn");
        browser.keys("/");
        browser.type("Ask anything", "mirela talk between two");
        browser.sees("Mirela Osk · Talk between two");
        browser.keys(Keys.ENTER);
        browser.sees("Bridge under way turned it off");
        browser.press("On");
        browser.sees("A policy of its own, “Talk between two for Mirela Osk”");
        browser.until("the first way has the focus", () -> browser.focused().equals("Add to draft"));
        browser.keys(Keys.ENTER);
        browser.sees("The draft turns it from Off to On.");
        browser.sees("1 person affected");
    }
}
