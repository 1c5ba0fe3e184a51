package leanladder.cli;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
import leanladder.estate.Account;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Instants;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import picocli.CommandLine.Option;

/** The options that name the estate and the instant, and what they stand for. */
final class EstateFile {
    @Option(names = "--estate", required = true, paramLabel = "FILE", description = "the estate file")
    private Path file;

    @Option(
            names = "--at",
            paramLabel = "INSTANT",
            description = "the instant asked about, RFC 3339; now when left out")
    private String at;

    /** Reads and checks the file. */
    EstateReader.Result read() throws CliException {
        try (InputStream in =
                new BufferedInputStream(new ProgressReporter(Files.newInputStream(file), Files.size(file)), 1 << 16)) {
            return EstateReader.read(in);
        } catch (InvalidEstateException e) {
            throw CliException.badFile(e.defects());
        } catch (OutOfMemoryError e) {
            throw CliException.unreadable(
                    "the file " + file + " is too large for the memory given; set LADDER_MEMORY to more, such as 4g");
        } catch (NoSuchFileException e) {
            throw CliException.unreadable("there is no file " + file + "; name the estate file after --estate");
        } catch (IOException e) {
            throw CliException.unreadable("the file " + file + " cannot be read: " + e.getMessage());
        }
    }

    CompiledEstate compiledEstate() throws CliException {
        instant();
        return new CompiledEstate(read().estate());
    }

    Instant instant() throws CliException {
        if (at == null) return Instant.now();
        return Instants.instant(at)
                .orElseThrow(() -> CliException.wrongUse(
                        "--at " + at + " is not an instant; write one such as 2026-11-23T12:00:00Z"));
    }

    EvaluationContext question(CompiledEstate compiledEstate, String workspace) throws CliException {
        if (workspace != null && compiledEstate.estate().workspace(workspace).isEmpty())
            throw CliException.wrongUse("The estate has no workspace \"" + workspace + "\".");
        return new EvaluationContext(instant(), Optional.ofNullable(workspace));
    }

    static Account account(CompiledEstate compiledEstate, String id) throws CliException {
        return compiledEstate
                .estate()
                .account(id)
                .orElseThrow(() -> CliException.wrongUse("The estate has no account \"" + id + "\"."));
    }
}
