package leanladder.server.request;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.settle.SettleTime;
import leanladder.store.Store;
import leanladder.store.requests.FeatureRequest;

/** What a client asks that speaks for a person: why something is not there, to ask for it, and what became of that. */
public record MyFeatureRequestRoutes(Store store, Timeline timeline, QueryContext.Reader queries, ClientSecret secret)
        implements RouteGroup {
    private static final int MOST = 500;

    /** A request as the person sees it who made it. @param words what became of it */
    public record MyRequest(
            long id, String setting, String title, Instant asked, FeatureRequest.RequestState state, String words) {}

    /** All requests of a person, the newest first. */
    public record MyRequests(String account, List<MyRequest> requests) {}

    /** Why something is not there for a person, in a sentence for that person. */
    public record Reason(String setting, String words) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/suite/accounts/{id}/reasons/{setting}", this::reason, Reason.class);
        routeRegistry.get(
                "/suite/accounts/{id}/requests",
                requestContext -> own(requestContext.path("id"), requestContext),
                MyRequests.class);
        routeRegistry.post("/suite/accounts/{id}/requests", this::ask, this::asked, MyRequests.class);
    }

    private Response reason(RequestContext requestContext) {
        secret.check(requestContext);
        QueryContext queryContext = queries.read(requestContext.query(Set.of("workspace")));
        Account account = queryContext.account(requestContext.path("id"));
        Setting setting = queryContext.setting(requestContext.path("setting"));
        return Response.of(new Reason(
                setting.key(),
                FeatureRequestWatcher.why(
                        queryContext, account, setting, queryContext.question().workspace())));
    }

    private Response ask(RequestContext requestContext) throws IOException {
        secret.check(requestContext);
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        QueryContext queryContext = queries.read(QueryParameters.none());
        Account account = queryContext.account(requestContext.path("id"));
        Optional<String> key = jsonRequestBody.text("setting", Limits.NAME);
        Optional<String> workspace = jsonRequestBody.text("workspace", Limits.NAME);
        Optional<String> words = jsonRequestBody.text("words", Limits.NOTE);
        if (key.isEmpty() && jsonRequestBody.defects().isEmpty())
            jsonRequestBody.defects().add("/setting", "is missing");
        Optional<Setting> setting = key.flatMap(queryContext.estate().catalogue()::setting);
        if (key.isPresent() && setting.isEmpty())
            jsonRequestBody.defects().add("/setting", "names \"" + key.get() + "\", which the catalogue does not have");
        workspace
                .filter(w -> queryContext.estate().workspace(w).isEmpty())
                .ifPresent(
                        w -> jsonRequestBody.defects().add("/workspace", "names \"" + w + "\", which does not exist"));
        JsonNode wanted = jsonRequestBody.member("wanted").map(JsonCursor::node).orElse(Json.NODES.booleanNode(true));
        setting.ifPresent(s ->
                s.type().read(wanted, defect -> jsonRequestBody.defects().add("/wanted", defect)));
        jsonRequestBody.refuseDefects();
        FeatureRequest asking = new FeatureRequest(
                0,
                account.id(),
                setting.orElseThrow().key(),
                workspace,
                wanted,
                words.orElse(""),
                timeline.now(),
                FeatureRequest.RequestState.OPEN,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
        if (FeatureRequestWatcher.isGranted(queryContext.snapshot(), timeline.now(), asking))
            throw ProblemException.refused(
                    409,
                    "There already",
                    setting.get().title()
                            + " is there for this person already; it may still be on its way to the page.");
        long id = store.requests()
                .ask(requestContext.writeRequest(), account.id(), asking.setting(), workspace, wanted, asking.words());
        return asked(id);
    }

    private Response asked(long id) {
        FeatureRequest request = store.requests().find(id).orElseThrow();
        return Response.created(own(request.account(), List.of(request)));
    }

    private Response own(String account, RequestContext requestContext) {
        secret.check(requestContext);
        requestContext.query(Set.of());
        if (queries.read(QueryParameters.none()).estate().account(account).isEmpty())
            throw ProblemException.unknown("There is no account \"" + account + "\".");
        return Response.of(own(account, store.requests().of(account, MOST)));
    }

    private MyRequests own(String account, List<FeatureRequest> requests) {
        QueryContext queryContext = queries.read(QueryParameters.none());
        List<MyRequest> own = new ArrayList<>();
        FeatureRequestText words = new FeatureRequestText(queryContext.estateFormatter(), timeline.now());
        for (FeatureRequest request : requests) {
            Optional<Setting> setting = queryContext.estate().catalogue().setting(request.setting());
            own.add(new MyRequest(
                    request.id(),
                    request.setting(),
                    setting.map(Setting::title).orElse(request.setting()),
                    request.asked(),
                    request.state(),
                    words.of(request, setting.map(SettleTime::from).orElse(SettleTime.AT_ONCE))));
        }
        return new MyRequests(account, own);
    }
}
