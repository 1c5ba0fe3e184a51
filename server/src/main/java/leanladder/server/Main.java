package leanladder.server;

import io.javalin.util.JavalinException;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Defect;
import leanladder.json.Json;
import leanladder.server.access.ClientSecret;
import leanladder.server.access.Identity;
import leanladder.server.files.DemoHistoryLoader;
import leanladder.server.health.GarbageCollectionWatchdog;
import leanladder.server.mail.SmtpClient;
import leanladder.store.Store;
import leanladder.store.db.WriteRequest;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Starts the server, and says in the state folder when it answers or why it does not. */
@Command(name = "server", description = "The Lean Ladder server; ./ladder up starts it.")
public final class Main implements Callable<Integer> {
    private static final Logger LOG = LoggerFactory.getLogger(Main.class);
    private static final int SHOWN = 20;
    private static final int FAILED = 3;

    /** Held until the process ends; a static field, since a lock that is garbage is released. */
    private static @Nullable FileLock lock;

    @Option(names = "--port", required = true)
    private int port;

    @Option(
            names = "--connection",
            required = true,
            description = "a file with the JDBC address, user and password, one a line")
    private Path connection;

    @Option(names = "--web", required = true, description = "the folder of the built web client")
    private Path web;

    @Option(names = "--as", required = true, description = "who is named as the author of changes")
    private String author;

    @Option(names = "--state", required = true, description = "the folder in which to say how it went")
    private Path state;

    @Option(names = "--client-secret", description = "a file with what clients send that speak for people")
    private Path clientSecret;

    @Option(names = "--suite", description = "where the simulated suite is, such as http://127.0.0.1:7467")
    private String suite;

    @Option(
            names = "--mail",
            description = "a file that names the mail server to which texts to people are handed over")
    private Path mail;

    @Option(names = "--estate", description = "loaded when the database is empty")
    private Path estate;

    @Option(
            names = "--history",
            description = "an estate and what was changed since; loaded when the database is empty")
    private Path history;

    @Option(names = "--once", description = "ends as soon as it is ready: shows what a start loads")
    private boolean once;

    /** The program's entry. */
    public static void main(String[] args) {
        Thread.setDefaultUncaughtExceptionHandler((thread, failure) -> {
            LOG.error("The thread \"{}\" has ended", thread.getName(), failure);
            // A process that lacks a thread, or memory, is worth less than one that starts again.
            if (failure instanceof Error) Runtime.getRuntime().halt(FAILED);
        });
        int exitCode = new CommandLine(new Main()).execute(args);
        if (exitCode != 0) System.exit(exitCode);
    }

    @Override
    public Integer call() throws IOException {
        FileChannel home = FileChannel.open(
                state.resolve("server.lock"),
                StandardOpenOption.CREATE,
                StandardOpenOption.WRITE,
                LinkOption.NOFOLLOW_LINKS);
        if (!takeLock(home)) {
            System.err.println("Another server runs with its data in " + state + ".");
            return 1;
        }
        GarbageCollectionWatchdog.start();
        clearTemporaryFiles();
        try {
            start();
            if (once) System.exit(0);
            Files.writeString(state.resolve("ready"), "ready\n");
            return 0;
        } catch (JavalinException e) {
            return refuse("Port " + port + " is taken by another program. Choose another one with --port.", e);
        } catch (InvalidEstateException e) {
            return refuse("The estate file " + estate + " is not valid; nothing was loaded.\n" + lines(e.defects()), e);
        } catch (IOException | RuntimeException e) {
            boolean full = String.valueOf(e.getMessage()).contains("No space left")
                    || String.valueOf(e.getCause()).contains("No space left");
            return refuse(
                    full
                            ? "The disk is full. Make room and start again; nothing is lost."
                            : "The server cannot start: " + firstLine(e),
                    e);
        }
    }

    private static boolean takeLock(FileChannel home) throws IOException {
        lock = home.tryLock();
        return lock != null;
    }

    /** Deletes what a server that was killed left behind; only below the state folder, which is this server's alone. */
    private void clearTemporaryFiles() throws IOException {
        Path temporary = Path.of(System.getProperty("java.io.tmpdir"));
        if (!temporary.startsWith(state)) return;
        Files.createDirectories(temporary);
        try (var left = Files.newDirectoryStream(temporary, "lean-ladder*")) {
            for (Path file : left) Files.deleteIfExists(file);
        }
    }

    private void start() throws IOException, InvalidEstateException {
        // It lies in a folder of the user that runs the database, who must not have another file read.
        if (Files.isSymbolicLink(connection))
            throw new IOException("The connection file " + connection + " is a link; it must be the file itself.");
        List<String> lines = Files.readAllLines(connection);
        Store store = new Store(lines.get(0), lines.get(1), lines.get(2));
        if (history != null && store.journal().latest() == 0)
            DemoHistoryLoader.load(
                    store,
                    Json.read(Files.readString(history)),
                    Clock.systemUTC().instant());
        Server server = new Server(
                store,
                new Identity(author, new ClientSecret(secret())),
                Clock.systemUTC(),
                new Server.Endpoints(Optional.of(web), Optional.ofNullable(suite), mailServer()),
                port);
        if (server.timeline().isEmpty() && estate != null) {
            try (InputStream in = new BufferedInputStream(Files.newInputStream(estate))) {
                server.publisher()
                        .replace(
                                WriteRequest.by(author, server.timeline().now()),
                                in,
                                Optional.empty(),
                                "Loaded when Lean Ladder was started for the first time");
            }
        }
        server.start();
        Runtime.getRuntime().addShutdownHook(new Thread(() -> {
            server.close();
            store.close();
        }));
    }

    private Optional<SmtpClient> mailServer() throws IOException {
        return mail == null ? Optional.empty() : Optional.of(SmtpClient.parse(Files.readAllLines(mail)));
    }

    private Optional<String> secret() throws IOException {
        return clientSecret == null
                ? Optional.empty()
                : Files.readAllLines(clientSecret).stream().findFirst().filter(line -> !line.isBlank());
    }

    private int refuse(String sentence, Exception why) throws IOException {
        LOG.error("Not started", why);
        Files.writeString(state.resolve("refused"), sentence + "\n");
        return 1;
    }

    private static String firstLine(Exception e) {
        return String.valueOf(e.getMessage())
                .lines()
                .findFirst()
                .orElse(e.getClass().getSimpleName());
    }

    private static String lines(List<Defect> defects) {
        String shown = defects.stream().limit(SHOWN).map(Defect::line).collect(Collectors.joining("\n"));
        return defects.size() <= SHOWN ? shown : shown + "\nand " + (defects.size() - SHOWN) + " more";
    }
}
