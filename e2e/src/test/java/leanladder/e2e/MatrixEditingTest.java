package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;

/** The Matrix edited by keyboard. */
class MatrixEditingTest extends Editing {
    @Test
    void theMatrixIsEditedByKeyboardAndStagesAStatement() {
        browser.open("/matrix?columns=app:chat");
        browser.sees("Skerrymore Ferries");
        browser.sees("Engineering");
        browser.script("document.querySelector('[role=grid]').focus()");
        standOn("Engineering", Keys.ARROW_DOWN);
        standOn("Talk between two", Keys.ARROW_RIGHT);
        browser.sees("House rules");
        browser.keys("o");
        browser.sees("“o” can become On or Off: type on.");
        browser.keys("ff");
        browser.sees("in a new policy, “Talk between two for Engineering”");
        browser.sees("in Workshop phones");
        assertThat(browser.axe()).isEmpty();
        browser.keys(Keys.ENTER);
        browser.sees("Workshop phones sets Talk between two to Off");
        browser.sees("52 people affected");
        browser.keys(Keys.DELETE);
        browser.sees("no more in Workshop phones");
        browser.keys(Keys.ENTER);
        browser.sees("Workshop phones no longer sets Talk between two");
        browser.keys(Keys.DELETE);
        browser.sees("No policy aimed at exactly Engineering sets it");
        browser.keys(Keys.ESCAPE);
        browser.keys("off");
        browser.sees("in Workshop phones");
        browser.keys(Keys.ENTER);
        browser.sees("52 people affected");
        browser.pick("Which rows to show", "where the draft changes something");
        browser.sees("only where the draft changes something");
        browser.until("Only Engineering is shown", () -> !browser.body().contains("MV Heron"));
        assertThat(browser.axe()).isEmpty();
        browser.press("Show everything");
        browser.sees("MV Heron");
    }

    @Test
    void theColumnsOfTheMatrixAreChosenOneByOne() {
        browser.open("/matrix?columns=family:plans");
        browser.sees("Skerrymore Ferries");
        browser.pick("Columns", "Chosen one by one");
        browser.choose("Add a column", "private chat", "Talk between two");
        browser.sees("4 settings");
        browser.press("Take Talk between two away");
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
}
