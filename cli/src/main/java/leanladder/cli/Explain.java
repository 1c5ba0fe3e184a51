package leanladder.cli;

import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.Callable;
import leanladder.catalogue.Setting;
import leanladder.document.Json;
import leanladder.estate.Account;
import leanladder.resolve.Climb;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.tell.ClimbJson;
import leanladder.tell.ClimbTelling;
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
    public Integer call() throws Refusal {
        Ground ground = file.ground();
        Question question = file.question(ground, workspace);
        Account account = EstateFile.account(ground, accountId);
        if (!account.active())
            throw Refusal.wrongUse("The account \"" + accountId + "\" is inactive and has no outcomes.");
        Setting setting = ground.estate()
                .catalogue()
                .setting(key)
                .orElseThrow(() -> Refusal.wrongUse("The catalogue has no setting \"" + key + "\"."));
        var entitlements = ground.seats(question.at());
        Climb climb = new Climber(ground, question, entitlements, account).climb(setting);
        PrintStream out = new PrintStream(System.out, false, StandardCharsets.UTF_8);
        if (format == Format.json) out.print(Json.write(ClimbJson.of(climb, ground.estate())) + "\n");
        else out.print(new ClimbTelling(ground, climb).text());
        out.flush();
        return 0;
    }
}
