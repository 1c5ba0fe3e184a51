package leanladder.server.request;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Workspace;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.mail.Mailer;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.store.Store;
import leanladder.store.requests.FeatureRequest;
import leanladder.store.requests.RequestTable;

/** What people ask for that is off for them, with the answer worked out; granted by whatever edit brings it, or declined here. */
public record FeatureRequestRoutes(Store store, Timeline timeline, QueryContext.Reader queries, Mailer mailer)
        implements RouteGroup, TodoSource {
    private static final int SHOWN = 100;
    private static final int MOST = 500;

    /** How many of a unit ask for the same. */
    public record AlikeUnit(String unit, int requests) {}

    /**
     * A request.
     *
     * @param value what is wanted, in words @param inWorkspace the name of the workspace in which it is wanted
     * @param words what the person says about it; can be empty
     * @param why it is not there for the person now; empty where the account or the setting is no more
     * @param alike who else asks for the same, by unit
     */
    public record RequestLine(
            long id,
            String account,
            String name,
            String unit,
            String setting,
            String title,
            Optional<String> app,
            @SchemaRef("Value") JsonNode wanted,
            String value,
            Optional<String> workspace,
            Optional<String> inWorkspace,
            String words,
            Instant asked,
            FeatureRequest.RequestState state,
            Optional<Instant> answered,
            Optional<String> by,
            Optional<String> sentence,
            Optional<Long> change,
            String why,
            List<AlikeUnit> alike) {}

    /** A page of requests: of those that are open, the oldest first, or of all of them, the newest first. @param next where the next page begins */
    public record RequestList(List<RequestLine> requests, Optional<Long> next) {}

    /** A request, and all that are open for the same setting, the oldest first. */
    public record RequestPage(RequestLine request, List<RequestLine> alike) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/requests", this::list, RequestList.class);
        routeRegistry.get("/requests/{id}", this::one, RequestPage.class);
        routeRegistry.post("/requests/{id}/declines", this::decline, this::again, RequestList.class);
    }

    private Response list(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("which", "before", "after", "limit", "account"));
        boolean all = queryParameters
                .word("which", List.of("open", "all"))
                .filter("all"::equals)
                .isPresent();
        int limit = queryParameters.number("limit", SHOWN, MOST);
        Optional<String> account = queryParameters.one("account");
        if (account.isPresent())
            return Response.of(new RequestList(lines(store.requests().of(account.get(), limit)), Optional.empty()));
        List<FeatureRequest> page = all
                ? store.requests().before(queryParameters.number("before", Integer.MAX_VALUE, Integer.MAX_VALUE), limit)
                : store.requests().open(queryParameters.number("after", 0, Integer.MAX_VALUE), limit);
        return Response.of(new RequestList(
                lines(page),
                page.size() < limit
                        ? Optional.empty()
                        : Optional.of(page.get(limit - 1).id())));
    }

    private Response one(RequestContext requestContext) {
        FeatureRequest request = request(requestContext.number("id", "request"));
        List<FeatureRequest> alike = store.requests().openFor(request.setting(), MOST);
        List<RequestLine> lines = lines(alike);
        return Response.of(new RequestPage(
                lines.stream()
                        .filter(line -> line.id() == request.id())
                        .findFirst()
                        .orElseGet(() -> lines(List.of(request)).get(0)),
                lines));
    }

    private List<RequestLine> lines(List<FeatureRequest> requests) {
        QueryContext queryContext = queries.read(QueryParameters.none());
        Map<String, Map<String, Integer>> units = new LinkedHashMap<>();
        for (FeatureRequest request : requests)
            if (request.state() == FeatureRequest.RequestState.OPEN)
                units.computeIfAbsent(request.setting(), s -> new TreeMap<>())
                        .merge(unit(queryContext, request.account()), 1, Integer::sum);
        return requests.stream().map(r -> line(queryContext, r, units)).toList();
    }

    private RequestLine line(
            QueryContext queryContext, FeatureRequest request, Map<String, Map<String, Integer>> units) {
        Optional<Account> account = queryContext.estate().account(request.account());
        Optional<Setting> setting = queryContext.estate().catalogue().setting(request.setting());
        String unit = unit(queryContext, request.account());
        Map<String, Integer> alike = new TreeMap<>(units.getOrDefault(request.setting(), Map.of()));
        if (request.state() == FeatureRequest.RequestState.OPEN)
            alike.computeIfPresent(unit, (u, n) -> n == 1 ? null : n - 1);
        return new RequestLine(
                request.id(),
                request.account(),
                account.map(Account::displayName).orElse(request.account()),
                unit,
                request.setting(),
                setting.map(Setting::title).orElse(request.setting()),
                setting.flatMap(queryContext::app),
                request.wanted(),
                setting.map(s -> words(queryContext, s, request.wanted())).orElse(""),
                request.workspace(),
                request.workspace().flatMap(queryContext.estate()::workspace).map(Workspace::name),
                request.words(),
                request.asked(),
                request.state(),
                request.answered(),
                request.by(),
                request.sentence(),
                request.change(),
                account.filter(Account::active)
                        .flatMap(a ->
                                setting.map(s -> FeatureRequestWatcher.why(queryContext, a, s, request.workspace())))
                        .orElse(""),
                alike.entrySet().stream()
                        .map(e -> new AlikeUnit(e.getKey(), e.getValue()))
                        .toList());
    }

    private static String unit(QueryContext queryContext, String account) {
        return queryContext
                .estate()
                .account(account)
                .map(a -> queryContext.directory().tree().path(a.unit()).stream()
                        .skip(1)
                        .map(u -> u.name())
                        .collect(Collectors.joining(" / ")))
                .orElse("");
    }

    private static String words(QueryContext queryContext, Setting setting, JsonNode wanted) {
        Optional<Value> value = setting.type().read(wanted, defect -> {});
        return value.map(v -> queryContext.estateFormatter().value(setting, v)).orElse("");
    }

    private Response decline(RequestContext requestContext) throws IOException {
        long id = requestContext.number("id", "request");
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Optional<String> sentence =
                jsonRequestBody.text("sentence", Limits.NOTE).map(String::strip);
        if (sentence.filter(s -> !s.isEmpty()).isEmpty()
                && jsonRequestBody.defects().isEmpty())
            jsonRequestBody.defects().add("/sentence", "is missing: the person reads why");
        jsonRequestBody.refuseDefects();
        FeatureRequest request = request(id);
        if (request.state() != FeatureRequest.RequestState.OPEN)
            throw ProblemException.refused(
                    409, "Answered", "This request was " + request.state().word() + " meanwhile.");
        var asking = requestContext.writeRequest();
        store.requests().decline(asking, id, asking.actor(), sentence.orElseThrow());
        FeatureRequestWatcher.write(store, mailer, timeline.present(), id, timeline.now());
        return again(id);
    }

    private Response again(long id) {
        return Response.of(new RequestList(lines(List.of(request(id))), Optional.empty()));
    }

    private FeatureRequest request(long id) {
        return store.requests()
                .find(id)
                .orElseThrow(() -> ProblemException.unknown("There is no request \"" + id + "\"."));
    }

    /** What people ask for, one matter for each feature. */
    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        List<TodoItem> matters = new ArrayList<>();
        for (RequestTable.OpenRequests open : store.requests().openBySetting()) {
            FeatureRequest first = open.first();
            String key = open.setting();
            String name = queryContext
                    .estate()
                    .account(first.account())
                    .map(Account::displayName)
                    .orElse(first.account());
            String others = open.count() == 1
                    ? " asks"
                    : open.count() == 2
                            ? " and one other ask"
                            : String.format(Locale.ROOT, " and %,d others ask", open.count() - 1);
            matters.add(new TodoItem(
                    TodoItem.Topic.REQUEST,
                    "request:" + key + ":" + open.last(),
                    name + others + " for “"
                            + queryContext
                                    .estate()
                                    .catalogue()
                                    .setting(key)
                                    .map(Setting::title)
                                    .orElse(key) + "”.",
                    "/today/requests/" + first.id(),
                    Optional.empty()));
        }
        return matters;
    }
}
