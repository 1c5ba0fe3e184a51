package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import leanladder.server.RunningServer;
import leanladder.server.TestClock;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.Keys;

/** From an empty database to the first answered question about one's own people. */
class FirstEstateTest {
    private static final int PEOPLE = 500;

    @Test
    void aCompanyStartsFromNothingAndAsksAboutOneOfItsOwnPeople(@TempDir Path dir) throws Exception {
        Path units = Files.writeString(dir.resolve("units.csv"), "id,name,parent\nharbour,Harbour,organisation\n");
        Path people = Files.writeString(
                dir.resolve("people.csv"),
                "E-Mail,Who,Department\n"
                        + IntStream.rangeClosed(1, PEOPLE)
                                .mapToObj(n -> "hand" + n + "@north.example,Hand Number " + n + ",harbour")
                                .collect(Collectors.joining("\n")));
        try (Browser browser = new Browser("about:blank", 1280, 800);
                RunningServer server = RunningServer.start(
                        ThrowAwayPostgres.get(), "start_test", Path.of("../web/dist"), "", new TestClock())) {
            browser.at(server.address());
            browser.open("/");
            browser.sees("Start with your organisation");
            assertThat(browser.axe()).isEmpty();
            browser.press("Start");
            browser.sees("Type the name of the organisation.");
            browser.type("Name of the organisation", "Northern Ferries");
            browser.press("Start");
            browser.sees("Still missing");
            browser.sees("There is no unit below the organisation.");
            browser.sees("Nobody is in the directory.");
            browser.open("/directory/units");
            browser.press("From a file");
            browser.upload("The file", units);
            browser.press("Add 1 line to draft");
            browser.sees("1 edit");
            browser.open("/directory/people");
            browser.press("From a file");
            browser.upload("The file", people);
            // What the file calls names is not known here; the rest is.
            browser.sees(PEOPLE + " refused");
            browser.pick("Column for name", "Who");
            browser.sees(PEOPLE + " new");
            browser.press("Add " + PEOPLE + " lines to draft");
            browser.sees(PEOPLE + " new");
            browser.press("Review");
            browser.sees("The edits");
            browser.press("Publish");
            browser.sees("is published");
            browser.keys("/");
            browser.type("Ask anything", "hand number 250 talk between two");
            browser.sees("Hand Number 250 · Talk between two");
            browser.keys(Keys.ENTER);
            browser.sees("Talk between two is");
            browser.sees("Hand Number 250");
            browser.open("/today");
            browser.sees("There is no policy");
            assertThat(browser.body()).doesNotContain("Nobody is in the directory.");
        }
    }
}
