package leanladder.bench;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import leanladder.server.RunningServer;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.support.ui.WebDriverWait;

/** Scrolls the matrix in a real browser for 20 seconds, by wheel and by jumps, and measures frames and rows that stay empty. */
final class ScrollBenchmark {
    private static final String MEASURE = """
            const box = document.querySelector('[role=grid]');
            const frames = []; const since = new Map(); let longest = 0; let last = performance.now(); let on = true;
            window.measured = () => { on = false; return {frames: frames.slice(5), longest, height: box.scrollHeight}; };
            requestAnimationFrame(function step(now) {
              frames.push(now - last); last = now;
              const from = box.scrollTop; const to = from + box.clientHeight; const empty = new Set();
              for (const row of box.querySelectorAll('[role=row][aria-rowindex]')) {
                const at = 40 + (row.getAttribute('aria-rowindex') - 2) * 30;
                if (at + 30 < from + 40 || at > to) continue;
                if (row.style.visibility === 'hidden') empty.add(row.getAttribute('aria-rowindex'));
              }
              for (const row of since.keys()) if (!empty.has(row)) since.delete(row);
              for (const row of empty) { if (!since.has(row)) since.set(row, now); longest = Math.max(longest, now - since.get(row)); }
              if (on) requestAnimationFrame(step);
            });
            """;

    /** A part of the whole height, in hundredths. */
    private static final String JUMP =
            "const box = document.querySelector('[role=grid]'); box.scrollTop = arguments[0] / 100 * (box.scrollHeight - box.clientHeight);";

    private static final long SCROLLED = 20_000_000_000L;
    private static final int WHEELED = 9000;
    private static final int SPEED = 5400;

    private final Table table;
    private final List<Thresholds> missed = new ArrayList<>();

    ScrollBenchmark(Table table) {
        this.table = table;
    }

    List<Thresholds> run(RunningServer server) {
        if (!BrowserSession.isThere()) {
            table.row("scrolling the matrix", "not measured", BrowserSession.MISSING);
            return missed;
        }
        BrowserSession.with(driver -> {
            scroll(driver, server.address() + "/matrix?columns=app:app1", "2,000 units", false);
            scroll(driver, server.address() + "/matrix?columns=app:app2", "opened down to all people", true);
        });
        return missed;
    }

    private void scroll(ChromeDriver driver, String address, String what, boolean people) {
        driver.get(address);
        new WebDriverWait(driver, Duration.ofSeconds(60)).until(d ->
                (Boolean) driver.executeScript("return document.querySelectorAll('[role=gridcell]').length > 50"));
        driver.executeScript("[...document.querySelectorAll('button')].find(b => b.textContent.startsWith('"
                + (people ? "Open all, down" : "Open all units") + "')).click()");
        new WebDriverWait(driver, Duration.ofSeconds(60)).until(d -> (Boolean)
                driver.executeScript("return document.querySelector('[role=grid]').getAttribute('aria-rowcount') > "
                        + (people ? 50_000 : 1000)));
        driver.executeScript(MEASURE);
        long start = System.nanoTime();
        for (int jump = 1; System.nanoTime() - start < SCROLLED; jump++) {
            driver.executeScript(JUMP, jump * 7919 % 100);
            wheel(driver, jump % 2 == 0 ? WHEELED : -WHEELED);
        }
        @SuppressWarnings("unchecked")
        Map<String, Object> told = (Map<String, Object>) driver.executeScript("return window.measured()");
        List<Double> frames = new ArrayList<>();
        for (Object frame : (List<?>) told.get("frames")) frames.add(((Number) frame).doubleValue());
        frames.sort(null);
        double slow = frames.get(frames.size() * 95 / 100);
        double empty = ((Number) told.get("longest")).doubleValue();
        table.row(
                "scrolling the matrix for 20 s, " + what,
                String.format("95 %% %.0f ms", slow),
                String.format(
                        "%d frames, mark 32 ms; a row empty for %.0f ms at most, mark 300 ms", frames.size(), empty));
        if (slow > 32)
            missed.add(new Thresholds(
                    "scrolling, " + what + ", frames", String.format("%.0f ms", slow), "32 ms", slow / 32));
        if (empty > 300)
            missed.add(new Thresholds(
                    "scrolling, " + what + ", empty rows", String.format("%.0f ms", empty), "300 ms", empty / 300));
    }

    /** Turns the wheel over the matrix at an even speed, as the browser itself takes it. */
    private static void wheel(ChromeDriver driver, int distance) {
        driver.executeCdpCommand(
                "Input.synthesizeScrollGesture",
                Map.of("x", 700, "y", 450, "yDistance", distance, "speed", SPEED, "gestureSourceType", "mouse"));
    }
}
