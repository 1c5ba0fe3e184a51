package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Supplier;
import leanladder.json.Json;

/** Somebody at work: asks, looks at the answer for a moment, asks again; stages now and then, and publishes after a while. */
final class AdministratorLoad {
    private static final long LOOKS_NANOS = 2_000_000_000L;
    /** A change is published after so many questions: every two minutes or so. */
    private static final int QUESTIONS = 50;

    private final RestClient restClient;
    private final List<String> people;
    private final Random random;
    private final String setting;
    private final List<Double> waited = new ArrayList<>();
    private int published;

    /** @param people whom they ask about */
    AdministratorLoad(RestClient restClient, List<String> people, int seed) {
        this.restClient = restClient;
        this.people = people;
        this.random = new Random(seed);
        this.setting = PublishBenchmark.switchesOf(restClient).get(0);
    }

    /** Until it is over. @throws IllegalStateException when something is refused */
    void work(AtomicBoolean over) {
        JsonNode draft = restClient.post("/drafts", "{}");
        long version = draft.get("version").asLong();
        String edits = "/drafts/" + draft.get("id").asLong();
        // Not all of them at the same moment.
        LockSupport.parkNanos((long) (random.nextDouble() * LOOKS_NANOS));
        for (int i = random.nextInt(QUESTIONS); !over.get(); i++) {
            String account = people.get(random.nextInt(people.size()));
            switch (i % 5) {
                case 0 -> timed(() -> restClient.get("/climb?account=" + account + "&setting=" + setting));
                case 1 -> timed(() -> restClient.get("/accounts/" + account + "/settings"));
                case 2 ->
                    timed(() -> restClient.get(
                            "/search?limit=12&q=" + URLEncoder.encode("mirela brandal", StandardCharsets.UTF_8)));
                case 3 -> timed(() -> restClient.post("/matrix", PublishBenchmark.window()));
                default -> {
                    long known = version;
                    version = timed(() -> restClient.post(edits + "/edits", staged(known)))
                            .get("version")
                            .asLong();
                    version = restClient
                            .post(edits + "/undo", "{\"version\":" + version + "}")
                            .get("version")
                            .asLong();
                }
            }
            if (i % QUESTIONS == QUESTIONS - 1) {
                long base = Json.read(restClient.get("/session")).get("change").asLong();
                timed(() -> restClient.post(
                        "/changes", "{\"base\":" + base + ",\"note\":\"bench\",\"edits\":[" + edit() + "]}"));
                published++;
            }
            LockSupport.parkNanos(LOOKS_NANOS);
        }
    }

    private String staged(long version) {
        return "{\"version\":" + version + ",\"edits\":[" + edit() + "]}";
    }

    private String edit() {
        return PublishBenchmark.put(setting, random.nextBoolean());
    }

    private <T> T timed(Supplier<T> question) {
        long start = System.nanoTime();
        T answer = question.get();
        waited.add((System.nanoTime() - start) / 1e9);
        return answer;
    }

    /** How long they waited for each answer, in seconds. */
    List<Double> waited() {
        return waited;
    }

    /** How many changes they published. */
    int published() {
        return published;
    }
}
