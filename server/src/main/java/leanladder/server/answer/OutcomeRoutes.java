package leanladder.server.answer;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.reach.Height;
import leanladder.resolve.Climb;
import leanladder.resolve.Climber;
import leanladder.resolve.Outcome;
import leanladder.resolve.Solution;
import leanladder.resolve.Standing;
import leanladder.resolve.Verdict;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.tell.ClimbTelling;

/** Outcomes and climbs, with the field names of the estate format. */
public record OutcomeRoutes(Inquiry.Reader inquiries) implements Room {
    private static final int LINES = 20_000;

    /** An outcome as a line of the command line's output. */
    public record OutcomeLine(
            String account,
            String setting,
            @Shape("Value") JsonNode value,
            @Shape("Value") JsonNode decided,
            Standing standing,
            Height rung,
            Optional<String> policy,
            Optional<String> cappedBy,
            List<@Shape("Need") JsonNode> blockedBy,
            boolean dependsOnWorkspace) {
        static OutcomeLine of(String account, String setting, Outcome outcome) {
            return new OutcomeLine(
                    account,
                    setting,
                    outcome.value().json(),
                    outcome.decided().json(),
                    outcome.standing(),
                    outcome.rung().height(),
                    outcome.policy(),
                    outcome.cappedBy(),
                    outcome.blockedBy().stream()
                            .map(Need::source)
                            .map(JsonNode.class::cast)
                            .toList(),
                    outcome.dependsOnWorkspace());
        }
    }

    /** A page of outcomes. @param next to be sent as after; null on the last page */
    public record Outcomes(
            long change, Instant at, Optional<String> workspace, List<OutcomeLine> outcomes, Optional<String> next) {}

    /** What a statement says. */
    public enum Says {
        SET,
        CAP;

        static Says of(Statement statement) {
            return statement instanceof Statement.Cap ? CAP : SET;
        }
    }

    /** A statement of a climb and what became of it. @param by the exception that keeps it away */
    public record ClimbLine(
            String policy,
            Height rung,
            List<String> via,
            Says says,
            @Shape("Value") JsonNode value,
            boolean lock,
            Verdict verdict,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> by) {
        static ClimbLine of(Climb.Weighed weighed) {
            Statement statement = weighed.spoken().statement();
            return new ClimbLine(
                    weighed.spoken().policy().id(),
                    weighed.way().rung().height(),
                    weighed.way().via(),
                    Says.of(statement),
                    statement.value().json(),
                    statement instanceof Statement.Set set && set.lock(),
                    weighed.verdict(),
                    weighed.by());
        }
    }

    /** A need, whether it is met, and by what. */
    public record GateLine(@Shape("Need") JsonNode need, boolean met, String evidence) {}

    /** A climb as the estate format has it. */
    public record ClimbBody(
            OutcomeLine outcome, List<ClimbLine> climb, Optional<String> follows, List<GateLine> gates) {}

    /** A climb, and beside it what a drawing needs. */
    public record ClimbView(@JsonUnwrapped ClimbBody climb, long change, Instant at, Drawing drawing) {}

    @Override
    public void routes(Api api) {
        api.get("/outcomes", this::outcomes, Outcomes.class);
        api.get("/climb", this::climb, ClimbView.class);
    }

    /** Outcomes of the accounts and settings asked for, by account id, then key; of everything where none are named. */
    private Answer outcomes(Call call) {
        Query query = call.query(Query.about("app", "after", "limit"), Set.of("account", "setting"));
        Inquiry inquiry = inquiries.of(query);
        List<Setting> settings = settings(inquiry, query);
        List<Account> accounts = accounts(inquiry, query);
        int fitting = Math.max(1, query.number("limit", LINES, LINES) / Math.max(1, settings.size()));
        Optional<String> after = query.one("after");
        List<Account> page = accounts.stream()
                .filter(a -> after.isEmpty() || CodePointOrder.TEXTS.compare(a.id(), after.get()) > 0)
                .limit(fitting + 1L)
                .toList();
        boolean more = page.size() > fitting;
        if (more) page = page.subList(0, fitting);
        Solution solution = inquiry.moment().solution();
        List<OutcomeLine> lines = new ArrayList<>();
        for (Account account : page) {
            int number = inquiry.directory().number(account.id());
            for (Setting setting : settings)
                lines.add(OutcomeLine.of(
                        account.id(),
                        setting.key(),
                        solution.column(setting.key()).of(number)));
        }
        return Answer.of(new Outcomes(
                inquiry.snapshot().change(),
                inquiry.question().at(),
                inquiry.question().workspace(),
                lines,
                more ? Optional.of(page.get(page.size() - 1).id()) : Optional.empty()));
    }

    private static List<Setting> settings(Inquiry inquiry, Query query) {
        Catalogue catalogue = inquiry.estate().catalogue();
        List<String> keys = query.all("setting");
        Optional<String> app = query.one("app");
        app.filter(a -> !catalogue.apps().containsKey(a)).ifPresent(a -> {
            throw Problem.unknown("The catalogue has no app \"" + a + "\".");
        });
        keys.forEach(inquiry::setting);
        return catalogue.settings().values().stream()
                .filter(s -> keys.isEmpty() || keys.contains(s.key()))
                .filter(s -> app.isEmpty() || s.app().equals(app))
                .toList();
    }

    private static List<Account> accounts(Inquiry inquiry, Query query) {
        List<String> ids = query.all("account");
        if (ids.isEmpty())
            return inquiry.estate().accounts().stream().filter(Account::active).toList();
        List<Account> asked = new ArrayList<>();
        for (String id : ids) asked.add(inquiry.account(id));
        asked.sort(Comparator.comparing(Account::id, CodePointOrder.TEXTS));
        return asked;
    }

    /** The climb to one outcome, and beside it what a drawing needs: the rungs of this account, names, and words. */
    private Answer climb(Call call) {
        Query query = call.query(Query.about("account", "setting"));
        Inquiry inquiry = inquiries.of(query);
        Account account = inquiry.account(query.required("account"));
        Setting setting = inquiry.setting(query.required("setting"));
        Climber climber = inquiry.moment().climber(account);
        Climb climb = climber.climb(setting);
        ClimbTelling telling = new ClimbTelling(inquiry.snapshot().ground(), climb);
        ClimbBody body = new ClimbBody(
                OutcomeLine.of(account.id(), setting.key(), climb.outcome()),
                climb.weighed().stream().map(ClimbLine::of).toList(),
                climb.follows(),
                climb.gates().stream()
                        .map(g -> new GateLine(g.need().source(), g.met(), telling.evidence(g)))
                        .toList());
        return Answer.of(new ClimbView(
                body,
                inquiry.snapshot().change(),
                inquiry.question().at(),
                Drawing.of(inquiry, climber, climb, telling)));
    }
}
