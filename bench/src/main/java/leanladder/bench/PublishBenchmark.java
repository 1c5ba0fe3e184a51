package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.Callable;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.IntStream;
import leanladder.json.Json;

/** What publishing costs those who publish, and those who ask right after it or meanwhile; and what large and long drafts cost. */
final class PublishBenchmark {
    private static final int PUBLISHES = 100;
    private static final int WARM_UPS = 5;
    private static final int CLIENTS = 8;
    private static final int BUSY_PUBLISHES = 40;
    private static final int LONG = 500;
    private static final int PAST = 10;
    private static final int LAST = 9;

    private final Table table;
    private final SyntheticEstate made;
    private final RestClient restClient;
    private final Random random = new Random(11);
    private final List<Thresholds> missed = new ArrayList<>();
    private final Map<String, double[]> times = new LinkedHashMap<>();
    private final List<String> settings;
    private final List<String> people;
    private long change;
    private long draft;
    private long version;

    PublishBenchmark(Table table, SyntheticEstate made, RestClient restClient) {
        this.table = table;
        this.made = made;
        this.restClient = restClient;
        this.settings = switchesOf(restClient);
        this.people = activeAmong(made, restClient);
        this.change = Json.read(restClient.get("/session")).get("change").asLong();
    }

    /** Some accounts from all over the estate that are active. */
    static List<String> activeAmong(SyntheticEstate made, RestClient restClient) {
        List<String> ids = new ArrayList<>();
        for (int i = 0; i < 40; i++) {
            int from = (int) ((long) made.accounts() / 2 * i / 40);
            Json.read(restClient.get("/directory/people?active=true&from=" + from + "&count=25"))
                    .get("rows")
                    .forEach(row -> {
                        if (row.path("active").asBoolean(true))
                            ids.add(row.get("id").asText());
                    });
        }
        return ids;
    }

    List<Thresholds> run() {
        JsonNode begun = restClient.post("/drafts", "{}");
        draft = begun.get("id").asLong();
        version = begun.get("version").asLong();
        for (int i = -WARM_UPS; i < PUBLISHES; i++) once(i);
        mark("publishing one statement", 0.4, true);
        mark("the first climb after it", 0.02, false);
        mark("all settings of one account after it", 0.1, false);
        mark("the first search after it", 0.05, false);
        mark("the first window of the matrix after it", 0.2, false);
        mark("staging on a draft carried over it", 0.2, false);
        whileOthersClimb();
        mark("a climb while others publish", 0.1, true);
        past();
        longDraft();
        for (int size : new int[] {10_000, 100_000}) if (size <= made.accounts() / 2) batches(size);
        return missed;
    }

    /** Estates of the past that nobody has asked for yet; the last changes are still at hand. */
    private void past() {
        for (int i = 0; i < PAST; i++) {
            String at = Json.read(restClient.get("/changes/" + (change - LAST - i * LAST)))
                    .get("at")
                    .asText();
            String account = anybody(random);
            time(
                    i,
                    "the first climb in an estate of the past",
                    () -> restClient.get("/climb?account=" + account + "&setting=" + settings.get(0) + "&at=" + at));
        }
        double[] took = Arrays.copyOf(times.get("the first climb in an estate of the past"), PAST);
        table.row("the first climb in an estate of the past", Table.time(Table.median(took)), "median");
    }

    private String anybody(Random by) {
        return people.get(by.nextInt(people.size()));
    }

    private void once(int i) {
        String account = anybody(random);
        String setting = settings.get(0);
        time(i, "publishing one statement", () -> publish(i % 2 == 0));
        time(i, "the first climb after it", () -> restClient.get("/climb?account=" + account + "&setting=" + setting));
        time(i, "all settings of one account after it", () -> restClient.get("/accounts/" + account + "/settings"));
        String q = URLEncoder.encode("mirela brandal", StandardCharsets.UTF_8);
        time(i, "the first search after it", () -> restClient.get("/search?limit=12&q=" + q));
        time(i, "the first window of the matrix after it", () -> restClient.post("/matrix", window()));
        time(i, "staging on a draft carried over it", () -> stage(i % 2 == 0));
        undo();
    }

    private Object publish(boolean value) {
        JsonNode told = restClient.post(
                "/changes",
                "{\"base\":" + change + ",\"note\":\"bench\",\"edits\":[" + put(settings.get(0), value) + "]}");
        change = told.get("number").asLong();
        return told;
    }

    /** The edit that sets a switch in the first policy. */
    static String put(String setting, boolean value) {
        return "{\"kind\":\"put-statement\",\"policy\":\"p0\",\"statement\":{\"setting\":\"" + setting + "\",\"set\":"
                + value + "}}";
    }

    private Object stage(boolean value) {
        version = restClient
                .post(
                        "/drafts/" + draft + "/edits",
                        "{\"version\":" + version + ",\"edits\":[" + put(settings.get(1 % settings.size()), value)
                                + "]}")
                .get("version")
                .asLong();
        return version;
    }

    private void undo() {
        version = restClient
                .post("/drafts/" + draft + "/undo", "{\"version\":" + version + "}")
                .get("version")
                .asLong();
    }

    /** What the matrix asks for first: 40 units by 12 settings. */
    static String window() {
        ObjectNode asked = Json.NODES.objectNode().put("rows", "units").put("from", 0);
        asked.put("count", 40).put("firstColumn", 0).put("columns", 12);
        ArrayNode keys = asked.putArray("settings");
        IntStream.range(0, 12).forEach(s -> keys.add("s" + s));
        return asked.toString();
    }

    /** The switches of which the first policy speaks. */
    static List<String> switchesOf(RestClient restClient) {
        return Json.read(restClient.get("/policies/p0")).at("/policy/statements").findValuesAsText("setting").stream()
                .filter(k -> k.matches("s\\d+") && Integer.parseInt(k.substring(1)) % 2 == 0)
                .toList();
    }

    /** Clients climb without a pause while somebody publishes; their climbs are what is timed. */
    private void whileOthersClimb() {
        ConcurrentLinkedQueue<Double> climbs = new ConcurrentLinkedQueue<>();
        ConcurrentLinkedQueue<RuntimeException> failures = new ConcurrentLinkedQueue<>();
        AtomicBoolean over = new AtomicBoolean();
        List<Thread> clients = IntStream.range(0, CLIENTS)
                .mapToObj(c -> new Thread(() -> {
                    Random own = new Random(c);
                    try {
                        while (!over.get()) {
                            long start = System.nanoTime();
                            restClient.get("/climb?account=" + anybody(own) + "&setting=s" + own.nextInt(12));
                            climbs.add(since(start));
                        }
                    } catch (RuntimeException e) {
                        failures.add(e);
                    }
                }))
                .toList();
        clients.forEach(Thread::start);
        for (int i = 0; i < BUSY_PUBLISHES; i++) {
            boolean value = i % 2 == 0;
            time(i, "publishing while 8 clients climb", () -> publish(value));
        }
        over.set(true);
        for (Thread client : clients)
            try {
                client.join();
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        if (!failures.isEmpty()) throw failures.peek();
        times.put(
                "publishing while 8 clients climb",
                Arrays.copyOf(times.get("publishing while 8 clients climb"), BUSY_PUBLISHES));
        row("publishing while 8 clients climb", "");
        times.put(
                "a climb while others publish",
                climbs.stream().mapToDouble(Double::doubleValue).toArray());
    }

    private void longDraft() {
        double[] at = new double[LONG + 1];
        for (int i = 1; i <= LONG; i++) {
            long start = System.nanoTime();
            stage(i % 2 == 0);
            at[i] = since(start);
        }
        table.row(
                "staging the 5th edit, and the 500th",
                Table.time(Table.median(Arrays.copyOfRange(at, 3, 12))),
                Table.time(Table.median(Arrays.copyOfRange(at, LONG - 9, LONG))));
    }

    /** So many members put into a group, addresses pasted into a policy and imported lines. */
    private void batches(int size) {
        List<String> ids =
                IntStream.range(0, size).mapToObj(a -> "a" + 2 * (long) a).toList();
        ObjectNode members = Json.NODES.objectNode().put("version", version);
        ObjectNode edit =
                members.putArray("edits").addObject().put("kind", "put-members").put("group", "g0");
        ArrayNode list = edit.putArray("who");
        ids.forEach(id -> list.add("account:" + id));
        long start = System.nanoTime();
        version = restClient
                .post("/drafts/" + draft + "/edits", members.toString())
                .get("version")
                .asLong();
        row(String.format("%,d members put into a group", size), since(start));
        undo();

        ObjectNode pasted = Json.NODES.objectNode().put("adds", true).put("policy", "p0");
        pasted.put("text", String.join("\n", ids));
        start = System.nanoTime();
        JsonNode told = restClient.post("/addresses", pasted.toString());
        row(String.format("%,d addresses pasted, read", size), since(start));
        ObjectNode staged = Json.NODES.objectNode().put("version", version);
        JsonNode edits =
                told.has("edits") ? told.get("edits") : Json.NODES.arrayNode().add(told.get("edit"));
        staged.set("edits", edits);
        start = System.nanoTime();
        version = restClient
                .post("/drafts/" + draft + "/edits", staged.toString())
                .get("version")
                .asLong();
        row(String.format("%,d addresses pasted, staged", size), since(start));
        undo();

        StringBuilder csv = new StringBuilder("group,member\n");
        ids.forEach(id -> csv.append("g1,").append(id).append('\n'));
        start = System.nanoTime();
        restClient.post("/imports/members", csv.toString());
        row(String.format("%,d imported lines, read", size), since(start));
    }

    private void row(String what, double seconds) {
        table.row(what, Table.time(seconds), "");
    }

    private void row(String what, String mark) {
        double[] sorted = times.get(what).clone();
        Arrays.sort(sorted);
        table.row(what, Table.time(sorted[sorted.length / 2]), "95 %: " + Table.time(late(sorted)) + mark);
    }

    private static double late(double[] sorted) {
        return sorted[Math.min(sorted.length - 1, sorted.length * 95 / 100)];
    }

    private void mark(String what, double wanted, boolean ofTheSlow) {
        double[] sorted = times.get(what).clone();
        Arrays.sort(sorted);
        double measured = ofTheSlow ? late(sorted) : sorted[sorted.length / 2];
        row(what, ", mark " + Table.time(wanted) + (ofTheSlow ? " at 95 %" : ""));
        if (made.accounts() == 1_000_000 && measured > wanted)
            missed.add(new Thresholds(
                    String.format("%,d in PostgreSQL: %s", made.accounts(), what),
                    Table.time(measured),
                    Table.time(wanted),
                    measured / wanted));
    }

    private void time(int i, String what, Callable<?> act) {
        long start = System.nanoTime();
        try {
            act.call();
        } catch (Exception e) {
            throw new IllegalStateException(what, e);
        }
        if (i >= 0) times.computeIfAbsent(what, w -> new double[PUBLISHES])[i] = since(start);
    }

    private static double since(long start) {
        return (System.nanoTime() - start) / 1e9;
    }
}
