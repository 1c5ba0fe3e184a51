package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Iterator;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import leanladder.json.Json;
import leanladder.server.RunningServer;

/** What previews cost a server: 12 rings, 200 releases, and the consents of a third of all accounts. */
final class PreviewBenchmark extends ServerBenchmark {
    private static final int WARM_UPS = 20;
    private static final int RUNS = 20;
    private static final int CLIENTS = 8;
    private static final int SECONDS = 60;
    private static final int WARM_UP_SECONDS = 30;
    private static final int WANTED = 200;
    private static final int PAGE = 1000;
    private static final int PEOPLE = 40_000;
    private static final int HEARD_AT_MOST = 30;
    private static final String[] CLIENT = {"Authorization", "Bearer " + RunningServer.SECRET};

    private final RunningServer server;

    PreviewBenchmark(Table table, SyntheticEstate made, RunningServer server) {
        super(table, made);
        this.server = server;
    }

    List<Thresholds> run() {
        RestClient restClient = new RestClient(server.address());
        JsonNode previews = Json.read(restClient.get("/previews"));
        String ring = previews.get("rings").get(0).get("id").asText();
        String outer = previews.get("rings").get(5).get("id").asText();
        Iterator<JsonNode> releases = previews.get("releases").iterator();
        Queue<String> people = mayConsent(restClient, previews.get("rings"));

        double[] consents = new double[RUNS];
        double[] first = new double[RUNS];
        for (int i = -WARM_UPS; i < RUNS; i++) {
            boolean[] given = {false};
            double took = 0;
            while (!given[0]) took = timed(() -> given[0] = consents(people.remove(), ring));
            double counted = timed(() -> restClient.get("/previews"));
            if (i < 0) continue;
            consents[i] = took;
            first[i] = counted;
        }
        heard(people, ring);
        mark("a person's consent, over REST", Table.median(consents), 0.05);
        mark("all counts of the previews, right after a consent", Table.median(first), 0.3);

        double[] moved = new double[RUNS];
        for (int i = 0; i < RUNS; i++) {
            JsonNode draft =
                    Json.read(server.send("POST", "/api/v1/drafts", "{}").body());
            String edit = "{\"version\":1,\"edits\":[{\"kind\":\"open-release\",\"release\":\""
                    + releases.next().get("setting").asText() + "\",\"ring\":\"" + outer
                    + "\",\"from\":\"2026-01-01T00:00:00Z\"}]}";
            String path = "/api/v1/drafts/" + draft.get("id");
            moved[i] =
                    timed(() -> told(server.send("POST", path + "/edits", edit).statusCode(), 200));
            server.send("DELETE", path + "?version=2", "");
        }
        mark("moving a release outward, staged with its ripple", Table.median(moved), 0.3);
        together(people, ring);
        return missed;
    }

    /** How long after a person sent a consent a browser hears that something changed. */
    private void heard(Queue<String> people, String ring) {
        BlockingQueue<Long> changes = new LinkedBlockingQueue<>();
        CountDownLatch listening = new CountDownLatch(1);
        double[] heard = new double[RUNS];
        try (var browser = new EventStreamReader(server.address() + "/api/v1/events", (event, data) -> {
            if (event.equals("start")) listening.countDown();
            if (event.equals("change")) changes.add(System.nanoTime());
        })) {
            listening.await();
            for (int i = 0; i < RUNS; i++) {
                long sent = System.nanoTime();
                while (!consents(people.remove(), ring)) sent = System.nanoTime();
                Long told = changes.poll(HEARD_AT_MOST, TimeUnit.SECONDS);
                if (told == null) throw new IllegalStateException("Nobody was told of a consent");
                heard[i] = (told - sent) / 1e9;
            }
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
        mark("a browser hears of a consent, after it was sent", Table.median(heard), 1);
    }

    /** Accounts that may join a ring that asks them, and have not consented. */
    private static Queue<String> mayConsent(RestClient restClient, JsonNode rings) {
        Queue<String> people = new ConcurrentLinkedQueue<>();
        for (JsonNode ring : rings) {
            String next = ring.get("asksConsent").asBoolean() ? "" : null;
            while (next != null && people.size() < PEOPLE) {
                JsonNode page =
                        Json.read(restClient.get("/rings/" + ring.get("id").asText() + "/accounts?which=may&limit="
                                + PAGE + (next.isEmpty() ? "" : "&after=" + next)));
                page.get("members").forEach(m -> people.add(m.get("account").asText()));
                next = page.path("next").textValue();
            }
        }
        return people;
    }

    /** Many people answer at once: for a while before it is measured, as in all that is measured over and over. */
    private void together(Queue<String> people, String ring) {
        answer(people, ring, WARM_UP_SECONDS);
        long before =
                Json.read(server.get("/api/v1/session").body()).get("change").asLong();
        double each = answer(people, ring, SECONDS) / (double) SECONDS;
        long changes =
                Json.read(server.get("/api/v1/session").body()).get("change").asLong() - before;
        table.row("changes that they made together", Long.toString(changes), "");
        mark(
                String.format("consents a second from %d clients for %d s", CLIENTS, SECONDS),
                String.format("%.0f", each),
                Integer.toString(WANTED),
                WANTED / each);
    }

    /** Clients send words for so many seconds. @return how many were taken */
    private int answer(Queue<String> people, String ring, int seconds) {
        AtomicInteger given = new AtomicInteger();
        AtomicReference<RuntimeException> failure = new AtomicReference<>();
        CountDownLatch done = new CountDownLatch(CLIENTS);
        long until = System.nanoTime() + seconds * 1_000_000_000L;
        for (int c = 0; c < CLIENTS; c++)
            new Thread(() -> {
                        try {
                            while (System.nanoTime() < until && failure.get() == null)
                                if (consents(people.remove(), ring)) given.incrementAndGet();
                        } catch (RuntimeException failed) {
                            failure.set(failed);
                        } finally {
                            done.countDown();
                        }
                    })
                    .start();
        try {
            done.await();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
        if (failure.get() != null) throw new IllegalStateException("A client could not go on", failure.get());
        return given.get();
    }

    /** Whether a person consented; one who had is refused. */
    private boolean consents(String account, String ring) {
        int status = server.send(
                        "POST", "/api/v1/accounts/" + account + "/consents", "{\"ring\":\"" + ring + "\"}", CLIENT)
                .statusCode();
        if (status != 422) told(status, 201);
        return status == 201;
    }

    private static void told(int status, int wanted) {
        if (status != wanted) throw new IllegalStateException("Answered with " + status);
    }
}
