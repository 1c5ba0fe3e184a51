package leanladder.bench;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.Callable;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.store.ThrowAwayPostgres;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Measures speed and memory beside yardsticks of the same run, as a table; ./ladder bench starts it. */
@Command(
        name = "bench",
        description = "Speed and memory beside yardsticks of the same run.",
        mixinStandardHelpOptions = true)
public final class Main implements Callable<Integer> {
    @Option(names = "--accounts", split = ",", description = "sizes of the estates; 10000,100000,1000000 when left out")
    private List<Integer> sizes = List.of(10_000, 100_000, 1_000_000);

    @Option(names = "--mix", split = ",", description = "plain, full or both; both when left out")
    private List<String> mixes = List.of("plain", "full");

    @Option(names = "--no-postgres", description = "leaves out what needs a database")
    private boolean withoutPostgres;

    @Option(names = "--only-server", description = "only what is asked of a server over PostgreSQL, for each size")
    private boolean onlyServer;

    @Option(
            names = "--parts",
            split = ",",
            description = "of what is asked of a server: ${COMPLETION-CANDIDATES}; all but the last when left out")
    private Set<SqlBaseline.EstateEntity> parts = EnumSet.complementOf(EnumSet.of(SqlBaseline.EstateEntity.EVERYBODY));

    /** The program's entry. */
    public static void main(String[] args) {
        System.exit(new CommandLine(new Main())
                .setCaseInsensitiveEnumValuesAllowed(true)
                .execute(args));
    }

    @Override
    public Integer call() throws Exception {
        Table table = new Table();
        double fill = Baselines.fill();
        table.print("Y, the time to fill 2 GB of touched memory, one byte a cell, all cores, best of five: "
                + Table.time(fill) + " on " + Runtime.getRuntime().availableProcessors() + " cores");
        if (!withoutPostgres && !onlyServer)
            table.print("One set-based SQL statement over 10,000 accounts, plain mix, without exceptions: "
                    + Table.time(SingleStatementBenchmark.seconds()));
        List<Thresholds> missed = new ArrayList<>();
        if (!withoutPostgres && !onlyServer) {
            missed.addAll(onTheDemo(table));
            missed.addAll(new SearchBenchmark(table).run(SqlBaseline.WEB));
        }
        for (int accounts : sizes)
            for (String mix : mixes) {
                SyntheticEstate made = new SyntheticEstate(accounts, mix.equals("full"));
                if (!onlyServer) missed.addAll(new ResolutionBenchmark(made, fill, table).run());
                if (!withoutPostgres && mix.equals(mixes.get(mixes.size() - 1)))
                    missed.addAll(new SqlBaseline(table, parts).run(made));
            }
        table.print("");
        table.print(missed.isEmpty() ? "Every mark is held." : "Marks that are missed:");
        missed.forEach(m -> table.print("  " + m.print()));
        return 0;
    }

    private static List<Thresholds> onTheDemo(Table table) throws Exception {
        String estate = Json.write(new DemoEstate().build());
        try (RunningServer server = RunningServer.start(ThrowAwayPostgres.get(), "bench_demo", SqlBaseline.WEB, estate)
                .unchecked()) {
            return new DraftBarBenchmark(table).run(server, "the demo", "house-rules", 0.3);
        }
    }
}
