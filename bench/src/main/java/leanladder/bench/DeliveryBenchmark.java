package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import leanladder.json.Json;
import leanladder.server.RunningServer;

/** What clients of the suite cost a server: fetching settings account by account, asking again, and being woken. */
final class DeliveryBenchmark extends ServerBenchmark {
    private static final int PEOPLE = 2000;
    private static final int PAGE = 1000;
    private static final int CLIENTS = 8;
    private static final int SECONDS = 20;
    private static final int WANTED = 2000;
    private static final int STREAMS = 200;
    private static final int WOKEN = 1000;
    private static final int TURNS = 10;
    private static final double MARKED_SETTINGS = 200;
    private static final double DAY_MARK_MINUTES = 20;
    private static final String[] CLIENT = {"Authorization", "Bearer " + RunningServer.SECRET};

    private final RunningServer server;

    DeliveryBenchmark(Table table, SyntheticEstate made, RunningServer server) {
        super(table, made);
        this.server = server;
    }

    List<Thresholds> run() {
        RestClient restClient = new RestClient(server.address());
        List<String> people = new ArrayList<>();
        for (int from = 0; from < PEOPLE && from < made.accounts(); from += PAGE)
            for (JsonNode row : Json.read(
                            restClient.get("/directory/people?active=true&count=" + PAGE + "&from=" + from))
                    .get("rows")) people.add(row.get("id").asText());

        List<String> tags = new ArrayList<>();
        double first = timed(() -> people.forEach(id -> tags.add(fetch(id, "").tag)));
        double each = first / people.size();
        table.row("all settings of an account, fetched for the first time", Table.time(each), "");
        int settings = Json.read(restClient.get("/catalogue")).get("settings").size();
        double all = each
                * 1_000_000
                * MARKED_SETTINGS
                / settings
                / Runtime.getRuntime().availableProcessors()
                / 60;
        mark(
                "1,000,000 accounts × 200 settings fetched once, reckoned from that",
                String.format("%.1f min", all),
                String.format("%.0f min", DAY_MARK_MINUTES),
                all / DAY_MARK_MINUTES);
        again(people, tags);
        wake(people);
        history(people.get(people.size() - 1));
        return missed;
    }

    private record FetchResult(int status, String tag) {}

    private FetchResult fetch(String account, String known) {
        List<String> headers = new ArrayList<>(List.of(CLIENT));
        if (!known.isEmpty()) headers.addAll(List.of("If-None-Match", known));
        var answer = server.send(
                "GET", "/api/v1/suite/accounts/" + account + "/settings", "", headers.toArray(String[]::new));
        return new FetchResult(
                answer.statusCode(), answer.headers().firstValue("ETag").orElseThrow());
    }

    /** Clients that ask again for what they have. */
    private void again(List<String> people, List<String> tags) {
        AtomicInteger asked = new AtomicInteger();
        List<Double> times = new ArrayList<>();
        CountDownLatch done = new CountDownLatch(CLIENTS);
        long until = System.nanoTime() + SECONDS * 1_000_000_000L;
        for (int c = 0; c < CLIENTS; c++) {
            int offset = c;
            new Thread(() -> {
                        List<Double> mine = new ArrayList<>();
                        for (int i = offset; System.nanoTime() < until; i += CLIENTS) {
                            int n = i % people.size();
                            mine.add(timed(() -> fetch(people.get(n), tags.get(n))));
                            asked.incrementAndGet();
                        }
                        synchronized (times) {
                            times.addAll(mine);
                        }
                        done.countDown();
                    })
                    .start();
        }
        await(done, SECONDS * 2);
        double[] sorted = times.stream().mapToDouble(d -> d).sorted().toArray();
        double rate = asked.get() / (double) SECONDS;
        mark(
                "conditional fetches a second, client and server on one machine",
                String.format("%,.0f", rate),
                String.format("%,d", WANTED),
                WANTED / rate);
        mark("a conditional fetch, 95 %", sorted[(int) (sorted.length * 0.95)], 0.02);
    }

    /** How long after an edit the last of 200 streams has heard whom it alters. */
    private void wake(List<String> people) {
        CountDownLatch listening = new CountDownLatch(STREAMS);
        CountDownLatch woken = new CountDownLatch(STREAMS);
        AtomicLong named = new AtomicLong();
        List<EventStreamReader> streams = new ArrayList<>();
        for (int i = 0; i < STREAMS; i++)
            streams.add(new EventStreamReader(
                    server.address() + "/api/v1/suite/changes",
                    (event, data) -> {
                        if (event.equals("listening")) listening.countDown();
                        if (!event.equals("wake")) return;
                        named.set(Json.read(data).get("accounts").size());
                        woken.countDown();
                    },
                    CLIENT));
        await(listening, 60);
        StringBuilder assignments = new StringBuilder();
        people.stream()
                .limit(WOKEN)
                .forEach(id -> assignments
                        .append(assignments.isEmpty() ? "" : ",")
                        .append("{\"include\":\"account:")
                        .append(id)
                        .append("\"}"));
        String change = altering(people.get(0), assignments.toString(), WOKEN / 2);
        var published = server.post(change);
        if (published.statusCode() != 201) throw new IllegalStateException(published.body());
        double heard = timed(() -> await(woken, 60));
        streams.forEach(EventStreamReader::close);
        table.row("accounts named by the wake", Long.toString(named.get()), "");
        mark("200 streams hear of an edit for 1,000 after it is published", heard, 1);
    }

    /** What was delivered to somebody before and after each of some changes that altered it, in estates of which nobody has asked yet. */
    private void history(String account) {
        String since =
                Json.read(server.get("/api/v1/session").body()).get("now").asText();
        for (int i = 0; i < TURNS; i++) {
            var published = server.post(altering(account, "{\"include\":\"account:" + account + "\"}", 1));
            if (published.statusCode() != 201) throw new IllegalStateException(published.body());
        }
        JsonNode[] told = new JsonNode[1];
        double took = timed(() -> told[0] = Json.read(
                server.send("GET", "/api/v1/suite/accounts/" + account + "/history?since=" + since, "", CLIENT)
                        .body()));
        table.row(
                String.format("what was delivered before and after each of %d changes", TURNS),
                Table.time(took),
                told[0].get("turns").size() + " turns");
    }

    /** A change that alters a switch for so many of those whom the assignments name: the first of those switches that nothing keeps as it is. */
    private String altering(String somebody, String assignments, int wanted) {
        long base =
                Json.read(server.get("/api/v1/session").body()).get("change").asLong();
        for (String key : Json.read(server.get("/api/v1/catalogue").body())
                .get("settings")
                .findValuesAsText("key")) {
            JsonNode value = Json.read(server.get("/api/v1/climb?account=" + somebody + "&setting=" + key)
                            .body())
                    .at("/outcome/value");
            if (!value.isBoolean()) continue;
            String change = "{\"base\":" + base
                    + ",\"edits\":[{\"kind\":\"add-policy\",\"policy\":{\"name\":\"Woken\",\"statements\":[{\"setting\":\""
                    + key + "\",\"set\":" + !value.asBoolean() + "}],\"assignments\":[" + assignments + "]}}]}";
            JsonNode preview = Json.read(
                    server.send("POST", "/api/v1/changes?preview", change).body());
            if (preview.findPath("accounts").asInt() >= wanted) return change;
        }
        throw new IllegalStateException("No switch can be altered");
    }

    private static void await(CountDownLatch latch, int seconds) {
        try {
            if (!latch.await(seconds, TimeUnit.SECONDS))
                throw new IllegalStateException(latch.getCount() + " did not come in time");
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
