package leanladder.cli;

import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.Callable;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Climb;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.text.ClimbFormatter;
import leanladder.text.ClimbJson;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Writes the climb to one outcome. */
@Command(name = "explain", description = "Tells why a setting is what it is for an account.")
final class Explain implements Callable<Integer> {
    enum Format {
        text,
        json
    }

    @Mixin
    private EstateFile file;

    @Option(names = "--account", required = true, paramLabel = "ID")
    private String accountId;

    @Option(names = "--setting", required = true, paramLabel = "KEY")
    private String key;

    @Option(names = "--workspace", paramLabel = "ID")
    private String workspace;

    @Option(names = "--format", defaultValue = "text", description = "text or json")
    private Format format;

    @Override
    public Integer call() throws CliException {
        CompiledEstate compiledEstate = file.compiledEstate();
        EvaluationContext evaluationContext = file.question(compiledEstate, workspace);
        Account account = EstateFile.account(compiledEstate, accountId);
        if (!account.active())
            throw CliException.wrongUse("The account \"" + accountId + "\" is inactive and has no outcomes.");
        Setting setting = compiledEstate
                .estate()
                .catalogue()
                .setting(key)
                .orElseThrow(() -> CliException.wrongUse("The catalogue has no setting \"" + key + "\"."));
        var entitlements = compiledEstate.seats(evaluationContext.at());
        Climb climb = new AccountResolver(compiledEstate, evaluationContext, entitlements, account).climb(setting);
        PrintStream out = new PrintStream(System.out, false, StandardCharsets.UTF_8);
        if (format == Format.json) out.print(Json.write(ClimbJson.write(climb, compiledEstate.estate())) + "\n");
        else out.print(new ClimbFormatter(compiledEstate, climb).text());
        out.flush();
        return 0;
    }
}
