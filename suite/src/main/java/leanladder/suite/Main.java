package leanladder.suite;

import io.javalin.util.JavalinException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Starts the simulated suite. */
@Command(name = "suite", description = "The simulated suite; ./ladder up starts it.")
public final class Main implements Callable<Integer> {
    @Option(names = "--port", required = true)
    private int port;

    @Option(names = "--ladder", required = true, description = "where Lean Ladder is")
    private String ladder;

    @Option(
            names = "--client-secret",
            required = true,
            description = "a file with what clients send that speak for people")
    private Path secret;

    @Option(names = "--web", required = true, description = "the folder of the built page")
    private Path web;

    /** The program's entry. */
    public static void main(String[] args) {
        int exitCode = new CommandLine(new Main()).execute(args);
        if (exitCode != 0) System.exit(exitCode);
    }

    @Override
    public Integer call() throws IOException {
        SuiteServer server =
                new SuiteServer(ladder, Files.readString(secret).strip(), Clock.systemUTC(), Optional.of(web), port);
        try {
            server.start();
        } catch (JavalinException e) {
            System.err.println("Port " + port + " is taken by another program.");
            return 1;
        }
        server.reportUsage();
        Runtime.getRuntime().addShutdownHook(new Thread(server::close));
        System.out.println("The simulated suite is at http://127.0.0.1:" + port);
        return 0;
    }
}
