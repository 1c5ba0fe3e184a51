package leanladder.cli;

import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The command line over estate files (estate-format.md). */
@Command(
        name = "ladder",
        description = "Works out effective settings from an estate file.",
        subcommands = {Resolve.class, Check.class, Explain.class, Seats.class, Arrivals.class})
public final class Main {
    private Main() {}

    /** Runs one command; the exit code is 0 when done, 2 for wrong use, 3 for a file that is no valid estate. */
    public static void main(String[] args) {
        System.exit(run(args));
    }

    /** Runs one command and gives its exit code. */
    public static int run(String... args) {
        CommandLine line = new CommandLine(new Main());
        line.setExecutionExceptionHandler((failure, command, parsed) -> {
            if (failure instanceof CliException cliException) {
                cliException.lines().forEach(System.err::println);
                return cliException.exitCode();
            }
            throw failure;
        });
        return line.execute(args);
    }
}
