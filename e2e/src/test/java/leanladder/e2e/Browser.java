package leanladder.e2e;

import com.deque.html.axecore.args.AxeRunOptions;
import com.deque.html.axecore.results.Rule;
import com.deque.html.axecore.selenium.AxeBuilder;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.function.Supplier;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptException;
import org.openqa.selenium.Keys;
import org.openqa.selenium.NoSuchElementException;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.StaleElementReferenceException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.Select;
import org.openqa.selenium.support.ui.WebDriverWait;

/** A headless browser in the hands of a test: it waits for what it looks for, and never sleeps. */
final class Browser implements AutoCloseable {
    private static final Duration PATIENCE = Duration.ofSeconds(20);
    /** What the page says, with tabs and hard spaces as plain ones. */
    private static final String SAID = "document.body.innerText.replace(/[\\t\\u00a0]/g, ' ')";

    /** Looks at the page whenever it changed, and four times a second; gives up for the time being after two seconds. */
    private static final String WAITING = """
            const [given, done] = arguments;
            const look = () => %s;
            const until = performance.now() + 2000;
            let due, changed = false;
            const again = () => {
              changed = false;
              const found = look();
              if (!found && performance.now() < until) {
                due = setTimeout(again, 250);
                return;
              }
              changes.disconnect();
              done(found || null);
            };
            const changes = new MutationObserver(() => {
              if (changed) return;
              changed = true;
              clearTimeout(due);
              due = setTimeout(again, 20);
            });
            changes.observe(document, { subtree: true, childList: true, characterData: true, attributes: true });
            again();
            """;

    private String address;
    private int actions;
    private final Path profile;
    private final ChromeDriver driver;

    Browser(String address, int width, int height) throws IOException {
        this.address = address;
        this.profile = Files.createTempDirectory("lean-ladder-browser");
        ChromeOptions options = new ChromeOptions();
        options.setBinary("/usr/bin/chromium");
        options.addArguments(
                "--headless=new",
                "--no-sandbox",
                "--disable-dev-shm-usage",
                "--disable-gpu",
                "--no-first-run",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--disable-quic",
                "--disable-default-apps",
                "--no-pings",
                "--metrics-recording-only",
                "--hide-scrollbars",
                "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
                "--user-data-dir=" + profile,
                "--window-size=" + width + "," + height);
        ChromeDriverService service = new ChromeDriverService.Builder()
                .usingDriverExecutable(new File("/usr/bin/chromedriver"))
                .build();
        driver = new ChromeDriver(service, options);
        size(width, height);
    }

    /** Gives the page another size. */
    void size(int width, int height) {
        driver.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                java.util.Map.of("width", width, "height", height, "deviceScaleFactor", 1, "mobile", false));
    }

    @Override
    public void close() throws IOException {
        driver.quit();
        try (var files = Files.walk(profile)) {
            files.sorted(java.util.Comparator.reverseOrder())
                    .forEach(f -> f.toFile().delete());
        }
    }

    /** Forgets what pages of the server kept, so that the next one opens as for the first time. */
    void forget() {
        driver.executeCdpCommand(
                "Storage.clearDataForOrigin", java.util.Map.of("origin", address, "storageTypes", "local_storage"));
    }

    /** Waits until the page has been drawn anew, twice: what follows from its size is known after the first time. */
    void settles() {
        promised("new Promise(drawn => requestAnimationFrame(() => requestAnimationFrame(drawn)))");
    }

    /** Has pages believe that the person likes them light or dark. */
    void prefers(String theme) {
        driver.executeCdpCommand(
                "Emulation.setEmulatedMedia",
                java.util.Map.of(
                        "features", List.of(java.util.Map.of("name", "prefers-color-scheme", "value", theme))));
    }

    /** Goes on with a server at another address. */
    void at(String another) {
        address = another;
    }

    /** Leaves the page, and whatever it listens to. */
    void leave() {
        driver.get("about:blank");
    }

    void open(String path) {
        driver.get(address + path);
    }

    void reload() {
        driver.navigate().refresh();
    }

    String url() {
        return driver.getCurrentUrl();
    }

    /** Waits until what is looked for holds. */
    void until(String what, Supplier<Boolean> holds) {
        new WebDriverWait(driver, PATIENCE)
                .pollingEvery(Duration.ofMillis(50))
                .ignoring(StaleElementReferenceException.class, NoSuchElementException.class)
                .withMessage(() -> what + "; the page says: " + body())
                .until(d -> holds.get());
    }

    /**
     * Waits, inside the page, until a look at it finds something, and gives that back. The page is looked at when it changed, and now and then
     * beside that, for what changes in no element; where it is left meanwhile, the waiting goes on in the next one.
     *
     * @param look an expression of JavaScript that sees what is {@code given}, a text
     */
    private Object found(String what, String look, String given) {
        return new WebDriverWait(driver, PATIENCE)
                .pollingEvery(Duration.ofMillis(50))
                .ignoring(StaleElementReferenceException.class, JavascriptException.class)
                .withMessage(() -> what + "; the page says: " + body())
                .until(d -> driver.executeAsyncScript(WAITING.formatted(look), given));
    }

    /** The first element on this path that can be seen. */
    private WebElement find(String xpath) {
        return (WebElement) found("There is " + xpath, """
                {
                  const all = document.evaluate(given, document, null, XPathResult.ORDERED_NODE_SNAPSHOT_TYPE, null);
                  for (let i = 0; i < all.snapshotLength; i++) {
                    const one = all.snapshotItem(i);
                    if (one.getClientRects().length && one.checkVisibility({ opacityProperty: true, visibilityProperty: true })) return one;
                  }
                  return null;
                }""", xpath);
    }

    /** The first element of this role with this accessible name. */
    WebElement role(String role, String name) {
        String quoted = name.contains("'") ? "\"" + name + "\"" : "'" + name + "'";
        String tags = switch (role) {
            case "button" -> "self::button or @role='button'";
            case "link" -> "self::a";
            case "field" -> "self::input or self::textarea or self::select or self::button[@role='combobox']";
            default -> "@role='" + role + "'";
        };
        return find("//*[" + tags + "][normalize-space(.)=" + quoted + " or @aria-label=" + quoted
                + " or @placeholder=" + quoted + " or starts-with(@aria-label, " + quoted
                + ") or ancestor::label[starts-with(normalize-space(.), " + quoted + ")]]");
    }

    /** Starts to count what a person does: each click, each typed text, each key. */
    void count() {
        actions = 0;
    }

    /** How many actions there were since. */
    int actions() {
        return actions;
    }

    /** Typing where the keyboard is already is one action, elsewhere there is a click before it. */
    private void counted(WebElement field) {
        actions += driver.switchTo().activeElement().equals(field) ? 1 : 2;
    }

    void press(String button) {
        actions++;
        until("The button " + button + " can be pressed", () -> {
            WebElement element = role("button", button);
            if (!element.isEnabled()) return false;
            element.click();
            return true;
        });
    }

    /** The same of the one in a region. */
    void press(String button, String region) {
        until("The button " + button + " in " + region + " can be pressed", () -> {
            find("//section[@aria-label='" + region + "']//button[normalize-space(.)='" + button + "']")
                    .click();
            return true;
        });
    }

    /** Presses the first button of a region that begins so. */
    void pressBeginning(String button, String region) {
        until("The button " + button + " in " + region + " can be pressed", () -> {
            find("//section[@aria-label='" + region + "']//button[starts-with(normalize-space(.), '" + button + "')]")
                    .click();
            return true;
        });
    }

    /** Does something inside a frame. */
    void inside(String frame, Runnable doing) {
        driver.switchTo().frame(find("//iframe[@title='" + frame + "']"));
        doing.run();
        driver.switchTo().defaultContent();
    }

    /** Goes to a link by the keyboard, for what is shown only while one is there. */
    void focus(String link) {
        role("link", link).sendKeys(Keys.SHIFT);
    }

    void follow(String link) {
        actions++;
        until("The link " + link + " can be followed", () -> {
            role("link", link).click();
            return true;
        });
    }

    /** Types into a search field and chooses the option that starts so. */
    void choose(String field, String typed, String option) {
        WebElement input = role("field", field);
        counted(input);
        actions++;
        input.click();
        input.sendKeys(Keys.chord(Keys.CONTROL, "a"), typed);
        String starts = "//*[@role='option'][starts-with(normalize-space(.), '" + option + "')]";
        until("The option " + option, () -> {
            List<WebElement> found = driver.findElements(By.xpath(starts));
            if (found.isEmpty()) return false;
            found.get(0).click();
            return true;
        });
    }

    void type(String field, String text) {
        WebElement input = role("field", field);
        counted(input);
        input.sendKeys(Keys.chord(Keys.CONTROL, "a"), text);
    }

    /** Hands a file over. */
    void upload(String field, Path file) {
        role("field", field).sendKeys(file.toAbsolutePath().toString());
    }

    /** Ticks a box, or takes the tick away. */
    void tick(String box) {
        actions++;
        until("The box " + box + " can be ticked", () -> {
            role("field", box).click();
            return true;
        });
    }

    String valueOf(String field) {
        return role("field", field).getDomProperty("value");
    }

    /** Picks an entry of a drop-down list. */
    void pick(String field, String entry) {
        actions += 2;
        until("The field " + field + " offers " + entry, () -> {
            WebElement element = role("field", field);
            if (element.getTagName().equals("select")) new Select(element).selectByVisibleText(entry);
            else {
                if (!"true".equals(element.getDomAttribute("aria-expanded"))) element.click();
                find("//*[@role='listbox']/*[@role='option'][normalize-space(*[last()])='" + entry + "']")
                        .click();
            }
            return true;
        });
    }

    void keys(CharSequence... keys) {
        actions++;
        driver.switchTo().activeElement().sendKeys(keys);
    }

    /** Takes one thing by the mouse and drops it on another, in steps as a hand does. */
    void drag(String button, String onto) {
        WebElement from = role("button", button);
        WebElement to = role("button", onto);
        int down = to.getRect().y - from.getRect().y;
        new org.openqa.selenium.interactions.Actions(driver)
                .moveToElement(from)
                .clickAndHold()
                .moveByOffset(0, Integer.signum(down) * 10)
                .moveByOffset(0, down / 2)
                .moveByOffset(0, down - down / 2 - Integer.signum(down) * 10)
                .release()
                .perform();
    }

    /** The whole text of the first button that starts so. */
    String buttonStarting(String text) {
        return find("//button[starts-with(normalize-space(.), '" + text + "')]").getText();
    }

    String focused() {
        WebElement element = driver.switchTo().activeElement();
        String label = element.getDomAttribute("aria-label");
        return label != null ? label : element.getText();
    }

    /** Waits until the page shows the text somewhere. */
    void sees(String text) {
        found("The page says \"" + text + "\"", SAID + ".includes(given)", text);
    }

    /** What the page says, with tabs and hard spaces as plain ones. */
    String body() {
        return text(SAID);
    }

    /** What the region of this name says; empty while there is none. */
    String region(String name) {
        return driver.findElements(By.cssSelector("[role=region][aria-label='" + name + "']")).stream()
                .map(WebElement::getText)
                .findFirst()
                .orElse("");
    }

    /** Waits until the outcome sentence holds the text. */
    void outcome(String text) {
        until(
                "The outcome says \"" + text + "\"",
                () -> find("//*[@data-testid='outcome']").getText().contains(text));
    }

    /** Waits until the drawn ladder has a part whose label holds the text. */
    void ladder(String text) {
        until("The ladder shows \"" + text + "\"", () -> ladderLabels().stream().anyMatch(l -> l.contains(text)));
    }

    @SuppressWarnings("unchecked")
    List<String> ladderLabels() {
        return (List<String>)
                driver.executeScript(
                        "return [...document.querySelectorAll('svg[role=list] [aria-label]')].map(part => part.getAttribute('aria-label'))");
    }

    /** What axe is to look at. */
    enum Rules {
        ALL,
        CONTRAST,
        ALL_BUT_CONTRAST,
        NOTHING
    }

    /** What axe finds wrong, serious and critical; told as one line each. */
    List<String> axe() {
        return axe(Rules.ALL);
    }

    /** The same by some rules only. No page of ours holds frames, so none is opened. */
    List<String> axe(Rules rules) {
        if (rules == Rules.NOTHING) return List.of();
        AxeRunOptions options = new AxeRunOptions();
        options.setResultTypes(List.of("violations"));
        AxeBuilder axe = new AxeBuilder().setLegacyMode(true).withOptions(options);
        List<String> contrast = List.of("color-contrast");
        if (rules == Rules.CONTRAST) axe.withRules(contrast);
        if (rules == Rules.ALL_BUT_CONTRAST) axe.disableRules(contrast);
        return axe.analyze(driver).getViolations().stream()
                .filter(rule -> List.of("serious", "critical").contains(rule.getImpact()))
                .map(Browser::told)
                .toList();
    }

    private static String told(Rule rule) {
        return rule.getId() + ": " + rule.getHelp() + " at "
                + rule.getNodes().stream()
                        .map(n -> String.valueOf(n.getTarget()) + " " + n.getHtml())
                        .toList();
    }

    void script(String script) {
        driver.executeScript(script);
    }

    /** What a script comes to, as a text; empty for nothing. */
    String text(String script) {
        Object found = driver.executeScript("return " + script);
        return found == null ? "" : found.toString();
    }

    /** What a promise of a script comes to, as a text. */
    String promised(String promise) {
        return String.valueOf(driver.executeAsyncScript("(" + promise + ").then(arguments[0])"));
    }

    long number(String script) {
        return ((Number) driver.executeScript("return " + script)).longValue();
    }

    /** What the clipboard holds. */
    String clipboard() {
        driver.executeCdpCommand(
                "Browser.grantPermissions",
                java.util.Map.of(
                        "origin", address, "permissions", List.of("clipboardReadWrite", "clipboardSanitizedWrite")));
        return (String) driver.executeAsyncScript("navigator.clipboard.readText().then(arguments[0])");
    }

    void picture(Path to) throws IOException {
        Files.write(to, driver.getScreenshotAs(OutputType.BYTES));
    }
}
