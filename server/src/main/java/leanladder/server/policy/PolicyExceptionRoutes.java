package leanladder.server.policy;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.read.Section;
import leanladder.json.Instants;
import leanladder.reach.Directory;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.store.Store;
import leanladder.store.entities.EntityTable.Version;
import leanladder.store.journal.Change;
import org.roaringbitmap.RoaringBitmap;

/**
 * Every exception of every policy in one list: whom a policy leaves out, and the single accounts that it names, each with its age and
 * who made it so.
 */
public record PolicyExceptionRoutes(Store store, QueryContext.Reader queries) implements RouteGroup, TodoSource {
    private static final Duration SOON = Duration.ofDays(7);

    /** What an exception does. */
    public enum ExceptionKind {
        LEFT_OUT,
        NAMED
    }

    /** Whether an exception holds. */
    public enum ExceptionState {
        HOLDS,
        EARLY,
        OVER,
        PAUSED
    }

    /** The change since which a policy holds an exception without a break. */
    public record ChangeOrigin(long change, Instant at, String author) {}

    /** An exception. @param accounts how many it keeps away now, or lets in @param made missing where a draft adds it */
    public record ExceptionLine(
            String policy,
            String policyName,
            ExceptionKind kind,
            String target,
            String whom,
            int accounts,
            ExceptionState state,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> until,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> from,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<ChangeOrigin> made) {
        private List<String> cells() {
            return CsvResponse.line(
                    kind == ExceptionKind.NAMED ? "named" : "left out",
                    whom,
                    policyName,
                    String.valueOf(accounts),
                    JsonWriter.word(state),
                    from.map(Instant::toString).orElse(""),
                    until.map(Instant::toString).orElse(""),
                    made.map(m -> m.at.toString()).orElse(""),
                    made.map(ChangeOrigin::author).orElse(""));
        }
    }

    /** All exceptions, the oldest first; those that a draft adds come last. */
    public record Exceptions(List<ExceptionLine> exceptions) {}

    /** Windows that end within a week, and policies that were to be looked at again by now. */
    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        Instant now = queryContext.question().at();
        LocalDate today =
                now.atZone(queryContext.estate().organisation().zone()).toLocalDate();
        PolicyFormatter words = new PolicyFormatter(queryContext);
        List<TodoItem> matters = new ArrayList<>();
        for (Policy policy : queryContext.estate().policies()) {
            if (!policy.live()) continue;
            for (Assignment a : policy.assignments())
                a.window()
                        .until()
                        .filter(until -> until.isAfter(now) && !until.isAfter(now.plus(SOON)))
                        .ifPresent(until -> matters.add(new TodoItem(
                                TodoItem.Topic.ENDING,
                                "window:" + policy.id() + ":" + a.target().text() + ":" + until,
                                policy.name() + " ends for " + words.name(a.target()) + " on "
                                        + queryContext.estateFormatter().moment(until) + ".",
                                "/policies/" + policy.id(),
                                Optional.of(until))));
            Instants.day(policy.source().path("review").asText(""))
                    .filter(day -> !day.isAfter(today))
                    .ifPresent(day -> matters.add(new TodoItem(
                            TodoItem.Topic.REVIEW,
                            "review:" + policy.id() + ":" + day,
                            policy.name() + " was to be looked at again by "
                                    + queryContext
                                            .estateFormatter()
                                            .day(day.atStartOfDay(queryContext
                                                            .estate()
                                                            .organisation()
                                                            .zone())
                                                    .toInstant())
                                    + ".",
                            "/policies/" + policy.id(),
                            Optional.empty())));
        }
        return matters;
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/exceptions", this::list, Exceptions.class);
    }

    private Response list(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("format"));
        List<ExceptionLine> all = all(queries.read(queryParameters));
        if (!queryParameters.isCsv()) return Response.of(new Exceptions(all));
        return Response.of(new CsvResponse(
                "exceptions.csv",
                List.of("kind", "whom", "policy", "accounts", "state", "from", "until", "since", "by"),
                AccountPage.lines(all, ExceptionLine::cells)));
    }

    private static boolean isException(Assignment a) {
        return !a.include() || a.target() instanceof Target.AccountTarget;
    }

    private List<ExceptionLine> all(QueryContext queryContext) {
        Instant at = queryContext.question().at();
        List<Policy> policies = queryContext.estate().policies().stream()
                .filter(p -> p.assignments().stream().anyMatch(PolicyExceptionRoutes::isException))
                .toList();
        Map<String, List<Version>> versions = store.parts()
                .versions(
                        Section.POLICIES.member(),
                        policies.stream().map(Policy::id).toList(),
                        queryContext.snapshot().change());
        Map<Long, Optional<Change>> changes = new HashMap<>();
        PolicyFormatter words = new PolicyFormatter(queryContext);
        Directory directory = queryContext.directory();
        List<ExceptionLine> all = new ArrayList<>();
        for (Policy policy : policies) {
            RoaringBitmap reached =
                    queryContext.instantResolution().reachedAnywhere(policy).everyone();
            RoaringBitmap kept = RoaringBitmap.andNot(named(policy, directory, at), reached);
            List<Version> read = versions.getOrDefault(policy.id(), List.of());
            for (Assignment a : policy.assignments()) {
                if (!isException(a)) continue;
                Optional<ChangeOrigin> made = since(a, read)
                        .flatMap(n -> changes.computeIfAbsent(n, store.journal()::change))
                        .map(c -> new ChangeOrigin(c.number(), c.at(), c.author()));
                all.add(new ExceptionLine(
                        policy.id(),
                        policy.name(),
                        a.include() ? ExceptionKind.NAMED : ExceptionKind.LEFT_OUT,
                        a.target().text(),
                        words.name(a.target()),
                        RoaringBitmap.andCardinality(directory.holding(a.target()), a.include() ? reached : kept),
                        state(policy, a, at),
                        a.window().until(),
                        a.window().from(),
                        made));
            }
        }
        all.sort(Comparator.comparingLong(e -> e.made.map(ChangeOrigin::change).orElse(Long.MAX_VALUE)));
        return all;
    }

    /** The change since which every version of the policy has such an assignment; its window may have been altered. */
    private static Optional<Long> since(Assignment a, List<Version> newestFirst) {
        Optional<Long> since = Optional.empty();
        for (Version version : newestFirst) {
            if (!holds(version.body(), a)) break;
            since = Optional.of(version.since());
        }
        return since;
    }

    private static boolean holds(JsonNode policy, Assignment a) {
        for (JsonNode one : policy.path("assignments"))
            if (one.path(a.include() ? "include" : "except")
                    .asText()
                    .equals(a.target().text())) return true;
        return false;
    }

    private static ExceptionState state(Policy policy, Assignment a, Instant at) {
        if (a.window().isOver(at)) return ExceptionState.OVER;
        if (!policy.live()) return ExceptionState.PAUSED;
        return a.window().isEarly(at) ? ExceptionState.EARLY : ExceptionState.HOLDS;
    }

    /** Everyone that a policy's includes name at an instant, whatever its exceptions say. */
    private static RoaringBitmap named(Policy policy, Directory directory, Instant at) {
        RoaringBitmap named = new RoaringBitmap();
        for (Assignment a : policy.assignments())
            if (a.include() && a.window().holds(at)) named.or(directory.holding(a.target()));
        named.and(directory.active());
        return named;
    }
}
