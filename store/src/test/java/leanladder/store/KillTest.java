package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import leanladder.RandomEstate;
import leanladder.json.Json;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class KillTest {
    private static final int KILLS = Integer.getInteger("ladder.kills", 8);
    private static final int AT_ONCE = 4;
    /** Over this stretch after a publishing the kills are spread, in microseconds: about two more publishings. */
    private static final int SPREAD = 80_000;

    @TempDir
    Path dir;

    @Test
    void aServerKilledWhilePublishingLeavesTheEstateBeforeOrAfter() throws Exception {
        JsonNode one = estate(21);
        JsonNode other = estate(22);
        Path oneFile = Files.writeString(dir.resolve("one.json"), Json.write(one));
        Path otherFile = Files.writeString(dir.resolve("other.json"), Json.write(other));
        JsonNode oneSorted = StoreTest.sorted(one);
        JsonNode otherSorted = StoreTest.sorted(other);
        var pool = Executors.newFixedThreadPool(AT_ONCE);
        try {
            List<Callable<Integer>> runs = new ArrayList<>();
            for (int lane = 0; lane < AT_ONCE; lane++) {
                int first = lane;
                String url = ThrowAwayPostgres.get().newDatabase("killed_" + lane);
                runs.add(() -> {
                    int checked = 0;
                    try (Store store = new Store(
                            url,
                            ThrowAwayPostgres.get().user(),
                            ThrowAwayPostgres.get().password())) {
                        for (int kill = first; kill < KILLS; kill += AT_ONCE) {
                            long before = store.journal().latest();
                            publishAndKill(url, oneFile, otherFile, (long) SPREAD * kill / KILLS);
                            assertThat(store.journal().latest()).isGreaterThan(before);
                            JsonNode left = StoreTest.sorted(StoreTest.export(store));
                            // Odd changes put the one estate, even ones the other.
                            assertThat(left).isEqualTo(store.journal().latest() % 2 == 1 ? oneSorted : otherSorted);
                            assertThat(store.journal().since(0))
                                    .hasSize((int) store.journal().latest());
                            checked++;
                        }
                    }
                    return checked;
                });
            }
            int checked = 0;
            for (var run : pool.invokeAll(runs)) checked += run.get();
            assertThat(checked).as("kills checked").isEqualTo(KILLS);
        } finally {
            pool.shutdownNow();
        }
    }

    /** Large enough that a publishing takes a while. */
    private static JsonNode estate(long seed) {
        ObjectNode estate = RandomEstate.json(seed);
        for (int i = 0; i < 400; i++)
            ((ArrayNode) estate.get("accounts"))
                    .addObject()
                    .put("id", "x" + i)
                    .put("userName", "x" + i + "@skerrymore.example")
                    .put("displayName", seed + " " + i)
                    .put("kind", "guest")
                    .put("unit", "u0");
        return estate;
    }

    private static void publishAndKill(String url, Path one, Path other, long afterMicros) throws Exception {
        Process publisher = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:TieredStopAtLevel=1",
                        "-XX:+UseSerialGC",
                        "-cp",
                        System.getProperty("java.class.path"),
                        KilledPublisher.class.getName(),
                        url,
                        ThrowAwayPostgres.get().user(),
                        ThrowAwayPostgres.get().password(),
                        one.toString(),
                        other.toString())
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        try (var lines = new BufferedReader(new InputStreamReader(publisher.getInputStream()))) {
            String line;
            do line = lines.readLine();
            while (line != null && !line.equals("published"));
            assertThat(line).as("the publisher started").isNotNull();
            LockSupport.parkNanos(TimeUnit.MICROSECONDS.toNanos(afterMicros));
        } finally {
            publisher.destroyForcibly();
            assertThat(publisher.waitFor(30, TimeUnit.SECONDS)).isTrue();
        }
        assertThat(publisher.exitValue()).as("killed, not ended by itself").isEqualTo(137);
    }
}
