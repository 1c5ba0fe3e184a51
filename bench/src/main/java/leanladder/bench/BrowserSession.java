package leanladder.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.function.Consumer;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeOptions;

/** A real browser without a window, 1280 by 800. */
final class BrowserSession {
    static final String MISSING = "there is no Chromium here; ./ladder test installs it";
    private static final String DRIVER = "/usr/bin/chromedriver";

    private BrowserSession() {}

    static boolean isThere() {
        return Files.exists(Path.of(DRIVER));
    }

    /** Starts a browser, hands it over and ends it. */
    static void with(Consumer<ChromeDriver> use) {
        ChromeOptions options = new ChromeOptions();
        options.addArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--window-size=1280,800");
        options.setBinary("/usr/bin/chromium");
        System.setProperty("webdriver.chrome.driver", DRIVER);
        ChromeDriver driver = new ChromeDriver(options);
        try {
            driver.manage().timeouts().scriptTimeout(Duration.ofSeconds(60));
            use.accept(driver);
        } finally {
            driver.quit();
        }
    }
}
