package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.LockSupport;
import leanladder.json.Json;
import leanladder.server.ServerProcess;
import leanladder.store.ThrowAwayPostgres;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/**
 * Asks a server for twice what it can carry, for minutes: it must refuse the rest quickly, answer reads, lose nothing that it
 * acknowledged, hold no more memory afterwards than before, and be itself again within 5 s of the end. Then one client is greedy in
 * several ways, and others must not wait for longer than 5 s. ./ladder storm starts it.
 */
@Command(name = "storm", description = "Twice the load that a server can carry.", mixinStandardHelpOptions = true)
public final class LoadTest implements Callable<Integer> {
    private static final int WARM_UP_SECONDS = 60;
    private static final int CLIENTS = 32;
    private static final int IN_FLIGHT = 3000;
    private static final double RECOVERED = 5;
    private static final double GROWTH = 1.15;

    @Option(names = "--minutes", description = "how long it lasts; 5 when left out")
    private double minutes = 5;

    @Option(names = "--accounts", description = "of the estate; 20,000 when left out")
    private int accounts = 20_000;

    private final HttpClient client =
            HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(5)).build();
    private final Table table = new Table();
    private final Random random = new Random(7);
    private final Queue<String> acknowledged = new ConcurrentLinkedQueue<>();
    private final AtomicInteger notes = new AtomicInteger();
    private final Map<String, Reads> calm = new ConcurrentSkipListMap<>();
    private final Semaphore inFlight = new Semaphore(IN_FLIGHT);
    private final AtomicLong latest = new AtomicLong(1);
    private String address;
    private long pid;

    /** The program's entry. */
    public static void main(String[] args) {
        System.exit(new CommandLine(new LoadTest()).execute(args));
    }

    @Override
    public Integer call() throws Exception {
        Path dir = Files.createTempDirectory("lean-ladder-storm");
        ServerProcess server = start(dir);
        try {
            return outlast();
        } finally {
            server.kill();
            delete(dir);
        }
    }

    private static void delete(Path dir) throws IOException {
        try (var files = Files.walk(dir)) {
            for (Path file : files.sorted(java.util.Comparator.reverseOrder()).toList()) Files.delete(file);
        }
    }

    private ServerProcess start(Path dir) throws Exception {
        Path estate = dir.resolve("estate.json");
        try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(estate))) {
            new SyntheticEstate(accounts, true).write(out);
        }
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        Path connection =
                Files.writeString(dir.resolve("connection"), postgres.connection(postgres.newDatabase("storm")));
        ServerProcess server = new ServerProcess(
                        dir.resolve("server"),
                        connection,
                        List.of("-Xmx2g", "-Dladder.rate=1000000"),
                        "--estate",
                        estate.toString())
                .givingWay();
        server.start();
        address = server.address();
        pid = server.pid();
        return server;
    }

    private int outlast() throws Exception {
        List<String> missed = new ArrayList<>();
        double carried = carried();
        table.row(
                "carried of mixed requests", String.format("%,.0f a second", carried), "from " + CLIENTS + " clients");
        calm.forEach((kind, took) -> table.row("  " + kind, Table.time(took.mean()), "on the average"));
        double quiet = probe();
        Map<Integer, Integer> answers = new TreeMap<>();
        Reads reads = new Reads();
        // What the caches hold has its size after half of it; what grows after that would grow for ever.
        long sent = storm(2 * carried, answers, reads);
        double before = held();
        sent += storm(2 * carried, answers, reads);
        double recovered = recovery(Math.max(0.02, 3 * quiet));
        inFlight.acquire(IN_FLIGHT);
        double after = held();
        table.row("asked for in the storm", String.format("%,d", sent), String.format("%.0f a second", 2 * carried));
        answers.forEach((status, count) -> table.row(
                status == 0 ? "  not answered at all" : "  answered with " + status, String.format("%,d", count), ""));
        table.row(
                "reads that were answered",
                Table.time(reads.mean()),
                "on the average, the wait for their turn included");
        table.row("itself again after the end", Table.time(recovered), "mark " + Table.time(RECOVERED));
        if (recovered > RECOVERED) missed.add("itself again after the end");
        table.row(
                "held after a collection",
                megabytes(after),
                "after half of it " + megabytes(before) + "; mark 1.15 times");
        if (after > GROWTH * before) missed.add("memory held");
        Set<String> stored = stored();
        long lost = acknowledged.stream().filter(n -> !stored.contains(n)).count();
        table.row("changes acknowledged", String.format("%,d", acknowledged.size()), "lost: " + lost);
        if (lost > 0) missed.add("acknowledged and lost");
        missed.addAll(new GreedyClientLoad(address, table).run());
        for (int status : answers.keySet())
            if (status >= 500 && status != 503 || status == 0) missed.add("answered with " + status);
        table.print(missed.isEmpty() ? "Every mark is held." : "Missed: " + String.join(", ", missed));
        return missed.isEmpty() ? 0 : 1;
    }

    private static String megabytes(double bytes) {
        return String.format("%.0f MB", bytes / 1e6);
    }

    /** How long reads took. */
    private static final class Reads {
        private final AtomicLong nanos = new AtomicLong();
        private final AtomicInteger count = new AtomicInteger();

        void add(long took) {
            nanos.addAndGet(took);
            count.incrementAndGet();
        }

        double mean() {
            return nanos.get() / 1e9 / Math.max(1, count.get());
        }
    }

    /** One of what people and programs ask for, mostly reads. @param note of a change, empty for a read */
    private record Ask(HttpRequest request, String note) {
        /** What is asked for, without whom it is about. */
        String kind() {
            return request.method() + " "
                    + request.uri().getPath().replaceAll("/api/v1/([a-z]+).*?(/settings)?$", "$1$2");
        }
    }

    private Ask ask() {
        int dice;
        int account;
        int setting;
        synchronized (random) {
            dice = random.nextInt(100);
            account = random.nextInt(accounts);
            setting = random.nextInt(2000);
        }
        if (dice < 60) return read("/climb?account=a" + account + "&setting=" + SyntheticEstate.key(setting));
        if (dice < 75) return read("/accounts/a" + account + "/settings");
        if (dice < 85) return read("/search?q=s" + setting + "&limit=20");
        if (dice < 92) return read("/policies");
        if (dice < 96)
            return new Ask(
                    request("/drafts")
                            .method("POST", HttpRequest.BodyPublishers.ofString("{}"))
                            .build(),
                    "");
        String note = "storm " + notes.incrementAndGet();
        return new Ask(
                request("/changes")
                        .method(
                                "POST",
                                HttpRequest.BodyPublishers.ofString("{\"base\":" + latest + ",\"note\":\"" + note
                                        + "\",\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"p"
                                        + account % 500
                                        + "\",\"members\":{\"name\":\"" + note + "\"}}]}"))
                        .build(),
                note);
    }

    private Ask read(String path) {
        return new Ask(request(path).GET().build(), "");
    }

    private HttpRequest.Builder request(String path) {
        return HttpRequest.newBuilder(URI.create(address + "/api/v1" + path)).timeout(Duration.ofSeconds(30));
    }

    private void note(Ask ask, HttpResponse<String> answer) {
        if (answer.statusCode() != 201 || ask.note.isEmpty()) return;
        acknowledged.add(ask.note);
        latest.accumulateAndGet(Json.read(answer.body()).findValue("number").asLong(), Math::max);
    }

    /** How many mixed requests a second are answered when each client waits for its answer. */
    private double carried() throws Exception {
        AtomicInteger done = new AtomicInteger();
        AtomicLong from = new AtomicLong(System.nanoTime());
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(WARM_UP_SECONDS);
        List<Thread> threads = new ArrayList<>();
        for (int c = 0; c < CLIENTS; c++) {
            Thread thread = new Thread(() -> {
                while (System.nanoTime() < until) {
                    Ask ask = ask();
                    long at = System.nanoTime();
                    try {
                        note(ask, client.send(ask.request, HttpResponse.BodyHandlers.ofString()));
                        done.incrementAndGet();
                        calm.computeIfAbsent(ask.kind(), k -> new Reads()).add(System.nanoTime() - at);
                    } catch (IOException | InterruptedException e) {
                        throw new IllegalStateException(e);
                    }
                }
            });
            thread.start();
            threads.add(thread);
        }
        // The second half counts: the first one warms up.
        LockSupport.parkNanos(TimeUnit.SECONDS.toNanos(WARM_UP_SECONDS / 2));
        int half = done.get();
        from.set(System.nanoTime());
        for (Thread thread : threads) thread.join();
        return (done.get() - half) / ((System.nanoTime() - from.get()) / 1e9);
    }

    /** Sends so many a second whatever comes back, as far as so many in flight allow. */
    private long storm(double aSecond, Map<Integer, Integer> answers, Reads reads) throws InterruptedException {
        long begin = System.nanoTime();
        long end = begin + (long) (minutes * 30e9);
        long sent = 0;
        for (long now = begin; now < end; now = System.nanoTime()) {
            if (sent >= (now - begin) / 1e9 * aSecond) {
                LockSupport.parkNanos(TimeUnit.MICROSECONDS.toNanos(200));
                continue;
            }
            inFlight.acquire();
            Ask ask = ask();
            long at = System.nanoTime();
            sent++;
            client.sendAsync(ask.request, HttpResponse.BodyHandlers.ofString()).whenComplete((answer, failure) -> {
                inFlight.release();
                int status = failure == null ? answer.statusCode() : 0;
                if (failure == null) note(ask, answer);
                if (status == 200) reads.add(System.nanoTime() - at);
                synchronized (answers) {
                    answers.merge(status, 1, Integer::sum);
                }
            });
        }
        return sent;
    }

    /** A read and a write, in seconds. @throws IllegalStateException when either is refused */
    private double probe() {
        long began = System.nanoTime();
        for (Ask ask : List.of(
                read("/climb?account=a1&setting=" + SyntheticEstate.key(1)),
                new Ask(
                        request("/drafts")
                                .method("POST", HttpRequest.BodyPublishers.ofString("{}"))
                                .build(),
                        "")))
            try {
                int status = client.send(ask.request, HttpResponse.BodyHandlers.discarding())
                        .statusCode();
                if (status >= 300) throw new IllegalStateException("Answered with " + status);
            } catch (IOException | InterruptedException e) {
                throw new IllegalStateException(e);
            }
        return (System.nanoTime() - began) / 1e9;
    }

    /** How long it takes until three probes in a row are quick again. */
    private double recovery(double quick) {
        long began = System.nanoTime();
        int good = 0;
        while (good < 3 && System.nanoTime() - began < TimeUnit.MINUTES.toNanos(1)) {
            try {
                good = probe() <= quick ? good + 1 : 0;
            } catch (IllegalStateException refused) {
                good = 0;
            }
        }
        return (System.nanoTime() - began) / 1e9;
    }

    /** Bytes of the server's heap that are held after a collection. */
    private double held() throws Exception {
        new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "jcmd").toString(),
                        String.valueOf(pid),
                        "GC.run")
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start()
                .waitFor();
        String metrics = client.send(
                        HttpRequest.newBuilder(URI.create(address + "/metrics")).build(),
                        HttpResponse.BodyHandlers.ofString())
                .body();
        return metrics.lines()
                .filter(l -> l.startsWith("jvm_memory_used_bytes{area=\"heap\""))
                .mapToDouble(l -> Double.parseDouble(l.substring(l.lastIndexOf(' '))))
                .sum();
    }

    private Set<String> stored() throws Exception {
        Set<String> stored = new HashSet<>();
        String path = "/changes?limit=200";
        while (!path.isEmpty()) {
            JsonNode page = Json.read(client.send(read(path).request, HttpResponse.BodyHandlers.ofString())
                    .body());
            stored.addAll(page.findValuesAsText("note"));
            path = page.hasNonNull("next")
                    ? "/changes?limit=200&before=" + page.get("next").asText()
                    : "";
        }
        return stored;
    }
}
