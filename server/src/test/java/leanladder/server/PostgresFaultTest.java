package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Queue;
import java.util.Random;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.IntStream;
import leanladder.json.Json;
import leanladder.store.Replay;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** A PostgreSQL of one's own that is paused under load, or whose file system fills: what was acknowledged is stored, once. */
@Timeout(value = 4, unit = TimeUnit.MINUTES)
class PostgresFaultTest {
    private static final int CLIENTS = 4;
    private static final int PAUSES = 3;
    private static final String ASKED = "/api/v1/climb?account=a1&setting=chat.private";
    private static final String SIZE = "160m";
    private static final int ROOM = 5 << 20;
    private static final int LARGE = 200_000;

    private final Queue<String> acknowledged = new ConcurrentLinkedQueue<>();
    private Path folder;
    private ThrowAwayPostgres postgres;
    private RunningServer server;

    @BeforeEach
    void makeFolder() throws IOException {
        folder = ThrowAwayPostgres.newFolder();
    }

    @AfterEach
    void stop() throws Exception {
        if (server != null) server.close();
        if (postgres != null) postgres.close();
        ran("umount", folder.toString());
        Files.deleteIfExists(folder);
    }

    private static boolean ran(String... command) throws Exception {
        return new ProcessBuilder(command)
                        .redirectErrorStream(true)
                        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                        .start()
                        .waitFor()
                == 0;
    }

    /** Over the small estate with a policy of its own for every client. */
    private void start() throws Exception {
        ObjectNode estate =
                (ObjectNode) Json.read(Files.readString(Path.of("../core/src/test/resources/small-estate.json")));
        ArrayNode policies = (ArrayNode) estate.get("policies");
        for (int c = 0; c < CLIENTS; c++)
            policies.addObject().put("id", "client-" + c).put("name", "Client " + c);
        postgres = ThrowAwayPostgres.in(folder);
        server = RunningServer.start(postgres, "sick", Path.of("no-web"), Json.write(estate))
                .unchecked();
    }

    /** A change of the client's own policy, whose note is the key of the request. */
    private record Described(String note, String body) {}

    private Described describe(int client, String note, String description) {
        return new Described(
                note,
                "{\"base\":" + Json.read(server.get("/api/v1/session").body()).get("change") + ",\"note\":\"" + note
                        + "\",\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"client-" + client
                        + "\",\"members\":{\"description\":\"" + description + "\"}}]}");
    }

    private HttpResponse<String> publish(Described change) {
        HttpResponse<String> answer =
                server.send("POST", "/api/v1/changes", change.body, "Idempotency-Key", change.note);
        if (answer.statusCode() == 201) acknowledged.add(change.note);
        return answer;
    }

    private static String export(Store store, long change) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        store.parts().export(out, change);
        return out.toString(java.nio.charset.StandardCharsets.UTF_8);
    }

    /** Everything acknowledged is there and nothing twice; memory, store, and what the journal alone gives are the same. */
    private void isSound() throws Exception {
        assertThat(server.store().journal().since(1).stream().map(c -> c.note()))
                .doesNotHaveDuplicates()
                .containsAll(acknowledged);
        long change = server.store().journal().latest();
        JsonNode told = Json.read(server.get("/api/v1/estate").body());
        assertThat(Json.read(server.get("/api/v1/session").body()).get("change").asLong())
                .isEqualTo(change);
        String stored = export(server.store(), change);
        assertThat(Json.read(stored)).isEqualTo(told);
        try (Store again = ThrowAwayPostgres.get().newStore("sick_again")) {
            Replay.all(server.store(), again);
            assertThat(export(again, change)).isEqualTo(stored);
        }
    }

    @Test
    void aDatabaseThatIsPausedUnderLoadHoldsNoReaderUpAndLosesNothing() throws Exception {
        start();
        AtomicBoolean over = new AtomicBoolean();
        Queue<String> unexpected = new ConcurrentLinkedQueue<>();
        List<Thread> clients = IntStream.range(0, CLIENTS)
                .mapToObj(c -> new Thread(() -> {
                    for (int i = 0; !over.get() && i < 5000; i++) {
                        Described change = describe(c, "client " + c + " write " + i, "write " + i);
                        HttpResponse<String> answer;
                        do answer = publish(change);
                        while (answer.statusCode() == 503);
                        if (answer.statusCode() != 201) unexpected.add(answer.body());
                    }
                }))
                .toList();
        clients.forEach(Thread::start);
        Random random = new Random(5);
        for (int pause = 0; pause < PAUSES; pause++) {
            int enough = acknowledged.size() + 5 + random.nextInt(20);
            await().atMost(Duration.ofSeconds(60)).until(() -> acknowledged.size() >= enough);
            postgres.pause();
            try {
                for (int n = 0; n < 5; n++) {
                    Instant began = Instant.now();
                    assertThat(server.get(ASKED).statusCode()).isEqualTo(200);
                    assertThat(Duration.between(began, Instant.now())).isLessThan(Duration.ofSeconds(1));
                }
                await().atMost(Duration.ofSeconds(20))
                        .until(() -> server.get("/health/ready").statusCode() == 503);
            } finally {
                postgres.goOn();
            }
            await().atMost(Duration.ofSeconds(5))
                    .until(() -> server.get("/health/ready").statusCode() == 200);
        }
        over.set(true);
        for (Thread client : clients) client.join(TimeUnit.MINUTES.toMillis(1));
        assertThat(unexpected).isEmpty();
        isSound();
    }

    private static String random(int characters, Random random) {
        byte[] bytes = new byte[characters / 2];
        random.nextBytes(bytes);
        return HexFormat.of().formatHex(bytes);
    }

    /** Leaves this much room in the file system of the database. */
    private Path fill(int room) throws IOException {
        Path ballast = folder.resolve("ballast");
        byte[] block = new byte[1 << 16];
        Arrays.fill(block, (byte) 1);
        long free = Files.getFileStore(folder).getUsableSpace() - room;
        try (var out = Files.newOutputStream(ballast, StandardOpenOption.CREATE_NEW)) {
            for (; free > block.length; free -= block.length) out.write(block);
        }
        return ballast;
    }

    @Test
    void aFileSystemThatFillsIsNamedAndWithRoomTheSameRequestIsCarriedOut() throws Exception {
        assumeTrue(
                ran("mount", "-t", "tmpfs", "-o", "size=" + SIZE + ",mode=755", "tmpfs", folder.toString()),
                "only an administrator can make a small file system");
        start();
        try (var db = DriverManager.getConnection(postgres.connectionTo("sick"), postgres.user(), postgres.password());
                var on = db.createStatement()) {
            // The log of writes has room of its own, so that the tables are what grows until there is none.
            on.execute("select pg_switch_wal()");
            on.execute("checkpoint");
        } catch (SQLException e) {
            throw new AssertionError(e);
        }
        assertThat(publish(describe(0, "before", "before")).statusCode()).isEqualTo(201);
        Path ballast = fill(ROOM);
        Random random = new Random(7);
        HttpResponse<String> answer;
        Described change;
        int n = 0;
        do {
            change = describe(n % CLIENTS, "large " + ++n, random(LARGE, random));
            answer = publish(change);
        } while (answer.statusCode() == 201 && n < 100);
        assertThat(answer.statusCode())
                .as("of the one that found the disk full")
                .isEqualTo(507);
        assertThat(Json.read(answer.body()).get("detail").asText()).startsWith("The disk is full; nothing was stored");
        assertThat(server.get(ASKED).statusCode()).isEqualTo(200);
        assertThat(server.get("/health/ready").body()).contains("The disk of the database is full");
        long stands =
                Json.read(server.get("/api/v1/session").body()).get("change").asLong();
        assertThat(stands).as("what was refused is not in memory either").isEqualTo(acknowledged.size() + 1);
        Files.delete(ballast);
        assertThat(publish(change).statusCode()).isEqualTo(201);
        assertThat(server.get("/health/ready").body()).doesNotContain("The disk of the database is full");
        assertThat(acknowledged).hasSize(n + 1);
        isSound();
    }
}
