package leanladder.bench;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.AccountReach;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Column;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.RankedStatement;
import leanladder.ripple.Ripple;
import leanladder.seat.Entitlements;

/** The figures of one estate, held against their marks. */
final class ResolutionBenchmark {
    private static final EvaluationContext NOW = EvaluationContext.at(Instant.parse("2026-11-23T12:00:00Z"));
    private static final int SHORT_RUNS = 200;
    private static final int WARM_UPS = 30;
    private static final int SAMPLE = 20_000;
    private static final int LOOPED = 2_000;

    private final SyntheticEstate made;
    private final double fill;
    private final Table table;
    private final List<Thresholds> missed = new ArrayList<>();
    private CompiledEstate compiledEstate;
    private Entitlements seats;

    ResolutionBenchmark(SyntheticEstate made, double fill, Table table) {
        this.made = made;
        this.fill = fill;
        this.table = table;
    }

    List<Thresholds> run() throws IOException, InvalidEstateException {
        table.print("");
        table.print(String.format("%,d accounts, %s mix", made.accounts(), made.full() ? "full" : "plain"));
        long start = System.nanoTime();
        Estate estate = made.read(entityRecord -> {}).estate();
        table.row("making, writing and reading the estate file", Table.time(since(start)), "");
        start = System.nanoTime();
        compiledEstate = new CompiledEstate(estate);
        table.row("compiling the directory", Table.time(since(start)), "");
        allocation();
        solution();
        climbs();
        ripples();
        loop();
        memory();
        if (made.full()) memoryOfSeats();
        return missed;
    }

    private static double since(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    private void mark(String what, double measured, double wanted, boolean counts) {
        if (counts && measured > wanted)
            missed.add(new Thresholds(
                    String.format("%,d %s: %s", made.accounts(), made.full() ? "full" : "plain", what),
                    Table.time(measured),
                    Table.time(wanted),
                    measured / wanted));
    }

    private boolean isLargest() {
        return made.accounts() == 1_000_000;
    }

    private void allocation() {
        double best = Double.MAX_VALUE;
        for (int i = 0; i < 3; i++) {
            long start = System.nanoTime();
            seats = compiledEstate.seats(NOW.at());
            best = Math.min(best, since(start));
        }
        if (!made.full()) return;
        table.row("allocation of 40 plans, best of three", Table.time(best), "mark 1 s");
        mark("allocation", best, 1, isLargest());
    }

    private void solution() {
        double best = Double.MAX_VALUE;
        long cells = 0;
        Map<String, Column> columns = new HashMap<>();
        for (int i = 0; i < 15; i++) {
            ColumnResolver columnResolver = new ColumnResolver(compiledEstate, NOW, seats);
            long start = System.nanoTime();
            columnResolver.all();
            best = Math.min(best, since(start));
            if (i == 0)
                for (String key : compiledEstate.estate().catalogue().settings().keySet())
                    columns.put(key, columnResolver.column(key));
        }
        cells = (long) compiledEstate.directory().active().getCardinality() * columns.size();
        table.row(
                "full solution, best of fifteen",
                Table.time(best),
                String.format("%.2f Y, mark %s; %,d cells", best / fill, made.full() ? "6 Y and 1.5 s" : "2 Y", cells));
        mark("full solution against Y", best, (made.full() ? 6 : 2) * fill, isLargest());
        if (made.full()) mark("full solution", best, 1.5, isLargest());
        sample(columns);
    }

    /** Holds some cells of the columns against the climb. */
    private void sample(Map<String, Column> columns) {
        Random random = new Random(1);
        List<Setting> settings =
                List.copyOf(compiledEstate.estate().catalogue().settings().values());
        int wrong = 0;
        int[] active = compiledEstate.directory().active().toArray();
        for (int i = 0; i < SAMPLE / 20; i++) {
            int number = active[random.nextInt(active.length)];
            AccountResolver accountResolver = new AccountResolver(
                    compiledEstate, NOW, seats, compiledEstate.directory().account(number));
            for (int j = 0; j < 20; j++) {
                Setting setting = settings.get(random.nextInt(settings.size()));
                if (!columns.get(setting.key()).of(number).equals(accountResolver.outcome(setting))) wrong++;
            }
        }
        table.row(
                "cells of the solution that the climb confirms",
                String.format("%,d", SAMPLE - wrong),
                "of " + String.format("%,d", SAMPLE));
        if (wrong > 0) missed.add(new Thresholds("cells that the climb denies", String.valueOf(wrong), "none", wrong));
    }

    private void climbs() {
        List<Setting> settings =
                List.copyOf(compiledEstate.estate().catalogue().settings().values());
        int[] active = compiledEstate.directory().active().toArray();
        Random random = new Random(2);
        var touched = AccountResolver.touched(compiledEstate, NOW);
        double[] climb = timed(() -> {
            Account account = compiledEstate.directory().account(active[random.nextInt(active.length)]);
            new AccountResolver(compiledEstate, NOW, seats, account, touched)
                    .climb(settings.get(random.nextInt(settings.size())));
        });
        told("climb of one outcome, explained", climb, 0.0002, true);
        double[] all = timed(() -> {
            Account account = compiledEstate.directory().account(active[random.nextInt(active.length)]);
            AccountResolver accountResolver = new AccountResolver(compiledEstate, NOW, seats, account, touched);
            for (Setting setting : settings) accountResolver.outcome(setting);
        });
        told("all settings of one account", all, 0.001, true);
    }

    private void told(String what, double[] times, double mark, boolean counts) {
        double median = times[times.length / 2];
        table.row(
                what,
                Table.time(median),
                "95 %: " + Table.time(times[times.length * 95 / 100]) + (counts ? ", mark " + Table.time(mark) : ""));
        mark(what, median, mark, counts);
    }

    /** Times of 200 runs after a warm-up, sorted. */
    private static double[] timed(Runnable run) {
        return timed(run, WARM_UPS, SHORT_RUNS);
    }

    private static double[] timed(Runnable run, int warmUps, int runs) {
        for (int i = 0; i < warmUps; i++) run.run();
        double[] times = new double[runs];
        for (int i = 0; i < runs; i++) {
            long start = System.nanoTime();
            run.run();
            times[i] = since(start);
        }
        Arrays.sort(times);
        return times;
    }

    private Ripple ripple(ObjectNode edit) {
        EditSession editSession = new EditSession(compiledEstate, (section, key) -> Json.NODES.objectNode());
        Defects defects = new Defects();
        if (editSession.apply(new JsonCursor(edit, "", defects)).isEmpty())
            throw new IllegalStateException(defects.all().toString());
        return new Ripple(editSession, editSession.compile(), NOW, seats);
    }

    private void ripples() {
        Random random = new Random(3);
        String setting = compiledEstate.estate().policy("p0").orElseThrow().statements().stream()
                .filter(s -> s.value() instanceof Value.Switch)
                .findFirst()
                .orElseThrow()
                .setting();
        int runs = made.accounts() > 100_000 ? 40 : SHORT_RUNS;
        double[] wide = timed(
                () -> {
                    ObjectNode edit =
                            Json.NODES.objectNode().put("kind", "put-statement").put("policy", "p0");
                    edit.putObject("statement").put("setting", setting).put("set", random.nextBoolean());
                    ripple(edit);
                },
                10,
                runs);
        told(
                "ripple of one edit to an organisation-wide policy",
                wide,
                isLargest() ? 0.3 : 0.05,
                made.accounts() >= 100_000);
        int many = Math.min(1000, made.accounts() / 10);
        double[] joined = timed(
                () -> {
                    ObjectNode edit = Json.NODES
                            .objectNode()
                            .put("kind", "put-members")
                            .put("group", "g" + random.nextInt(SyntheticEstate.GROUPS));
                    ArrayNode who = edit.putArray("who");
                    for (int i = 0; i < many; i++) who.add("account:a" + random.nextInt(made.accounts()));
                    ripple(edit);
                },
                10,
                runs);
        told("ripple of a group gaining " + String.format("%,d", many) + " members", joined, 0.1, isLargest());
    }

    /** What the same takes when people are looked at one after the other. */
    private void loop() {
        int[] active = compiledEstate.directory().active().toArray();
        int looked = Math.min(LOOPED, active.length);
        List<Setting> settings =
                List.copyOf(compiledEstate.estate().catalogue().settings().values());
        List<List<RankedStatement>> spoken =
                settings.stream().map(s -> compiledEstate.statementsOn(s.key())).toList();
        long start = System.nanoTime();
        long decided = 0;
        for (int i = 0; i < looked; i++) {
            AccountReach accountReach = new AccountReach(
                    compiledEstate.directory(), compiledEstate.directory().account(active[i]));
            for (List<RankedStatement> statements : spoken)
                for (RankedStatement one : statements)
                    if (accountReach
                            .reach(
                                    one.policy().assignments(),
                                    leanladder.reach.Places.NONE,
                                    a -> a.window().holds(NOW.at()))
                            .isPresent()) {
                        decided++;
                        break;
                    }
        }
        double each = since(start) / looked;
        table.row(
                "yardstick: a plain loop over people, all of them",
                Table.time(each * active.length),
                String.format("reckoned from %,d people, %,d outcomes decided", looked, decided));
    }

    private void memory() {
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, NOW, seats);
        columnResolver.all();
        ObjectNode edit = Json.NODES.objectNode().put("kind", "amend-account").put("account", "a1");
        edit.putObject("members").put("active", false);
        EditSession editSession = new EditSession(compiledEstate, (section, key) -> Json.NODES.objectNode());
        editSession.apply(new JsonCursor(edit, "", new Defects()));
        CompiledEstate overlay = editSession.compile();
        double gigabytes = held() / 1e9;
        table.row(
                "memory held, every column and a draft's overlay included",
                String.format("%.2f GB", gigabytes),
                isLargest() && made.full() ? "mark 2.5 GB" : "");
        if (isLargest() && made.full() && gigabytes > 2.5)
            missed.add(new Thresholds(
                    "1,000,000 full: memory held", String.format("%.2f GB", gigabytes), "2.5 GB", gigabytes / 2.5));
        if (overlay.estate() == compiledEstate.estate() || columnResolver.compiledEstate() != compiledEstate)
            throw new IllegalStateException();
    }

    /** What a ledger with every seat that is wanted adds, with all that is worked out of it. */
    private void memoryOfSeats() {
        long before = held();
        CompiledEstate given = compiledEstate.withSeatsGiven(NOW.at());
        Entitlements allocated = given.seats(NOW.at());
        double megabytes = (held() - before) / 1e6;
        long count = allocated.allocations().stream()
                .mapToLong(a -> a.seated().getLongCardinality())
                .sum();
        table.row(
                String.format("memory of %,d seats and their allocation", count),
                String.format("%.0f MB", megabytes),
                isLargest() ? "mark 250 MB" : "");
        if (isLargest() && megabytes > 250)
            missed.add(new Thresholds(
                    "1,000,000 full: memory of seats", String.format("%.0f MB", megabytes), "250 MB", megabytes / 250));
        if (given.seatLedger() == compiledEstate.seatLedger()) throw new IllegalStateException();
    }

    /** How much memory is held, in bytes, once what nobody needs is gone. */
    private static long held() {
        long held = Long.MAX_VALUE;
        for (int i = 0; i < 3; i++) {
            System.gc();
            held = Math.min(
                    held,
                    Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory());
        }
        return held;
    }
}
