package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import leanladder.store.Replay;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** A backup that is made while people publish is put back elsewhere, and is the same; one that is damaged is refused. */
@Timeout(value = 3, unit = TimeUnit.MINUTES)
class BackupTest {
    private final List<Path> homes = new ArrayList<>();
    private Path folder;

    @BeforeEach
    void make() throws IOException {
        folder = Files.createTempDirectory("lean-ladder-backup");
        folder.toFile().setExecutable(true, false);
    }

    @AfterEach
    void clear() throws Exception {
        for (Path home : homes)
            run("scripts/postgres.sh", "stop", home.resolve("postgres").toString());
        try (var files = Files.walk(folder)) {
            files.sorted(Comparator.reverseOrder()).forEach(f -> f.toFile().delete());
        }
    }

    private record Ran(int code, String said) {}

    private Ran run(String script, String... arguments) throws Exception {
        List<String> command = new ArrayList<>(
                List.of("bash", ThrowAwayPostgres.root().resolve(script).toString()));
        command.addAll(List.of(arguments));
        Path out = Files.createTempFile(folder, "ran", ".log");
        Process process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(out.toFile())
                .start();
        assertThat(process.waitFor(2, TimeUnit.MINUTES)).isTrue();
        return new Ran(process.exitValue(), Files.readString(out));
    }

    /** A home as ./ladder up makes one, with its database running. */
    private Path home(String name) throws Exception {
        Path home = folder.resolve(name);
        Files.createDirectories(home.resolve("postgres"));
        for (Path one : List.of(home, home.resolve("postgres"))) one.toFile().setExecutable(true, false);
        run("scripts/postgres.sh", "start", home.resolve("postgres").toString());
        Files.writeString(
                home.resolve("postgres-place"), home.resolve("postgres").toString());
        Files.writeString(home.resolve("client.secret"), "made-up");
        homes.add(home);
        return home;
    }

    private static Store store(Path home) throws IOException {
        List<String> lines = Files.readAllLines(home.resolve("postgres/connection"));
        return new Store(lines.get(0), lines.get(1), lines.get(2));
    }

    private static String export(Store store, long change) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        store.parts().export(out, change);
        return out.toString(java.nio.charset.StandardCharsets.UTF_8);
    }

    @Test
    void aBackupMadeUnderLoadIsTheSameWhereItIsPutBack() throws Exception {
        Path home = home("here");
        Path file = folder.resolve("all.tar");
        Path there = folder.resolve("there");
        long change;
        try (Store store = store(home);
                RunningServer server = RunningServer.over(store, Path.of("no-web"))) {
            String estate = Files.readString(Path.of("../core/src/test/resources/small-estate.json"));
            assertThat(server.send("PUT", "/api/v1/estate", estate).statusCode())
                    .isLessThan(300);
            server.send("POST", "/api/v1/drafts", "{\"name\":\"A draft\"}");
            Thread busy = new Thread(() -> {
                for (int i = 0; i < 200 && !Thread.currentThread().isInterrupted(); i++)
                    server.post("{\"base\":" + (i + 1)
                            + ",\"edits\":[{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":\"Name "
                            + i
                            + "\"}}]}");
            });
            busy.start();
            Ran made = run("scripts/backup.sh", "make", home.toString(), file.toString());
            busy.interrupt();
            busy.join();
            assertThat(made.code).as(made.said).isZero();
            Ran restored = run("scripts/backup.sh", "restore", file.toString(), there.toString());
            assertThat(restored.code).as(restored.said).isZero();
            run("scripts/postgres.sh", "start", there.resolve("postgres").toString());
            homes.add(there);
            change = Long.parseLong(restored.said.replaceAll("(?s).*change (\\d+)\\..*", "$1"));
            try (Store again = store(there)) {
                assertThat(again.journal().latest()).isEqualTo(change);
                assertThat(export(again, change)).isEqualTo(export(store, change));
                assertThat(again.journal().since(0))
                        .isEqualTo(store.journal().since(0).subList(0, (int) change));
                assertThat(again.drafts().lines(10)).extracting(d -> d.name()).containsExactly("A draft");
                // The present is what the journal says.
                try (Store rebuilt = ThrowAwayPostgres.get().newStore("backup_rebuilt")) {
                    Replay.all(again, rebuilt);
                    assertThat(export(rebuilt, change)).isEqualTo(export(again, change));
                }
            }
        }
        assertThat(Files.readString(there.resolve("client.secret"))).isEqualTo("made-up");
        assertThat(run("scripts/backup.sh", "restore", file.toString(), there.toString()).said)
                .contains("is not empty");
    }

    /** The backup was made by a version in which pause-release was called hold-release, and resume-release let-go-release. */
    @Test
    void aBackupWithFormerKindsOfEditIsRebuiltAndItsChangesAreUndone() throws Exception {
        Path there = folder.resolve("former");
        Ran restored = run(
                "scripts/backup.sh",
                "restore",
                Path.of("src/test/resources/backups/former-edit-kinds.tar")
                        .toAbsolutePath()
                        .toString(),
                there.toString());
        assertThat(restored.code).as(restored.said).isZero();
        run("scripts/postgres.sh", "start", there.resolve("postgres").toString());
        homes.add(there);
        try (Store again = store(there);
                RunningServer server = RunningServer.over(again, Path.of("no-web"));
                Store rebuilt = ThrowAwayPostgres.get().newStore("former_rebuilt")) {
            assertThat(server.get("/api/v1/changes/2").body()).contains("\"kind\":\"hold-release\"");
            assertThat(Replay.all(again, rebuilt)).isEqualTo(5);
            assertThat(export(rebuilt, 5)).isEqualTo(export(again, 5));
            assertThat(server.get("/api/v1/changes/5/inverse").body()).contains("meet.captions");
            assertThat(server.send("POST", "/api/v1/drafts", "{\"takesBack\":5}")
                            .statusCode())
                    .isEqualTo(201);
        }
    }

    @Test
    void aDamagedBackupIsRefusedAndLeavesNothingBehind() throws Exception {
        Path home = home("here");
        store(home).close();
        Path file = folder.resolve("all.tar");
        Ran made = run("scripts/backup.sh", "make", home.toString(), file.toString());
        assertThat(made.code).as(made.said).isZero();
        assertThat(run("scripts/backup.sh", "make", home.toString(), file.toString()).said)
                .contains("is there already");
        byte[] whole = Files.readAllBytes(file);
        Path bad = folder.resolve("bad.tar");
        Path there = folder.resolve("there");
        byte[] flipped = whole.clone();
        flipped[whole.length / 2] ^= 1;
        Files.write(bad, flipped);
        Ran refused = run("scripts/backup.sh", "restore", bad.toString(), there.toString());
        assertThat(refused.code).isNotZero();
        assertThat(refused.said).contains("is damaged");
        Files.write(bad, java.util.Arrays.copyOf(whole, whole.length / 3));
        assertThat(run("scripts/backup.sh", "restore", bad.toString(), there.toString()).code)
                .isNotZero();
        try (var left = Files.list(there)) {
            assertThat(left).isEmpty();
        }
    }
}
