package leanladder.store;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/** A PostgreSQL of this test run's own, on loopback; it goes when it is closed, or when the Java machine does. */
public final class ThrowAwayPostgres implements AutoCloseable {
    private static ThrowAwayPostgres running;

    private final Path dir;
    private final List<String> connection;
    private Optional<String> tables = Optional.empty();

    private ThrowAwayPostgres(Path dir) throws IOException {
        this.dir = dir;
        run("start", "--throw-away");
        connection = Files.readAllLines(dir.resolve("connection"));
        Runtime.getRuntime().addShutdownHook(new Thread(this::close));
    }

    /** A new folder that the user of a cluster may enter. */
    public static Path newFolder() throws IOException {
        Path dir = Files.createTempDirectory("lean-ladder-pg");
        dir.toFile().setExecutable(true, false);
        dir.toFile().setReadable(true, false);
        return dir;
    }

    /** A cluster that nobody else uses, so that it may be paused or starved. @param dir where it is kept, see {@link #newFolder} */
    public static ThrowAwayPostgres in(Path dir) throws IOException {
        return new ThrowAwayPostgres(dir);
    }

    /** The one cluster of this Java machine, started when first asked for. */
    public static synchronized ThrowAwayPostgres get() {
        try {
            if (running == null) running = new ThrowAwayPostgres(newFolder());
            return running;
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static Path script() {
        return root().resolve("scripts/postgres.sh");
    }

    /** Where the whole project stands. */
    public static Path root() {
        Path here = Path.of("").toAbsolutePath();
        while (!Files.exists(here.resolve("scripts/postgres.sh"))) here = here.getParent();
        return here;
    }

    private void run(String verb, String... more) throws IOException {
        var command = new java.util.ArrayList<>(List.of("bash", script().toString(), verb, dir.toString()));
        command.addAll(List.of(more));
        Process process = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(dir.resolve("script.log").toFile())
                .start();
        try {
            if (!process.waitFor(2, TimeUnit.MINUTES) || process.exitValue() != 0)
                throw new IOException("postgres.sh " + verb + ": " + Files.readString(dir.resolve("script.log")));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException(e);
        }
    }

    /** Stops it and starts it again at the same port, as an administrator does for an update. */
    public void restart() throws IOException {
        run("restart");
    }

    /** Has each of its processes do nothing, as on a machine that is overwhelmed. */
    public void pause() throws IOException {
        signal("STOP");
    }

    /** Has each of its processes go on. */
    public void goOn() throws IOException {
        signal("CONT");
    }

    /** To the first of its processes, and then to those that it has started. */
    private void signal(String name) throws IOException {
        String first = Files.readAllLines(dir.resolve("data/postmaster.pid")).get(0);
        String command = "kill -" + name + " " + first + " && for p in $(cat /proc/" + first + "/task/" + first
                + "/children); do kill -" + name + " $p || true; done";
        try {
            if (new ProcessBuilder("sh", "-c", command).start().waitFor() != 0)
                throw new IOException("The signal " + name + " could not be sent to " + first);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException(e);
        }
    }

    /** The three lines with which a server connects to one of its databases. */
    public String connection(String url) {
        return String.join("\n", url, user(), password()) + "\n";
    }

    @Override
    public synchronized void close() {
        if (!Files.exists(dir.resolve("connection"))) return;
        try {
            run("stop");
            try (var files = Files.walk(dir)) {
                files.sorted(java.util.Comparator.reverseOrder())
                        .forEach(f -> f.toFile().delete());
            }
        } catch (IOException e) {
            System.err.println("The test cluster in " + dir + " was not stopped: " + e.getMessage());
        }
    }

    /** A new, empty database; its JDBC address. */
    public String newDatabase(String name) {
        return newDatabase(name, "template1");
    }

    private String newDatabase(String name, String template) {
        try (var db = java.sql.DriverManager.getConnection(connection.get(0), user(), password());
                var statement = db.createStatement()) {
            statement.execute("drop database if exists " + name);
            statement.execute("create database " + name + " template " + template);
        } catch (java.sql.SQLException e) {
            throw new IllegalStateException(e);
        }
        return connectionTo(name);
    }

    /** The JDBC address of a database. */
    public String connectionTo(String name) {
        return connection.get(0).replaceAll("/postgres$", "/" + name);
    }

    public String user() {
        return connection.get(1);
    }

    public String password() {
        return connection.get(2);
    }

    /** A store over a new database in which nothing is stored. It is a copy of one whose tables were made once. */
    public Store newStore(String name) {
        return new Store(newDatabase(name, withTables()), user(), password());
    }

    private synchronized String withTables() {
        if (tables.isEmpty()) {
            new Store(newDatabase("with_tables"), user(), password()).close();
            tables = Optional.of("with_tables");
        }
        return tables.get();
    }
}
