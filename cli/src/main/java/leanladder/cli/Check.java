package leanladder.cli;

import java.util.concurrent.Callable;
import leanladder.json.Defect;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** Reports every defect of an estate file, one a line. */
@Command(name = "check", description = "Reports every defect of an estate file; exit code 0 when there is none.")
final class Check implements Callable<Integer> {
    @Mixin
    private EstateFile file;

    @Override
    public Integer call() throws CliException {
        file.read().warnings().stream().map(Defect::warningLine).forEach(System.err::println);
        return 0;
    }
}
