package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(value = 3, unit = TimeUnit.MINUTES)
class HomeLockTest {
    @TempDir
    private Path folder;

    /** A lock that only a local object holds is released when that object is collected. */
    @Test
    void aHomeIsUsedByOneServerAlsoAfterItsGarbageWasCollected() throws Exception {
        var postgres = ThrowAwayPostgres.get();
        Path connection = folder.resolve("connection");
        Files.writeString(connection, postgres.connection(postgres.newDatabase("home_lock")));
        Path home = folder.resolve("home");
        ServerProcess first = new ServerProcess(home, connection, List.of("-Xmx256m", "-Djava.io.tmpdir=" + folder));
        first.start();
        try {
            for (int i = 0; i < 3; i++)
                assertThat(new ProcessBuilder(
                                        System.getProperty("java.home") + "/bin/jcmd",
                                        String.valueOf(first.pid()),
                                        "GC.run")
                                .redirectErrorStream(true)
                                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                                .start()
                                .waitFor())
                        .isZero();
            Process second = new ProcessBuilder(
                            System.getProperty("java.home") + "/bin/java",
                            "-cp",
                            System.getProperty("java.class.path"),
                            Main.class.getName(),
                            "--port",
                            "1",
                            "--connection",
                            connection.toString(),
                            "--web",
                            "no-web",
                            "--as",
                            "Ivo Tarn",
                            "--state",
                            home.toString())
                    .redirectErrorStream(true)
                    .start();
            String said = new String(second.getInputStream().readAllBytes());
            assertThat(second.waitFor()).isNotZero();
            assertThat(said).contains("Another server runs with its data");
        } finally {
            first.kill();
        }
    }
}
