package leanladder.cli;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
import leanladder.document.Instants;
import leanladder.estate.Account;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
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
    EstateReader.Result read() throws Refusal {
        try (InputStream in =
                new BufferedInputStream(new Progress(Files.newInputStream(file), Files.size(file)), 1 << 16)) {
            return EstateReader.read(in);
        } catch (InvalidEstate e) {
            throw Refusal.badFile(e.defects());
        } catch (OutOfMemoryError e) {
            throw Refusal.unreadable(
                    "the file " + file + " is too large for the memory given; set LADDER_MEMORY to more, such as 4g");
        } catch (NoSuchFileException e) {
            throw Refusal.unreadable("there is no file " + file + "; name the estate file after --estate");
        } catch (IOException e) {
            throw Refusal.unreadable("the file " + file + " cannot be read: " + e.getMessage());
        }
    }

    Ground ground() throws Refusal {
        instant();
        return new Ground(read().estate());
    }

    Instant instant() throws Refusal {
        if (at == null) return Instant.now();
        return Instants.instant(at)
                .orElseThrow(() ->
                        Refusal.wrongUse("--at " + at + " is not an instant; write one such as 2026-11-23T12:00:00Z"));
    }

    Question question(Ground ground, String workspace) throws Refusal {
        if (workspace != null && ground.estate().workspace(workspace).isEmpty())
            throw Refusal.wrongUse("The estate has no workspace \"" + workspace + "\".");
        return new Question(instant(), Optional.ofNullable(workspace));
    }

    static Account account(Ground ground, String id) throws Refusal {
        return ground.estate()
                .account(id)
                .orElseThrow(() -> Refusal.wrongUse("The estate has no account \"" + id + "\"."));
    }
}
