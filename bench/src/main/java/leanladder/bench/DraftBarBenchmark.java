package leanladder.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import leanladder.server.RunningServer;
import org.openqa.selenium.chrome.ChromeDriver;

/** From the key that chooses a value to the painted draft bar with its ripple, in a real browser. */
final class DraftBarBenchmark {
    private static final int RUNS = 200;
    private static final int WARM_UPS = 20;

    /** Waits until a switch can be chosen, flips it, waits for the draft bar to tell one edit, and takes it back. */
    private static final String FLIP = """
            const done = arguments[arguments.length - 1];
            const edits = () => document.querySelector('[data-testid=edits]')?.textContent ?? 'no edit';
            const field = () => [...document.querySelectorAll('select[aria-label^="Value of"]')].find(s => s.value === 'true' || s.value === 'false');
            const until = (holds, then) => { const begun = performance.now(); requestAnimationFrame(function look() {
              if (holds()) requestAnimationFrame(then);
              else if (performance.now() - begun > 10000) done(-1);
              else requestAnimationFrame(look);
            }); };
            const settled = () => edits() === 'no edit' && field() && field().value === (window.atFirst ??= field().value);
            until(settled, () => {
              const one = field();
              Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(one, one.value === 'true' ? 'false' : 'true');
              const start = performance.now();
              one.dispatchEvent(new Event('change', {bubbles: true}));
              until(() => edits() === '1 edit', () => {
                const took = performance.now() - start;
                document.querySelector('button[aria-label=Undo]').click();
                until(() => edits() === 'no edit', () => done(took));
              });
            });
            """;

    private final Table table;

    DraftBarBenchmark(Table table) {
        this.table = table;
    }

    /**
     * Measures it.
     *
     * @param policy whose sheet is opened; it must say something of a switch
     * @param mark seconds
     */
    List<Thresholds> run(RunningServer server, String what, String policy, double mark) {
        List<Thresholds> missed = new ArrayList<>();
        String row = "from the key to the painted tray, " + what;
        if (!BrowserSession.isThere()) {
            table.row(row, "not measured", BrowserSession.MISSING);
            return missed;
        }
        double[] times = new double[RUNS];
        BrowserSession.with(driver -> measure(driver, server.address() + "/policies/" + policy, times));
        Arrays.sort(times);
        double median = times[RUNS / 2];
        table.row(
                row, Table.time(median), "95 %: " + Table.time(times[RUNS * 95 / 100]) + ", mark " + Table.time(mark));
        if (median > mark) missed.add(new Thresholds(row, Table.time(median), Table.time(mark), median / mark));
        return missed;
    }

    private static void measure(ChromeDriver driver, String address, double[] times) {
        driver.get(address);
        for (int i = -WARM_UPS; i < times.length; i++) {
            double took = ((Number) driver.executeAsyncScript(FLIP)).doubleValue() / 1e3;
            if (took < 0) throw new IllegalStateException("The tray told nothing within ten seconds");
            if (i >= 0) times[i] = took;
        }
    }
}
