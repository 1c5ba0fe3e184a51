package leanladder.server.explain;

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
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.json.CodePointOrder;
import leanladder.reach.RungKind;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Climb;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.Outcome;
import leanladder.resolve.Standing;
import leanladder.resolve.Verdict;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.text.ClimbFormatter;

/** Outcomes and climbs, with the field names of the estate format. */
public record OutcomeRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final int LINES = 20_000;

    /** An outcome as a line of the command line's output. */
    public record OutcomeLine(
            String account,
            String setting,
            @SchemaRef("Value") JsonNode value,
            @SchemaRef("Value") JsonNode decided,
            Standing standing,
            RungKind rung,
            Optional<String> policy,
            Optional<String> cappedBy,
            List<@SchemaRef("Need") JsonNode> blockedBy,
            boolean dependsOnWorkspace) {
        static OutcomeLine of(String account, String setting, Outcome outcome) {
            return new OutcomeLine(
                    account,
                    setting,
                    outcome.value().json(),
                    outcome.decided().json(),
                    outcome.standing(),
                    outcome.rung().kind(),
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
            RungKind rung,
            List<String> via,
            Says says,
            @SchemaRef("Value") JsonNode value,
            boolean lock,
            Verdict verdict,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> by) {
        static ClimbLine of(Climb.Entry entry) {
            Statement statement = entry.rankedStatement().statement();
            return new ClimbLine(
                    entry.rankedStatement().policy().id(),
                    entry.matchPath().rung().kind(),
                    entry.matchPath().via(),
                    Says.of(statement),
                    statement.value().json(),
                    statement instanceof Statement.Set set && set.lock(),
                    entry.verdict(),
                    entry.by());
        }
    }

    /** A need, whether it is met, and by what. */
    public record GateLine(@SchemaRef("Need") JsonNode need, boolean met, String evidence) {}

    /** A climb as the estate format has it. */
    public record ClimbBody(
            OutcomeLine outcome, List<ClimbLine> climb, Optional<String> follows, List<GateLine> gates) {}

    /** A climb, and beside it what a drawing needs. */
    public record ClimbView(@JsonUnwrapped ClimbBody climb, long change, Instant at, ClimbViewModel drawing) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/outcomes", this::outcomes, Outcomes.class);
        routeRegistry.get("/climb", this::climb, ClimbView.class);
    }

    /** Outcomes of the accounts and settings asked for, by account id, then key; of everything where none are named. */
    private Response outcomes(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("app", "after", "limit"), Set.of("account", "setting"));
        QueryContext queryContext = queries.read(queryParameters);
        List<Setting> settings = settings(queryContext, queryParameters);
        List<Account> accounts = accounts(queryContext, queryParameters);
        int fitting = Math.max(1, queryParameters.number("limit", LINES, LINES) / Math.max(1, settings.size()));
        Optional<String> after = queryParameters.one("after");
        List<Account> page = accounts.stream()
                .filter(a -> after.isEmpty() || CodePointOrder.TEXTS.compare(a.id(), after.get()) > 0)
                .limit(fitting + 1L)
                .toList();
        boolean more = page.size() > fitting;
        if (more) page = page.subList(0, fitting);
        ColumnResolver columnResolver = queryContext.instantResolution().columnResolver();
        List<OutcomeLine> lines = new ArrayList<>();
        for (Account account : page) {
            int number = queryContext.directory().number(account.id());
            for (Setting setting : settings)
                lines.add(OutcomeLine.of(
                        account.id(),
                        setting.key(),
                        columnResolver.column(setting.key()).of(number)));
        }
        return Response.of(new Outcomes(
                queryContext.snapshot().change(),
                queryContext.question().at(),
                queryContext.question().workspace(),
                lines,
                more ? Optional.of(page.get(page.size() - 1).id()) : Optional.empty()));
    }

    private static List<Setting> settings(QueryContext queryContext, QueryParameters queryParameters) {
        Catalogue catalogue = queryContext.estate().catalogue();
        List<String> keys = queryParameters.all("setting");
        Optional<String> app = queryParameters.one("app");
        app.filter(a -> !catalogue.apps().containsKey(a)).ifPresent(a -> {
            throw ProblemException.unknown("The catalogue has no app \"" + a + "\".");
        });
        keys.forEach(queryContext::setting);
        return catalogue.settings().values().stream()
                .filter(s -> keys.isEmpty() || keys.contains(s.key()))
                .filter(s -> app.isEmpty() || s.app().equals(app))
                .toList();
    }

    private static List<Account> accounts(QueryContext queryContext, QueryParameters queryParameters) {
        List<String> ids = queryParameters.all("account");
        if (ids.isEmpty())
            return queryContext.estate().accounts().stream()
                    .filter(Account::active)
                    .toList();
        List<Account> asked = new ArrayList<>();
        for (String id : ids) asked.add(queryContext.account(id));
        asked.sort(Comparator.comparing(Account::id, CodePointOrder.TEXTS));
        return asked;
    }

    /** The climb to one outcome, and beside it what a drawing needs: the rungs of this account, names, and words. */
    private Response climb(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("account", "setting"));
        QueryContext queryContext = queries.read(queryParameters);
        Account account = queryContext.account(queryParameters.required("account"));
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        AccountResolver accountResolver = queryContext.instantResolution().climber(account);
        Climb climb = accountResolver.climb(setting);
        ClimbFormatter telling = new ClimbFormatter(queryContext.snapshot().compiledEstate(), climb);
        ClimbBody body = new ClimbBody(
                OutcomeLine.of(account.id(), setting.key(), climb.outcome()),
                climb.entries().stream().map(ClimbLine::of).toList(),
                climb.follows(),
                climb.gates().stream()
                        .map(g -> new GateLine(g.need().source(), g.met(), telling.evidence(g)))
                        .toList());
        return Response.of(new ClimbView(
                body,
                queryContext.snapshot().change(),
                queryContext.question().at(),
                ClimbViewModel.from(queryContext, accountResolver, climb, telling)));
    }
}
