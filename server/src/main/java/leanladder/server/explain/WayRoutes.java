package leanladder.server.explain;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.edit.policy.AddPolicy;
import leanladder.edit.policy.PutStatement;
import leanladder.edit.policy.RemoveStatement;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.Directory;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.QueryValues;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import org.roaringbitmap.RoaringBitmap;

/**
 * The ways to set a value for a unit, a group or an account: in the policy that is aimed at exactly this target now, else in a
 * new one; and in policies that name it among others or at another time, with their ripple beside them. Without a value, the ways
 * to say nothing there any more: none, where no policy sets one.
 */
public record WayRoutes(QueryContext.Reader queries, Timeline timeline) implements RouteGroup {
    private static final int OTHERS = 3;

    /**
     * A way.
     *
     * @param first whether the policy is aimed at exactly this target, or is a new one where none is
     * @param fresh whether the policy is new
     * @param refusal why it cannot be done
     * @param brings of an account: whether the value is decided for it then, and is not now
     */
    public record WayLine(
            String name,
            boolean first,
            boolean fresh,
            @SchemaRef("Edit") JsonNode edit,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<RippleFormatter.RippleCounts> ripple,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> refusal,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Boolean> brings) {}

    /** The ways there are. */
    public record Ways(List<WayLine> ways) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/ways", this::ways, Ways.class);
    }

    private Response ways(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("target", "setting", "value"));
        QueryContext queryContext = queries.read(queryParameters);
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        Target target = queryParameters.target("target", queryContext.estate(), true);
        Optional<ObjectNode> statement = queryParameters.one("value").map(text -> {
            ObjectNode one = Json.NODES.objectNode().put("setting", setting.key());
            one.set("set", QueryValues.json("value", text));
            return one;
        });
        List<Policy> exact = new ArrayList<>();
        List<Policy> wider = new ArrayList<>();
        for (Policy policy : queryContext.estate().policies()) {
            boolean sets = policy.on(setting.key()).anyMatch(s -> s instanceof Statement.Set);
            if (!policy.live() || statement.isEmpty() && !sets) continue;
            List<Target> includes = policy.assignments().stream()
                    .filter(Assignment::include)
                    .map(Assignment::target)
                    .toList();
            if (includes.equals(List.of(target))
                    && isInForce(policy, queryContext.question().at())) exact.add(policy);
            else if (includes.contains(target) || sets && reaches(policy, target, queryContext.directory()))
                wider.add(policy);
        }
        Optional<WantedValue> wanted = target instanceof Target.AccountTarget a
                ? queryContext
                        .estate()
                        .account(a.id())
                        .filter(Account::active)
                        .flatMap(account -> statement.flatMap(said -> setting.type()
                                .read(said.get("set"), defect -> {})
                                .map(value -> new WantedValue(account, setting, value))))
                : Optional.empty();
        List<WayLine> ways = new ArrayList<>();
        for (Policy policy : exact) ways.add(way(queryContext, policy, setting, statement, wanted, true));
        statement.ifPresent(said -> ways.add(anew(queryContext, setting, target, said, wanted, exact.isEmpty())));
        for (Policy policy : wider.subList(0, Math.min(OTHERS, wider.size())))
            ways.add(way(queryContext, policy, setting, statement, wanted, false));
        return Response.of(new Ways(ways));
    }

    private static boolean isInForce(Policy policy, Instant at) {
        return policy.assignments().stream()
                .anyMatch(a -> a.include() && a.window().holds(at));
    }

    private static boolean reaches(Policy policy, Target target, Directory directory) {
        return policy.assignments().stream()
                .filter(Assignment::include)
                .anyMatch(a -> RoaringBitmap.intersects(directory.holding(a.target()), directory.holding(target)));
    }

    private WayLine anew(
            QueryContext queryContext,
            Setting setting,
            Target target,
            ObjectNode statement,
            Optional<WantedValue> wanted,
            boolean first) {
        String name = setting.title() + " for " + queryContext.estateFormatter().target(target);
        ObjectNode body = Json.NODES.objectNode().put("name", name);
        body.putArray("statements").add(statement);
        body.putArray("assignments").addObject().put("include", target.text());
        ObjectNode edit = Json.NODES.objectNode().put("kind", AddPolicy.KIND.name());
        edit.set("policy", body);
        return told(queryContext, edit, name, wanted, first, true);
    }

    private WayLine way(
            QueryContext queryContext,
            Policy policy,
            Setting setting,
            Optional<ObjectNode> statement,
            Optional<WantedValue> wanted,
            boolean first) {
        ObjectNode edit = Json.NODES.objectNode();
        if (statement.isPresent()) edit.put("kind", PutStatement.KIND.name()).set("statement", statement.get());
        else
            edit.put("kind", RemoveStatement.KIND.name())
                    .put("setting", setting.key())
                    .put("says", "set");
        edit.put("policy", policy.id());
        return told(queryContext, edit, policy.name(), wanted, first, false);
    }

    private WayLine told(
            QueryContext queryContext,
            ObjectNode edit,
            String name,
            Optional<WantedValue> wanted,
            boolean first,
            boolean fresh) {
        Defects defects = new Defects();
        EditSession editSession = timeline.editSession(queryContext.snapshot());
        if (editSession.apply(new JsonCursor(edit, "", defects)).isEmpty())
            return new WayLine(
                    name,
                    first,
                    fresh,
                    edit,
                    Optional.empty(),
                    Optional.of(defects.all().stream()
                            .map(Defect::message)
                            .findFirst()
                            .orElse("cannot be carried out")),
                    Optional.empty());
        EvaluationContext evaluationContext =
                EvaluationContext.at(queryContext.question().at());
        Ripple ripple = new Ripple(
                editSession,
                editSession.compile(),
                evaluationContext,
                queryContext.snapshot().resolutionAt(evaluationContext).entitlements());
        return new WayLine(
                name,
                first,
                fresh,
                edit,
                Optional.of(RippleFormatter.counts(ripple)),
                Optional.empty(),
                wanted.flatMap(w -> w.brings(queryContext, editSession.compile(), ripple)));
    }

    /** What is wanted for one account. */
    private record WantedValue(Account account, Setting setting, Value value) {
        Optional<Boolean> brings(QueryContext queryContext, CompiledEstate after, Ripple ripple) {
            boolean now = isDecided(queryContext.instantResolution().climber(account), setting);
            boolean then = after.estate()
                    .account(account.id())
                    .filter(a -> isDecided(
                            new AccountResolver(after, queryContext.question(), ripple.seatsAfter(), a), setting))
                    .isPresent();
            return Optional.of(then && !now);
        }

        private boolean isDecided(AccountResolver accountResolver, Setting of) {
            return accountResolver.outcome(of).decided().equals(value);
        }
    }
}
