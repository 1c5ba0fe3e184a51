package leanladder.server.answer;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.catalogue.Kind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.reach.Height;
import leanladder.reach.Rung;
import leanladder.resolve.Climb;
import leanladder.resolve.Climber;
import leanladder.resolve.Outcome;
import leanladder.resolve.Standing;
import leanladder.resolve.Verdict;
import leanladder.server.draft.Inquiry;
import leanladder.tell.ClimbTelling;
import leanladder.tell.Wording;

/**
 * What a drawn ladder shows of a climb, in words: every rung that exists for the account, from the lowest, and what stands on each.
 *
 * @param because the sentence after the answer
 * @param text the whole climb for a ticket
 * @param decidingRung its place among the rungs
 */
public record Drawing(
        String account,
        String setting,
        Optional<String> app,
        Optional<String> help,
        String answer,
        List<Piece> because,
        String value,
        String decided,
        String text,
        List<DrawnRung> rungs,
        int decidingRung,
        BuiltIn builtIn,
        List<DrawnStatement> statements,
        List<DrawnGate> gates) {
    /** A stretch of a sentence; one that names a policy carries its id. */
    public record Piece(String text, Optional<String> policy) {}

    /** A rung that exists for the account. */
    public record DrawnRung(Height height, int depth, String name, String place) {}

    /** A setting that the built-in value follows. */
    public record Followed(String setting, String title, String value) {}

    /** The built-in value and what became of it. */
    public record BuiltIn(
            String value,
            String reason,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Followed> follows) {}

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

    /** Another setting that a gate looks at. @param rung on which it is decided for this account */
    public record Prerequisite(String setting, String title, String value, Height rung, Standing standing) {}

    /** A gate over the ladder. @param on the setting that it looks at, where it looks at one */
    public record DrawnGate(
            String need,
            boolean met,
            String evidence,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Prerequisite> on) {}

    static Drawing of(Inquiry inquiry, Climber climber, Climb climb, ClimbTelling telling) {
        Wording wording = inquiry.wording();
        Setting setting = climb.setting();
        List<DrawnRung> rungs = rungs(inquiry, climber, climb, wording);
        return new Drawing(
                climb.account().displayName(),
                setting.title(),
                inquiry.app(setting),
                Optional.ofNullable(setting.source().path("help").asText(null)),
                telling.answer(),
                telling.because().stream()
                        .map(p -> new Piece(p.text(), p.policy()))
                        .toList(),
                wording.value(setting, climb.outcome().value()),
                wording.value(setting, climb.outcome().decided()),
                telling.text(),
                rungs,
                index(rungs, climb.outcome().rung()),
                builtIn(inquiry, climber, climb, telling, wording),
                climb.weighed().stream()
                        .map(w -> statement(w, setting, rungs, telling, wording))
                        .toList(),
                climb.gates().stream()
                        .map(g -> new DrawnGate(
                                wording.need(g.need()),
                                g.met(),
                                telling.evidence(g),
                                prerequisite(inquiry, climber, g.need(), wording)))
                        .toList());
    }

    private static Optional<Prerequisite> prerequisite(Inquiry inquiry, Climber climber, Need need, Wording wording) {
        Optional<String> key = need instanceof Need.AsLooseAs other
                ? Optional.of(other.setting())
                : need instanceof Need.Is is ? Optional.of(is.setting()) : Optional.empty();
        return key.map(inquiry::setting).map(setting -> {
            Outcome outcome = climber.outcome(setting);
            return new Prerequisite(
                    setting.key(),
                    setting.title(),
                    wording.value(setting, outcome.value()),
                    outcome.rung().height(),
                    outcome.standing());
        });
    }

    private static List<DrawnRung> rungs(Inquiry inquiry, Climber climber, Climb climb, Wording wording) {
        List<DrawnRung> rungs = new ArrayList<>();
        Account account = climb.account();
        rungs.add(rung(Rung.BUILTIN, "Built-in", "the catalogue"));
        List<Unit> path = inquiry.directory().tree().path(account.unit());
        for (int depth = 0; depth < path.size(); depth++)
            rungs.add(rung(
                    Rung.ofUnit(depth),
                    depth == 0 ? "Organisation" : "Unit",
                    path.get(depth).name()));
        int groups = climber.position().groups().size();
        rungs.add(rung(
                Rung.GROUP,
                "Group",
                groups == 0 ? "in no group" : groups == 1 ? "in one group" : "in " + groups + " groups"));
        climb.question()
                .workspace()
                .flatMap(inquiry.estate()::workspace)
                .ifPresent(w -> rungs.add(rung(Rung.WORKSPACE, "Workspace", w.name())));
        String kind = wording.kind(account.kind());
        rungs.add(rung(
                Rung.PERSON,
                account.kind() == Kind.PERSON
                        ? "Person"
                        : kind.substring(0, 1).toUpperCase(Locale.UK) + kind.substring(1),
                account.displayName()));
        return rungs;
    }

    private static DrawnRung rung(Rung rung, String name, String place) {
        return new DrawnRung(rung.height(), rung.depth(), name, place);
    }

    private static BuiltIn builtIn(
            Inquiry inquiry, Climber climber, Climb climb, ClimbTelling telling, Wording wording) {
        Optional<Followed> follows = climb.follows()
                .map(f -> inquiry.estate().catalogue().setting(f).orElseThrow())
                .map(f -> new Followed(
                        f.key(), f.title(), wording.value(f, climber.outcome(f).value())));
        return new BuiltIn(telling.builtInValue(), telling.builtInReason(), follows);
    }

    private static DrawnStatement statement(
            Climb.Weighed w, Setting setting, List<DrawnRung> rungs, ClimbTelling telling, Wording wording) {
        Statement statement = w.spoken().statement();
        return new DrawnStatement(
                index(rungs, w.way().rung()),
                w.spoken().policy().id(),
                w.spoken().policy().name(),
                statement instanceof Statement.Cap,
                statement instanceof Statement.Set set && set.lock(),
                wording.value(setting, statement.value()),
                w.verdict(),
                telling.reason(w),
                w.way().via().stream().map(wording::target).collect(Collectors.joining(" › ")));
    }

    private static int index(List<DrawnRung> rungs, Rung rung) {
        for (int i = 0; i < rungs.size(); i++)
            if (rungs.get(i).height == rung.height() && rungs.get(i).depth == rung.depth()) return i;
        throw new IllegalStateException("The ladder has no rung " + rung);
    }
}
