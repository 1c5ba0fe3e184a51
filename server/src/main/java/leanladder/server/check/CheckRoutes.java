package leanladder.server.check;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Target;
import leanladder.estate.Workspace;
import leanladder.server.draft.DraftService;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.settle.SettleTime;
import leanladder.store.Store;
import leanladder.store.checks.ArrivalCheck;
import leanladder.store.checks.CheckTable;
import leanladder.store.drafts.Draft;
import leanladder.store.journal.Change;

/**
 * Checks that a change has arrived on people's screens: written with one press, for what is in force or into a draft that carries it, and
 * looked at when it has settled.
 */
public record CheckRoutes(Store store, Timeline timeline, QueryContext.Reader queries, DraftService drafts)
        implements RouteGroup, TodoSource {
    private static final int MOST = 200;
    private static final int RECENT = 100;
    private static final Duration TOLD = Duration.ofDays(7);

    /**
     * A check.
     *
     * @param who a target as the estate file writes it, or everyone
     * @param workspace where, if not everywhere
     * @param words what is expected, for whom, as the start of a sentence
     * @param draft the draft that carries it, until that is published
     * @param due when it is looked at; not known before its draft is published
     * @param found what was found, once it was looked at
     */
    public record CheckLine(
            long id,
            String who,
            String setting,
            Optional<String> workspace,
            String words,
            long change,
            Optional<Long> draft,
            Instant written,
            String by,
            Optional<Instant> due,
            ArrivalCheck.CheckState state,
            Optional<Instant> looked,
            Optional<String> found) {}

    /** Checks, the newest first. */
    public record CheckList(List<CheckLine> checks) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/checks", this::list, CheckList.class);
        routeRegistry.post("/checks", this::write, this::written, CheckList.class);
        routeRegistry.delete("/checks/{id}", this::remove, id -> Response.none());
    }

    private Response list(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("who", "setting", "workspace", "draft"));
        QueryContext queryContext = queries.read(QueryParameters.none());
        CheckTable.CheckQuery checkQuery = new CheckTable.CheckQuery(
                queryParameters.one("who"),
                queryParameters.one("setting"),
                queryParameters.one("workspace"),
                queryParameters.one("draft").map(d -> (long) queryParameters.number("draft", 1, Integer.MAX_VALUE)));
        return Response.of(new CheckList(store.checks().latest(checkQuery, MOST).stream()
                .map(c -> line(queryContext, c))
                .toList()));
    }

    private static CheckLine line(QueryContext queryContext, ArrivalCheck check) {
        return new CheckLine(
                check.id(),
                check.who(),
                check.setting(),
                check.workspace(),
                words(queryContext, check),
                check.change(),
                check.draft(),
                check.written(),
                check.by(),
                check.due(),
                check.state(),
                check.looked(),
                check.words());
    }

    private static String words(QueryContext queryContext, ArrivalCheck check) {
        String what = queryContext
                .estate()
                .catalogue()
                .setting(check.setting())
                .map(Setting::title)
                .orElse(check.setting());
        Optional<Target> target =
                Target.asked(check.who()).filter(t -> queryContext.estate().has(t));
        String whom = target.filter(t -> t instanceof Target.OrganisationTarget).isPresent()
                ? "everyone"
                : target.map(queryContext.estateFormatter()::target).orElse(check.who());
        String where = check.workspace()
                .map(w -> " in "
                        + queryContext
                                .estate()
                                .workspace(w)
                                .map(Workspace::name)
                                .orElse(w))
                .orElse("");
        return "“" + what + "” for " + whom + where;
    }

    private Response write(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Optional<Draft> draft =
                jsonRequestBody.member("draft").flatMap(JsonRequestBody::number).map(drafts::draft);
        Snapshot snapshot = draft.map(d -> drafts.rebased(d).snapshot()).orElseGet(timeline::present);
        CheckTable.CheckSubject checkSubject = about(jsonRequestBody, snapshot);
        Duration most = SettleTime.from(snapshot.estate()
                        .catalogue()
                        .setting(checkSubject.setting())
                        .orElseThrow())
                .most();
        var asking = requestContext.writeRequest();
        if (draft.isPresent())
            return written(store.checks()
                    .write(asking, checkSubject, timeline.change(), draft.get().id(), most));
        return written(store.checks()
                .write(asking, checkSubject, snapshot.change(), settled(checkSubject.setting(), most, timeline.now())));
    }

    /** When the last change that altered a setting for somebody will have settled; now where none is on its way. */
    private Instant settled(String setting, Duration most, Instant now) {
        for (Change change : store.journal().before(timeline.change() + 1, RECENT)) {
            Instant settled = change.at().plus(most);
            if (!settled.isAfter(now)) break;
            boolean alters = change.replacesEstate();
            for (JsonNode move : change.ripple().path("moves"))
                alters |= move.path("setting").asText().equals(setting);
            if (alters) return settled;
        }
        return now;
    }

    /** What is to be looked at, of an estate; refused where it is not there. */
    private static CheckTable.CheckSubject about(JsonRequestBody jsonRequestBody, Snapshot snapshot) {
        Optional<String> who = jsonRequestBody.text("who", Limits.NAME);
        Optional<String> key = jsonRequestBody.text("setting", Limits.NAME);
        Optional<String> workspace = jsonRequestBody.text("workspace", Limits.NAME);
        if (who.isEmpty() && jsonRequestBody.defects().isEmpty())
            jsonRequestBody.defects().add("/who", "is missing");
        if (key.isEmpty() && jsonRequestBody.defects().isEmpty())
            jsonRequestBody.defects().add("/setting", "is missing");
        who.filter(w -> DeliveryChecker.accounts(snapshot, w).isEmpty())
                .ifPresent(w -> jsonRequestBody
                        .defects()
                        .add(
                                "/who",
                                "must be everyone, or an account:ID, unit:ID or group:ID that exists; is \"" + w
                                        + "\""));
        key.filter(k -> snapshot.estate().catalogue().setting(k).isEmpty())
                .ifPresent(k -> jsonRequestBody
                        .defects()
                        .add("/setting", "names \"" + k + "\", which the catalogue does not have"));
        workspace
                .filter(w -> snapshot.estate().workspace(w).isEmpty())
                .ifPresent(
                        w -> jsonRequestBody.defects().add("/workspace", "names \"" + w + "\", which does not exist"));
        jsonRequestBody.refuseDefects();
        return new CheckTable.CheckSubject(who.orElseThrow(), key.orElseThrow(), workspace);
    }

    private Response written(long id) {
        QueryContext queryContext = queries.read(QueryParameters.none());
        return Response.created(
                new CheckList(List.of(line(queryContext, store.checks().find(id).orElseThrow()))));
    }

    private Response remove(RequestContext requestContext) {
        long id = requestContext.number("id", "check");
        if (store.checks().find(id).isEmpty()) throw ProblemException.unknown("There is no check \"" + id + "\".");
        store.checks().remove(requestContext.writeRequest(), id);
        return Response.none();
    }

    /** What was found within the last week: first what has not arrived, then what has. */
    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        List<TodoItem> matters = new ArrayList<>();
        Instant now = queryContext.question().at();
        for (ArrivalCheck check : store.checks().lookedAtSince(now.minus(TOLD), MOST)) {
            matters.add(new TodoItem(
                    check.state() == ArrivalCheck.CheckState.MISSING ? TodoItem.Topic.CHECK : TodoItem.Topic.ARRIVED,
                    "check:" + check.id(),
                    words(queryContext, check) + ": "
                            + check.words()
                                    .map(w -> w.substring(0, 1).toLowerCase(Locale.ROOT) + w.substring(1))
                                    .orElse(""),
                    "/ladder?who=" + check.who() + "&what=setting:" + check.setting()
                            + check.workspace()
                                    .map(w -> "&where=workspace:" + w)
                                    .orElse(""),
                    Optional.empty()));
        }
        return matters;
    }
}
