package leanladder.bench;

import java.io.IOException;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import leanladder.estate.read.InvalidEstateException;
import leanladder.server.RunningServer;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.journal.StaleBaseException;
import org.openqa.selenium.chrome.ChromeDriver;

/** Searching a catalogue of 2,500 settings by mistyped titles: at the server, and from the key to the painted results. */
final class SearchBenchmark {
    private static final int SETTINGS = 2500;
    private static final int RUNS = 200;
    private static final String TYPE = """
            const [text, wanted, done] = arguments;
            const field = document.querySelector('input[role=combobox]');
            Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, text);
            const start = performance.now();
            field.dispatchEvent(new Event('input', {bubbles: true}));
            requestAnimationFrame(function look() {
              const found = [...document.querySelectorAll('[role=option]')].some(o => o.textContent.includes(wanted));
              // The frame after the one in which the results stand in the page has painted them.
              if (found) requestAnimationFrame(() => done(performance.now() - start));
              else if (performance.now() - start > 5000) done(-1);
              else requestAnimationFrame(look);
            });
            """;

    private final Table table;
    private final List<Thresholds> missed = new ArrayList<>();

    SearchBenchmark(Table table) {
        this.table = table;
    }

    List<Thresholds> run(Path web) throws IOException, InvalidEstateException {
        SyntheticEstate made = new SyntheticEstate(10_000, true, SETTINGS);
        table.print(String.format("%,d settings to search, mistyped, %,d accounts", SETTINGS, made.accounts()));
        try (Store store = ThrowAwayPostgres.get().newStore("bench_search")) {
            SqlBaseline.fill(store, made);
            try (RunningServer server = RunningServer.over(store, web).unchecked()) {
                atTheServer(server);
                if (!Files.isDirectory(web) || !BrowserSession.isThere())
                    table.row("from the key to the painted results", "not measured", BrowserSession.MISSING);
                else BrowserSession.with(driver -> painted(driver, server));
            }
        } catch (StaleBaseException moved) {
            throw new IllegalStateException(moved);
        }
        return missed;
    }

    /** A title with two neighbouring letters of its longest word in the wrong order. */
    private static String mistyped(String title) {
        String longest = Arrays.stream(title.split(" "))
                .max(Comparator.comparingInt(String::length))
                .orElseThrow();
        int at = title.indexOf(longest) + 1;
        return title.substring(0, at) + title.charAt(at + 1) + title.charAt(at) + title.substring(at + 2);
    }

    private void atTheServer(RunningServer server) {
        Random random = new Random(7);
        double[] times = new double[RUNS];
        for (int i = -50; i < RUNS; i++) {
            String title = SyntheticEstate.title(random.nextInt(SETTINGS));
            String q = URLEncoder.encode(mistyped(title), StandardCharsets.UTF_8);
            long start = System.nanoTime();
            HttpResponse<String> response = server.get("/api/v1/search?kinds=setting&limit=12&q=" + q);
            if (i >= 0) times[i] = (System.nanoTime() - start) / 1e9;
            if (!response.body().contains(title))
                throw new IllegalStateException(mistyped(title) + " finds no " + title);
        }
        row("searching, over REST", times, 0.05);
    }

    private void painted(ChromeDriver driver, RunningServer server) {
        driver.get(server.address() + "/policies");
        driver.executeAsyncScript("""
                const done = arguments[0];
                (function open() {
                  const slot = [...document.querySelectorAll('button')].find(b => b.textContent.startsWith('What'));
                  if (!slot) return setTimeout(open, 50);
                  slot.click();
                  (function wait() {
                    if (document.querySelector('input[role=combobox]')) done(); else setTimeout(wait, 50);
                  })();
                })();
                """);
        Random random = new Random(8);
        double[] times = new double[RUNS];
        for (int i = -20; i < RUNS; i++) {
            String title = SyntheticEstate.title(random.nextInt(SETTINGS));
            double took = ((Number) driver.executeAsyncScript(TYPE, mistyped(title), title)).doubleValue() / 1e3;
            if (took < 0) throw new IllegalStateException(mistyped(title) + " finds no " + title + " on the page");
            if (i >= 0) times[i] = took;
        }
        row("from the key to the painted results", times, 0.15);
    }

    private void row(String what, double[] times, double mark) {
        Arrays.sort(times);
        double median = times[times.length / 2];
        table.row(
                what,
                Table.time(median),
                "95 %: " + Table.time(times[times.length * 95 / 100]) + ", mark " + Table.time(mark));
        if (median > mark)
            missed.add(new Thresholds(
                    String.format("%,d settings: %s", SETTINGS, what),
                    Table.time(median),
                    Table.time(mark),
                    median / mark));
    }
}
