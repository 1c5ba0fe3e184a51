package leanladder.cli;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.json.CodePointOrder;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Writes the outcome of every active account and setting. */
@Command(name = "resolve", description = "Writes one line for each active account and setting.")
final class Resolve implements Callable<Integer> {
    enum Format {
        ndjson,
        csv
    }

    @Mixin
    private EstateFile file;

    @Option(names = "--account", paramLabel = "ID", description = "only this account; may be given several times")
    private List<String> accounts = List.of();

    @Option(names = "--setting", paramLabel = "KEY", description = "only this setting; may be given several times")
    private List<String> settings = List.of();

    @Option(names = "--workspace", paramLabel = "ID", description = "as if working in this workspace")
    private String workspace;

    @Option(names = "--format", defaultValue = "ndjson", description = "ndjson or csv")
    private Format format;

    @Option(names = "--out", paramLabel = "FILE", description = "where to write; standard output when left out")
    private Path out;

    @Override
    public Integer call() throws CliException {
        CompiledEstate compiledEstate = file.compiledEstate();
        EvaluationContext evaluationContext = file.question(compiledEstate, workspace);
        List<Account> asked = askedAccounts(compiledEstate);
        List<Setting> wanted = wantedSettings(compiledEstate);
        OutcomeLines lines = format == Format.csv ? OutcomeLines.csv() : OutcomeLines.ndjson();
        try {
            if (out == null) {
                OutputStream stream = new BufferedOutputStream(System.out, 1 << 16);
                lines.write(new ColumnResolver(compiledEstate, evaluationContext), asked, wanted, stream);
                stream.flush();
            } else {
                writeWhole(lines, new ColumnResolver(compiledEstate, evaluationContext), asked, wanted);
            }
        } catch (IOException e) {
            throw CliException.wrongUse("The output cannot be written: " + e.getMessage());
        } finally {
            ProgressReporter.end();
        }
        return 0;
    }

    /** Writes beside the file and moves into place, so that the file is never half written. */
    private void writeWhole(
            OutcomeLines lines, ColumnResolver columnResolver, List<Account> asked, List<Setting> wanted)
            throws IOException {
        Path target = out.toAbsolutePath();
        if (Files.exists(target) && !Files.isRegularFile(target)) {
            try (OutputStream stream = new BufferedOutputStream(Files.newOutputStream(target), 1 << 16)) {
                lines.write(columnResolver, asked, wanted, stream);
            }
            return;
        }
        Path beside = target.resolveSibling(
                target.getFileName() + "." + ProcessHandle.current().pid() + ".part");
        try {
            try (OutputStream stream = new BufferedOutputStream(Files.newOutputStream(beside), 1 << 16)) {
                lines.write(columnResolver, asked, wanted, stream);
            }
            Files.move(beside, target, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(beside);
        }
    }

    private List<Account> askedAccounts(CompiledEstate compiledEstate) throws CliException {
        if (accounts.isEmpty())
            return compiledEstate.estate().accounts().stream()
                    .filter(Account::active)
                    .toList();
        var ids = new TreeSet<>(CodePointOrder.TEXTS);
        ids.addAll(accounts);
        var asked = new java.util.ArrayList<Account>();
        for (String id : ids) {
            Account account = EstateFile.account(compiledEstate, id);
            if (account.active()) asked.add(account);
            else System.err.println("The account \"" + id + "\" is inactive and has no outcomes.");
        }
        return asked;
    }

    private List<Setting> wantedSettings(CompiledEstate compiledEstate) throws CliException {
        var catalogue = compiledEstate.estate().catalogue();
        for (String key : settings)
            if (catalogue.setting(key).isEmpty())
                throw CliException.wrongUse("The catalogue has no setting \"" + key + "\".");
        return catalogue.settings().values().stream()
                .filter(s -> settings.isEmpty() || settings.contains(s.key()))
                .toList();
    }
}
