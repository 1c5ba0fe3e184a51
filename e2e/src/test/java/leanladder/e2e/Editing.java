package leanladder.e2e;

import java.nio.file.Path;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.server.TestClock;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.openqa.selenium.Keys;

/** A browser before a server with the demo estate that is made anew for each test, and what every editor does. */
abstract class Editing {
    static final String DATABASE = "editing_test";
    static final String MIRELA = "who=account:mirela.osk&what=setting:chat.private";

    private static Browser shared;

    TestClock clock;
    RunningServer server;
    Browser browser;

    @BeforeAll
    static void openBrowser() throws Exception {
        shared = new Browser("about:blank", 1280, 800);
    }

    @AfterAll
    static void closeBrowser() throws Exception {
        shared.close();
    }

    /** Each server has a port of its own, so that a browser keeps nothing from one test to the next. */
    @BeforeEach
    void open() throws Exception {
        clock = new TestClock();
        server = RunningServer.start(
                ThrowAwayPostgres.get(), DATABASE, Path.of("../web/dist"), Json.write(new DemoEstate().build()), clock);
        browser = shared;
        browser.at(server.address());
    }

    @AfterEach
    void close() {
        browser.leave();
        server.close();
    }

    void name(String name) {
        browser.type("Name it for what it does", name);
        browser.keys(Keys.ENTER);
    }

    void writePolicy(String name, String value, String typed, String whom) {
        browser.press("New policy");
        name(name);
        browser.sees("Nothing is set so far");
        browser.choose("Add a setting", "private chat", "Talk between two");
        browser.pick("Value of Talk between two", value);
        browser.choose("Include", typed, whom);
    }

    void publish(String note, String effect) {
        browser.sees(effect);
        browser.press("Review");
        browser.sees("The edits");
        browser.type("Note", note);
        browser.press("Publish");
        browser.sees("is published");
    }
}
