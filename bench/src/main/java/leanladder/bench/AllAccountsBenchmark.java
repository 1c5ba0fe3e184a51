package leanladder.bench;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.HttpURLConnection;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import leanladder.server.RunningServer;

/** All settings of all accounts, fetched once by clients of the suite while administrators are at work. */
final class AllAccountsBenchmark extends ServerBenchmark {
    /** Of a company; the estate of the other measurements has ten times as many. */
    static final int SETTINGS = 200;

    private static final int CLIENTS = 4;
    private static final int ADMINISTRATORS = 8;
    private static final double MARK_MINUTES = 20;
    /** For so long it is measured; what is left is reckoned from it. */
    private static final double MOST_MINUTES = 10;

    private final RunningServer server;
    private final AtomicInteger next = new AtomicInteger();
    private final AtomicBoolean over = new AtomicBoolean();

    AllAccountsBenchmark(Table table, SyntheticEstate made, RunningServer server) {
        super(table, made);
        this.server = server;
    }

    List<Thresholds> run() {
        ExecutorService threads = Executors.newFixedThreadPool(CLIENTS + ADMINISTRATORS);
        try {
            List<String> people = PublishBenchmark.activeAmong(made, new RestClient(server.address()));
            List<AdministratorLoad> administrators = new ArrayList<>();
            List<Future<?>> atWork = new ArrayList<>();
            for (int i = 0; i < ADMINISTRATORS; i++) {
                AdministratorLoad one = new AdministratorLoad(new RestClient(server.address()), people, i);
                administrators.add(one);
                atWork.add(threads.submit(() -> one.work(over)));
            }
            long start = System.nanoTime();
            long latest = start + (long) (MOST_MINUTES * 60e9);
            List<Future<?>> clients = new ArrayList<>();
            for (int i = 0; i < CLIENTS; i++)
                clients.add(threads.submit(() -> {
                    fetch(latest);
                    return null;
                }));
            for (Future<?> client : clients) client.get();
            double minutes = (System.nanoTime() - start) / 60e9;
            over.set(true);
            for (Future<?> one : atWork) one.get();
            int fetched = Math.min(next.get(), made.accounts());
            double whole = minutes * made.accounts() / fetched;
            mark(
                    String.format(
                            "%,d accounts × %d settings fetched, reckoned from %,d, 8 administrators at work",
                            made.accounts(), SETTINGS, fetched),
                    String.format("%.1f min", whole),
                    String.format("%.0f min", MARK_MINUTES),
                    whole / MARK_MINUTES);
            double[] waited = administrators.stream()
                    .flatMap(a -> a.waited().stream())
                    .mapToDouble(w -> w)
                    .sorted()
                    .toArray();
            table.row(
                    "what administrators ask meanwhile",
                    Table.time(waited[waited.length / 2]),
                    String.format(
                            "95 %%: %s, %,d questions, %,d changes",
                            Table.time(waited[waited.length * 95 / 100]),
                            waited.length,
                            administrators.stream()
                                    .mapToInt(AdministratorLoad::published)
                                    .sum()));
            return missed;
        } catch (InterruptedException | ExecutionException e) {
            throw new IllegalStateException(e);
        } finally {
            over.set(true);
            threads.shutdownNow();
        }
    }

    /**
     * Goes on with whoever nobody has fetched yet, compressed as clients ask for it. The client is as light as can be, for it shares the
     * server's cores, which real ones do not.
     */
    private void fetch(long latest) throws IOException {
        while (System.nanoTime() < latest) {
            int account = next.getAndIncrement();
            if (account >= made.accounts()) return;
            var connection = (HttpURLConnection)
                    URI.create(server.address() + "/api/v1/suite/accounts/a" + account + "/settings")
                            .toURL()
                            .openConnection();
            connection.setRequestProperty("Authorization", "Bearer " + RunningServer.SECRET);
            connection.setRequestProperty("Accept-Encoding", "gzip");
            int status = connection.getResponseCode();
            if (status != 200) throw new IllegalStateException("a" + account + ": " + status);
            try (InputStream settings = connection.getInputStream()) {
                settings.transferTo(OutputStream.nullOutputStream());
            }
        }
    }
}
