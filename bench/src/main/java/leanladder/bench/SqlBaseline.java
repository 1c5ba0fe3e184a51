package leanladder.bench;

import java.io.IOException;
import java.io.InputStream;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Optional;
import java.util.Set;
import java.util.Spliterator;
import java.util.Spliterators;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.StreamSupport;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Json;
import leanladder.resolve.CompiledEstate;
import leanladder.server.RunningServer;
import leanladder.store.SeatRows;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.db.WriteRequest;
import leanladder.store.entities.StoredEntity;
import leanladder.store.journal.NewChange;
import leanladder.store.journal.StaleBaseException;

/** What the whole server takes over PostgreSQL: its start, staging edits, searching. */
final class SqlBaseline {
    static final Path WEB = Path.of(System.getProperty("ladder.web", "web/dist"));
    private static final int RUNS = 200;
    private static final int QUEUE = 2000;
    private static final StoredEntity END = new StoredEntity("", "", "");

    private final Table table;
    private final Set<EstateEntity> parts;
    private final List<Thresholds> missed = new ArrayList<>();

    /** What is measured beside the start; fetching for everybody takes ten minutes and an estate of its own. */
    enum EstateEntity {
        PUBLISHING,
        DELIVERIES,
        PREVIEWS,
        SEATS,
        EVERYBODY
    }

    SqlBaseline(Table table, Set<EstateEntity> parts) {
        this.table = table;
        this.parts = parts;
    }

    List<Thresholds> run(SyntheticEstate made) throws IOException, InvalidEstateException {
        if (!parts.equals(EnumSet.of(EstateEntity.EVERYBODY))) onServer(made);
        if (made.full() && parts.contains(EstateEntity.EVERYBODY))
            everybody(new SyntheticEstate(made.accounts(), true, AllAccountsBenchmark.SETTINGS));
        return missed;
    }

    private void everybody(SyntheticEstate made) throws IOException, InvalidEstateException {
        table.print(String.format("%,d accounts, %d settings, in PostgreSQL", made.accounts(), made.settings()));
        try (Store store = ThrowAwayPostgres.get().newStore("bench_everybody")) {
            fill(store, made);
            try (RunningServer server = RunningServer.over(store, WEB).unchecked()) {
                missed.addAll(new AllAccountsBenchmark(table, made, server).run());
            }
        } catch (StaleBaseException moved) {
            throw new IllegalStateException(moved);
        }
    }

    private void onServer(SyntheticEstate made) throws IOException, InvalidEstateException {
        table.print(
                String.format("%,d accounts, %s mix, in PostgreSQL", made.accounts(), made.full() ? "full" : "plain"));
        try (Store store = ThrowAwayPostgres.get().newStore("bench")) {
            long start = System.nanoTime();
            fill(store, made);
            table.row("storing the estate", Table.time(since(start)), "");
            start = System.nanoTime();
            try (RunningServer server = RunningServer.over(store, WEB).unchecked()) {
                get(server, "/api/v1/session");
                double seconds = since(start);
                table.row("start of the server", Table.time(seconds), "mark 60 s at 1,000,000");
                mark(made, "start of the server", seconds, 60, made.accounts() == 1_000_000);
                if (parts.contains(EstateEntity.PUBLISHING)) {
                    stage(made, server);
                    missed.addAll(new PublishBenchmark(table, made, new RestClient(server.address())).run());
                }
                if (made.full()) {
                    if (parts.contains(EstateEntity.DELIVERIES))
                        missed.addAll(new DeliveryBenchmark(table, made, server).run());
                    if (parts.contains(EstateEntity.PREVIEWS))
                        missed.addAll(new PreviewBenchmark(table, made, server).run());
                    if (parts.contains(EstateEntity.SEATS))
                        missed.addAll(new SeatBenchmark(table, made, new RestClient(server.address())).run());
                }
                if (made.accounts() == 100_000 && Files.isDirectory(WEB)) {
                    missed.addAll(new DraftBarBenchmark(table).run(server, "100,000 accounts", "p0", 1));
                    missed.addAll(new ScrollBenchmark(table).run(server));
                }
            }
        } catch (StaleBaseException moved) {
            throw new IllegalStateException(moved);
        }
    }

    private static double since(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    private void mark(SyntheticEstate made, String what, double measured, double wanted, boolean counts) {
        if (counts && measured > wanted)
            missed.add(new Thresholds(
                    String.format("%,d in PostgreSQL: %s", made.accounts(), what),
                    Table.time(measured),
                    Table.time(wanted),
                    measured / wanted));
    }

    /** Stores the estate part by part as it is made; the whole is never held. */
    static void fill(Store store, SyntheticEstate made) throws IOException, StaleBaseException {
        BlockingQueue<StoredEntity> queue = new ArrayBlockingQueue<>(QUEUE);
        AtomicReference<Estate> estate = new AtomicReference<>();
        Instant at = Instant.now();
        Thread reader = new Thread(() -> {
            try (InputStream in = made.stream()) {
                var read = EstateReader.read(in, entityRecord -> put(queue, StoredEntity.from(entityRecord)));
                StoredEntity.frame(read.frame()).forEach(p -> put(queue, p));
                estate.set(read.estate());
            } catch (IOException | InvalidEstateException e) {
                throw new IllegalStateException(e);
            } finally {
                put(queue, END);
            }
        });
        reader.setDaemon(true);
        reader.start();
        Iterator<StoredEntity> parts = new Iterator<>() {
            private StoredEntity next = take(queue);

            @Override
            public boolean hasNext() {
                return next != END;
            }

            @Override
            public StoredEntity next() {
                if (next == END) throw new NoSuchElementException();
                StoredEntity part = next;
                next = take(queue);
                return part;
            }
        };
        var edits = Json.NODES.arrayNode();
        edits.addObject().put("kind", "replace-estate");
        store.parts()
                .replace(
                        WriteRequest.by("bench", at),
                        0,
                        new NewChange(
                                at,
                                "bench",
                                false,
                                "",
                                edits,
                                Json.NODES.arrayNode().add("made"),
                                Json.NODES.objectNode(),
                                Optional.empty(),
                                Optional.empty()),
                        StreamSupport.stream(Spliterators.spliteratorUnknownSize(parts, Spliterator.ORDERED), false),
                        () -> SeatRows.loaded(estate.get(), new CompiledEstate(estate.get()).withSeatsGiven(at)));
    }

    private static void put(BlockingQueue<StoredEntity> queue, StoredEntity part) {
        try {
            queue.put(part);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private static StoredEntity take(BlockingQueue<StoredEntity> queue) {
        try {
            return queue.take();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private static String get(RunningServer server, String path) {
        HttpResponse<String> response = server.get(path);
        if (response.statusCode() != 200) throw new IllegalStateException(path + ": " + response.body());
        return response.body();
    }

    /** From the key to the ripple in numbers: an edit of an organisation-wide policy is staged and told. */
    private void stage(SyntheticEstate made, RunningServer server) {
        String setting =
                Json.read(get(server, "/api/v1/policies/p0"))
                        .at("/policy/statements")
                        .findValuesAsText("setting")
                        .stream()
                        .filter(k -> Integer.parseInt(k.replaceAll("\\D", "0")) % 2 == 0)
                        .findFirst()
                        .orElseThrow();
        var draft = Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
        long id = draft.get("id").asLong();
        long version = draft.get("version").asLong();
        int runs = made.accounts() > 100_000 ? 40 : RUNS;
        double[] times = new double[runs];
        for (int i = -10; i < runs; i++) {
            String edit = "{\"version\":" + version
                    + ",\"edits\":[{\"kind\":\"put-statement\",\"policy\":\"p0\",\"statement\":{\"setting\":\""
                    + setting + "\",\"set\":" + (i % 2 == 0) + "}}]}";
            long start = System.nanoTime();
            HttpResponse<String> response = server.send("POST", "/api/v1/drafts/" + id + "/edits", edit);
            if (i >= 0) times[i] = since(start);
            if (response.statusCode() != 200) throw new IllegalStateException(response.body());
            // Each edit is taken back, so that the draft stays as short as people's drafts are.
            version = Json.read(
                            server.send("POST", "/api/v1/drafts/" + id + "/undo", "{\"version\":" + (version + 1) + "}")
                                    .body())
                    .get("version")
                    .asLong();
        }
        Arrays.sort(times);
        double median = times[runs / 2];
        table.row(
                "staging an edit, with its ripple, over REST",
                Table.time(median),
                "95 %: " + Table.time(times[runs * 95 / 100]) + ", mark 1 s at 100,000");
        mark(made, "staging an edit", median, 1, made.accounts() == 100_000);
    }
}
