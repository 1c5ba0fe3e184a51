package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What the scripts do as root in a folder of the user that runs the database. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class PostgresScriptTest {
    private static final Path SCRIPTS = Path.of("../scripts").toAbsolutePath();
    private Path cluster;

    private static int run(String... command) throws Exception {
        return new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start()
                .waitFor();
    }

    @AfterEach
    void stop() throws Exception {
        if (cluster == null) return;
        run("bash", SCRIPTS.resolve("postgres.sh").toString(), "stop", cluster.toString());
        run("rm", "-rf", cluster.toString());
    }

    @Test
    void noLinkOfTheDatabasesUserIsFollowedAsRoot() throws Exception {
        assumeTrue(System.getProperty("user.name").equals("root"));
        Path secret = Files.createTempFile("root", ".secret");
        Files.writeString(secret, "of root alone");
        Files.setPosixFilePermissions(secret, java.nio.file.attribute.PosixFilePermissions.fromString("rw-------"));
        cluster = Files.createTempDirectory("lean-ladder-links");
        Files.setPosixFilePermissions(cluster, java.nio.file.attribute.PosixFilePermissions.fromString("rwxr-xr-x"));
        for (String name : List.of("connection", "made-by", "password", "initdb.log"))
            Files.createSymbolicLink(cluster.resolve(name), secret);
        assertThat(run("bash", SCRIPTS.resolve("postgres.sh").toString(), "start", cluster.toString()))
                .isZero();
        assertThat(Files.readString(secret)).isEqualTo("of root alone");
        assertThat(Files.isSymbolicLink(cluster.resolve("connection"))).isFalse();
        assertThat(Files.readString(cluster.resolve("connection"))).startsWith("jdbc:postgresql://127.0.0.1:");
        Files.delete(secret);
    }

    @Test
    void aBackupThatHoldsALinkIsRefused() throws Exception {
        Path work = Files.createTempDirectory("lean-ladder-backup");
        Files.writeString(work.resolve("manifest.txt"), "Lean Ladder backup\n");
        Files.writeString(work.resolve("database.dump"), "");
        Files.createSymbolicLink(work.resolve("client.secret"), Path.of("/etc/hostname"));
        Path file = work.resolve("backup.tar");
        run("tar", "-C", work.toString(), "-cf", file.toString(), "manifest.txt", "database.dump", "client.secret");
        Path home = work.resolve("home");
        assertThat(run("bash", SCRIPTS.resolve("backup.sh").toString(), "restore", file.toString(), home.toString()))
                .isNotZero();
        assertThat(home.resolve("client.secret")).doesNotExist();
        run("rm", "-rf", work.toString());
    }
}
