package leanladder.server.explain;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.Json;
import leanladder.reach.Rung;
import leanladder.reach.RungKind;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Climb;
import leanladder.resolve.Outcome;
import leanladder.resolve.Standing;
import leanladder.resolve.Verdict;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.text.ClimbFormatter;
import leanladder.text.EstateFormatter;

/**
 * What a drawn ladder shows of a climb, in words: every rung that exists for the account, from the lowest, and what stands on each.
 *
 * @param because the sentence after the answer
 * @param text the whole climb for a ticket
 * @param decidingRung its place among the rungs
 * @param partial whether closed gates leave something of what is decided
 */
public record ClimbViewModel(
        String account,
        String setting,
        Optional<String> app,
        Optional<String> help,
        String answer,
        List<TextPiece> because,
        String value,
        String decided,
        boolean partial,
        String text,
        List<DrawnRung> rungs,
        int decidingRung,
        BuiltIn builtIn,
        List<DrawnStatement> statements,
        List<DrawnGate> gates) {
    /** A stretch of a sentence; one that names a policy carries its id. */
    public record TextPiece(String text, Optional<String> policy) {}

    /** A rung that exists for the account. */
    public record DrawnRung(RungKind height, int depth, String name, String place) {}

    /** A setting that the built-in value follows. */
    public record FollowedSetting(String setting, String title, String value) {}

    /** The built-in value and what became of it. */
    public record BuiltIn(
            String value,
            String reason,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<FollowedSetting> follows) {}

    /** A statement on its rung. @param rung its place among the rungs */
    public record DrawnStatement(
            int rung,
            String policy,
            String name,
            boolean cap,
            boolean lock,
            String value,
            Verdict verdict,
            String reason,
            String via) {}

    /**
     * Another setting that a gate looks at.
     *
     * @param rung on which it is decided for this account
     * @param wanted the value that the gate asks for, or the strictest that is loose enough
     */
    public record Prerequisite(
            String setting,
            String title,
            String value,
            RungKind rung,
            Standing standing,
            @SchemaRef("Value") JsonNode wanted) {}

    /** A gate over the ladder. @param on the setting that it looks at, where it looks at one */
    public record DrawnGate(
            String need,
            boolean met,
            String evidence,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Prerequisite> on) {}

    static ClimbViewModel from(
            QueryContext queryContext, AccountResolver accountResolver, Climb climb, ClimbFormatter telling) {
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        Setting setting = climb.setting();
        List<DrawnRung> rungs = rungs(queryContext, accountResolver, climb, estateFormatter);
        return new ClimbViewModel(
                climb.account().displayName(),
                setting.title(),
                queryContext.app(setting),
                Optional.ofNullable(setting.source().path("help").asText(null)),
                telling.answer(),
                telling.because().stream()
                        .map(p -> new TextPiece(p.text(), p.policy()))
                        .toList(),
                estateFormatter.value(setting, climb.outcome().value()),
                estateFormatter.value(setting, climb.outcome().decided()),
                climb.isPartial(),
                telling.text(),
                rungs,
                index(rungs, climb.outcome().rung()),
                builtIn(queryContext, accountResolver, climb, telling, estateFormatter),
                climb.entries().stream()
                        .map(w -> statement(w, setting, rungs, telling, estateFormatter))
                        .toList(),
                climb.gates().stream()
                        .map(g -> new DrawnGate(
                                estateFormatter.need(g.need()),
                                g.met(),
                                telling.evidence(g),
                                prerequisite(queryContext, accountResolver, g.need(), estateFormatter)))
                        .toList());
    }

    private static Optional<Prerequisite> prerequisite(
            QueryContext queryContext, AccountResolver accountResolver, Need need, EstateFormatter estateFormatter) {
        Optional<String> key = Optional.empty();
        Optional<Value> wanted = Optional.empty();
        if (need instanceof Need.MinimumSetting other) {
            key = Optional.of(other.setting());
            wanted = Optional.of(other.value());
        } else if (need instanceof Need.ExactSetting other) {
            key = Optional.of(other.setting());
            wanted = Optional.of(other.value());
        }
        JsonNode value = wanted.map(Value::json).orElse(Json.NODES.nullNode());
        return key.map(queryContext::setting).map(setting -> {
            Outcome outcome = accountResolver.outcome(setting);
            return new Prerequisite(
                    setting.key(),
                    setting.title(),
                    estateFormatter.value(setting, outcome.value()),
                    outcome.rung().kind(),
                    outcome.standing(),
                    value);
        });
    }

    private static List<DrawnRung> rungs(
            QueryContext queryContext, AccountResolver accountResolver, Climb climb, EstateFormatter estateFormatter) {
        List<DrawnRung> rungs = new ArrayList<>();
        Account account = climb.account();
        rungs.add(rung(Rung.BUILTIN, "Built-in", "the catalogue"));
        List<Unit> path = queryContext.directory().tree().path(account.unit());
        for (int depth = 0; depth < path.size(); depth++)
            rungs.add(rung(
                    Rung.ofUnit(depth),
                    depth == 0 ? "Organisation" : "Unit",
                    path.get(depth).name()));
        int groups = accountResolver.accountReach().groups().size();
        rungs.add(rung(
                Rung.GROUP,
                "Group",
                groups == 0 ? "in no group" : groups == 1 ? "in one group" : "in " + groups + " groups"));
        Optional<Workspace> workspace = climb.evaluationContext().workspace().flatMap(queryContext.estate()::workspace);
        workspace
                .flatMap(Workspace::hosting)
                .flatMap(queryContext.estate()::hosting)
                .ifPresent(h -> rungs.add(rung(Rung.HOSTING, "Hosting", h.name())));
        workspace.ifPresent(w -> rungs.add(rung(Rung.WORKSPACE, "Workspace", w.name())));
        String kind = estateFormatter.kind(account.kind());
        rungs.add(rung(
                Rung.PERSON,
                account.kind() == AccountKind.PERSON
                        ? "Person"
                        : kind.substring(0, 1).toUpperCase(Locale.UK) + kind.substring(1),
                account.displayName()));
        return rungs;
    }

    private static DrawnRung rung(Rung rung, String name, String place) {
        return new DrawnRung(rung.kind(), rung.depth(), name, place);
    }

    private static BuiltIn builtIn(
            QueryContext queryContext,
            AccountResolver accountResolver,
            Climb climb,
            ClimbFormatter telling,
            EstateFormatter estateFormatter) {
        Optional<FollowedSetting> follows = climb.follows()
                .map(f -> queryContext.estate().catalogue().setting(f).orElseThrow())
                .map(f -> new FollowedSetting(
                        f.key(),
                        f.title(),
                        estateFormatter.value(f, accountResolver.outcome(f).value())));
        return new BuiltIn(telling.builtInValue(), telling.builtInReason(), follows);
    }

    private static DrawnStatement statement(
            Climb.Entry w,
            Setting setting,
            List<DrawnRung> rungs,
            ClimbFormatter telling,
            EstateFormatter estateFormatter) {
        Statement statement = w.rankedStatement().statement();
        return new DrawnStatement(
                index(rungs, w.matchPath().rung()),
                w.rankedStatement().policy().id(),
                w.rankedStatement().policy().name(),
                statement instanceof Statement.Cap,
                statement instanceof Statement.Set set && set.lock(),
                estateFormatter.value(setting, statement.value()),
                w.verdict(),
                telling.reason(w),
                w.matchPath().via().stream().map(estateFormatter::target).collect(Collectors.joining(" › ")));
    }

    private static int index(List<DrawnRung> rungs, Rung rung) {
        for (int i = 0; i < rungs.size(); i++)
            if (rungs.get(i).height == rung.kind() && rungs.get(i).depth == rung.depth()) return i;
        throw new IllegalStateException("The ladder has no rung " + rung);
    }
}
