package leanladder.server.policy;

import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.edit.policy.RemovePolicy;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.AccountReach;
import leanladder.reach.MatchPath;
import leanladder.reach.Places;
import leanladder.reach.PolicyReach;
import leanladder.reach.Rung;
import leanladder.resolve.Column;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.NonMatchReason;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.resolve.Verdict;
import leanladder.ripple.Ripple;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.paging.SearchTokens;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** Policies in their ranking, as sentences and whole; whom each reaches, and which reach whom. */
public record PolicyRoutes(QueryContext.Reader queries, Timeline timeline) implements RouteGroup {
    private static final int PEOPLE_SHOWN = 500;
    private static final int MOST_PEOPLE = 5000;

    /** A policy as a sentence. @param forWhom in words @param reaches how many @param inWorkspaces whether it speaks in some */
    public record PolicyLine(
            String id,
            String name,
            Optional<String> description,
            boolean live,
            int statements,
            @JsonProperty("for") String forWhom,
            int reaches,
            boolean inWorkspaces) {}

    /** All policies in their ranking. */
    public record Policies(long change, List<PolicyLine> policies) {}

    /** What a policy says on a setting. */
    public record PolicyStatementView(
            String setting, String title, Optional<String> app, boolean cap, boolean lock, String value) {}

    /** A policy, whole. @param names what its targets are called, by the target as it is written */
    public record PolicyView(
            @JsonUnwrapped PolicyLine line,
            long change,
            @SchemaRef("Policy") JsonNode policy,
            Map<String, String> names,
            List<PolicyStatementView> says) {}

    /** An account that a policy reaches, with the way in, or that it names and does not reach, with the reason. */
    public record Reached(
            String account, String displayName, String unit, Optional<String> way, Optional<String> reason) {}

    /** Whom a policy reaches, and whom not. @param fitting how many of those shown fit the words */
    public record ReachView(int reached, int leftOut, int fitting, List<Reached> people) {}

    /** How many, by what. */
    public record RungCount(String by, int accounts) {}

    /**
     * What a statement comes to.
     *
     * @param adds accounts whose gathered list it adds to, while another statement decides
     * @param unlicensed whether it is blocked for some because they lack a licence
     * @param repeats whether it decides for somebody, and nobody would have another value of the setting without the policy
     */
    public record DoesLine(
            String setting,
            boolean cap,
            int decides,
            int adds,
            List<RungCount> outranked,
            List<RungCount> blocked,
            boolean unlicensed,
            boolean repeats) {}

    /** What a policy's statements come to. */
    public record StatementEffects(int reached, List<DoesLine> does) {}

    /** How a policy stands to one account. */
    public enum PolicyStanding {
        REACHES,
        EXCEPTED,
        EARLY,
        ENDED,
        PAUSED;

        static PolicyStanding of(Verdict verdict) {
            return switch (verdict) {
                case EARLY -> EARLY;
                case ENDED -> ENDED;
                case PAUSED -> PAUSED;
                default -> EXCEPTED;
            };
        }
    }

    /**
     * A policy that reaches an account, or names it and does not.
     *
     * @param way by what it reaches, or would
     * @param reason why it does not
     * @param assignment the one that names the account itself, as it is written
     */
    public record PolicyFor(
            String policy,
            String name,
            PolicyStanding standing,
            String way,
            Optional<String> reason,
            int statements,
            Optional<@SchemaRef("Assignment") JsonNode> assignment) {}

    /** Every policy that reaches an account or leaves it out, in the ranking. */
    public record PoliciesFor(String account, List<PolicyFor> policies) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/policies", this::list, Policies.class);
        routeRegistry.get("/policies/{id}", this::one, PolicyView.class);
        routeRegistry.get("/policies/{id}/reaches", this::reaches, ReachView.class);
        routeRegistry.get("/policies/{id}/does", this::does, StatementEffects.class);
        routeRegistry.get("/accounts/{id}/policies", this::forAccount, PoliciesFor.class);
    }

    private Response list(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        PolicyFormatter words = new PolicyFormatter(queryContext);
        return Response.of(new Policies(
                queryContext.snapshot().change(),
                queryContext.estate().policies().stream()
                        .map(p -> line(p, queryContext, words))
                        .toList()));
    }

    private static PolicyLine line(Policy policy, QueryContext queryContext, PolicyFormatter words) {
        return new PolicyLine(
                policy.id(),
                policy.name(),
                Optional.ofNullable(policy.source().path("description").asText(null)),
                policy.live(),
                policy.statements().size(),
                words.forWhom(policy),
                queryContext.instantResolution().reached(policy).everyone().getCardinality(),
                policy.live()
                        && policy.assignments().stream()
                                .anyMatch(a -> a.include()
                                        && a.place().isPresent()
                                        && a.window()
                                                .holds(queryContext.question().at())));
    }

    private Response one(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Policy policy = policy(queryContext, requestContext.path("id"));
        PolicyFormatter words = new PolicyFormatter(queryContext);
        Map<String, String> names = new LinkedHashMap<>();
        policy.assignments().forEach(a -> {
            names.put(a.target().text(), words.name(a.target()));
            a.in().ifPresent(place -> names.put(place.text(), words.name(place)));
        });
        List<PolicyStatementView> says = new ArrayList<>();
        for (Statement statement : policy.statements()) {
            Setting setting = queryContext.setting(statement.setting());
            says.add(new PolicyStatementView(
                    setting.key(),
                    setting.title(),
                    queryContext.app(setting),
                    statement instanceof Statement.Cap,
                    statement instanceof Statement.Set set && set.lock(),
                    words.estateFormatter().value(setting, statement.value())));
        }
        return Response.of(new PolicyView(
                line(policy, queryContext, words), queryContext.snapshot().change(), policy.source(), names, says));
    }

    private static Policy policy(QueryContext queryContext, String id) {
        return queryContext
                .estate()
                .policy(id)
                .orElseThrow(() -> ProblemException.unknown("There is no policy \"" + id + "\"."));
    }

    /** Everyone a policy reaches, each with the way in; or everyone it names and does not reach, each with the reason. */
    private Response reaches(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("show", "q", "limit", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Policy policy = policy(queryContext, requestContext.path("id"));
        boolean reached =
                !queryParameters.word("show", List.of("reached", "left-out")).equals(Optional.of("left-out"));
        RoaringBitmap in = queryContext.instantResolution().reached(policy).everyone();
        RoaringBitmap out = new RoaringBitmap();
        policy.assignments().stream()
                .filter(Assignment::include)
                .forEach(a -> out.or(queryContext.directory().holding(a.target())));
        out.and(queryContext.directory().active());
        out.andNot(in);
        List<Account> shown = queryContext.directory().byName(reached ? in : out);
        PolicyFormatter words = new PolicyFormatter(queryContext);
        if (queryParameters.isCsv())
            return Response.of(AccountPage.csv(
                    shown,
                    queryContext.directory(),
                    new AccountPage.Extra(reached ? "way in" : "left out because", a -> {
                        Reached one = reached(queryContext, policy, a, reached, words);
                        return one.way.or(one::reason).orElse("");
                    })));
        Predicate<String> fits = SearchTokens.fitting(queryParameters.one("q").orElse(""));
        List<Account> fitting = shown.stream()
                .filter(a -> fits.test(a.displayName() + " " + a.userName()))
                .toList();
        return Response.of(new ReachView(
                in.getCardinality(),
                out.getCardinality(),
                fitting.size(),
                fitting.stream()
                        .limit(queryParameters.number("limit", PEOPLE_SHOWN, MOST_PEOPLE))
                        .map(a -> reached(queryContext, policy, a, reached, words))
                        .toList()));
    }

    private static Reached reached(
            QueryContext queryContext, Policy policy, Account account, boolean reached, PolicyFormatter words) {
        AccountReach accountReach = new AccountReach(queryContext.directory(), account);
        Optional<String> way = reached ? way(queryContext, policy, accountReach).map(words::way) : Optional.empty();
        Optional<String> reason = reached
                ? Optional.empty()
                : Optional.of(missed(queryContext, policy, accountReach)
                        .map(m -> words.estateFormatter().missed(m) + ", else by " + words.way(m.matchPath()))
                        .orElse("not reached"));
        return new Reached(
                account.id(),
                account.displayName(),
                AccountPage.place(queryContext.directory(), account.unit()),
                way,
                reason);
    }

    private static Places places(QueryContext queryContext) {
        return Places.of(queryContext.estate(), queryContext.question().workspace());
    }

    private static Optional<MatchPath> way(QueryContext queryContext, Policy policy, AccountReach accountReach) {
        return accountReach.reach(
                policy.assignments(),
                places(queryContext),
                a -> a.window().holds(queryContext.question().at()));
    }

    private static Optional<NonMatchReason> missed(
            QueryContext queryContext, Policy policy, AccountReach accountReach) {
        return NonMatchReason.find(
                policy,
                accountReach,
                places(queryContext),
                queryContext.question().at());
    }

    /** What is this one in? Every policy that reaches an account, by which way, and those that leave it out, with the reason. */
    private Response forAccount(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Account account = queryContext.account(requestContext.path("id"));
        AccountReach accountReach = new AccountReach(queryContext.directory(), account);
        PolicyFormatter words = new PolicyFormatter(queryContext);
        List<PolicyFor> policies = new ArrayList<>();
        for (Policy policy : queryContext.estate().policies()) {
            Optional<MatchPath> way = policy.live() ? way(queryContext, policy, accountReach) : Optional.empty();
            Optional<NonMatchReason> missed =
                    way.isPresent() ? Optional.empty() : missed(queryContext, policy, accountReach);
            if (way.isEmpty() && missed.isEmpty()) continue;
            policies.add(new PolicyFor(
                    policy.id(),
                    policy.name(),
                    way.isPresent()
                            ? PolicyStanding.REACHES
                            : PolicyStanding.of(missed.get().verdict()),
                    words.way(way.orElseGet(() -> missed.get().matchPath())),
                    missed.map(words.estateFormatter()::missed),
                    policy.statements().size(),
                    naming(policy, "account:" + account.id())));
        }
        return Response.of(new PoliciesFor(account.id(), policies));
    }

    /** The assignment of a policy that names a target itself, as it is written. */
    private static Optional<JsonNode> naming(Policy policy, String target) {
        for (JsonNode assignment : policy.source().path("assignments"))
            if (assignment.path("include").asText().equals(target)
                    || assignment.path("except").asText().equals(target)) return Optional.of(assignment);
        return Optional.empty();
    }

    /** What a policy's statements come to: for how many of those reached each decides, adds, is outranked, or is blocked. */
    private Response does(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Policy policy = policy(queryContext, requestContext.path("id"));
        PolicyReach inWorkspace = queryContext.instantResolution().reached(policy);
        PolicyReach elsewhere = queryContext.instantResolution().reachedAnywhere(policy);
        Set<String> matters = alteredBy(policy, queryContext);
        List<DoesLine> does = new ArrayList<>();
        for (Statement statement : policy.statements()) {
            Setting setting = queryContext.setting(statement.setting());
            PolicyReach reached = setting.openToWorkspaces() ? inWorkspace : elsewhere;
            does.add(new Effect(statement, setting, policy, reached, queryContext, matters.contains(setting.key()))
                    .told());
        }
        return Response.of(new StatementEffects(inWorkspace.everyone().getCardinality(), does));
    }

    /** Keys of the settings that somebody has otherwise only because of a policy, inside workspaces or outside. Costs its ripple. */
    private Set<String> alteredBy(Policy policy, QueryContext queryContext) {
        EditSession editSession = timeline.editSession(queryContext.snapshot());
        ObjectNode removal =
                Json.NODES.objectNode().put("kind", RemovePolicy.KIND.name()).put("policy", policy.id());
        editSession.apply(new JsonCursor(removal, "", new Defects()));
        CompiledEstate without = editSession.compile();
        List<Ripple> ripples = new ArrayList<>(Ripple.inWorkspaces(
                        editSession, without, queryContext.question().at())
                .values());
        ripples.add(new Ripple(editSession, without, queryContext.question()));
        Set<String> keys = new HashSet<>();
        for (Ripple ripple : ripples)
            ripple.moves().forEach(move -> keys.add(move.setting().key()));
        return keys;
    }

    /** One statement, and what it comes to for those whom its policy reaches. */
    private record Effect(
            Statement statement,
            Setting setting,
            Policy policy,
            PolicyReach reached,
            QueryContext inquiry,
            boolean matters) {
        DoesLine told() {
            EstateFormatter estateFormatter = inquiry.estateFormatter();
            PolicyFormatter words = new PolicyFormatter(inquiry, estateFormatter);
            Column column = inquiry.instantResolution().columnResolver().column(setting.key());
            boolean cap = statement instanceof Statement.Cap;
            int decides = 0;
            int adds = 0;
            Map<String, Integer> outranked = new LinkedHashMap<>();
            Map<String, Integer> blocked = new LinkedHashMap<>();
            boolean unlicensed = false;
            for (var onRung : reached.byRung().entrySet())
                for (Segment<Outcome> segment : column.shares()) {
                    int here = RoaringBitmap.andCardinality(segment.accounts(), onRung.getValue());
                    if (here == 0) continue;
                    Outcome outcome = segment.what();
                    Optional<String> by = cap ? outcome.cappedBy() : outcome.policy();
                    if (by.equals(Optional.of(policy.id()))) {
                        decides += here;
                        for (Need need : outcome.blockedBy()) {
                            blocked.merge(estateFormatter.need(need), here, Integer::sum);
                            unlicensed |= need instanceof Need.Entitlement;
                        }
                    } else if (!cap && addsTo(outcome, onRung.getKey())) adds += here;
                    else if (!cap) outranked.merge(words.policy(by).orElse("the built-in value"), here, Integer::sum);
                }
            return new DoesLine(
                    setting.key(),
                    cap,
                    decides,
                    adds,
                    counted(outranked),
                    counted(blocked),
                    unlicensed,
                    decides > 0 && !matters);
        }

        /** Whether a list that another statement decides gathers this one too (resolution.md, section 4, step 4). */
        private boolean addsTo(Outcome outcome, Rung rung) {
            if (setting.merge() != Merge.GATHER) return false;
            boolean locked = outcome.policy()
                    .flatMap(inquiry.estate()::policy)
                    .filter(p -> p.on(setting.key()).anyMatch(s -> s instanceof Statement.Set set && set.lock()))
                    .isPresent();
            boolean mine = statement instanceof Statement.Set set && set.lock();
            int against = rung.compareTo(outcome.rung());
            return !locked || against < 0 || against == 0 && mine;
        }

        private static List<RungCount> counted(Map<String, Integer> counts) {
            return counts.entrySet().stream()
                    .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                    .map(e -> new RungCount(e.getKey(), e.getValue()))
                    .toList();
        }
    }
}
