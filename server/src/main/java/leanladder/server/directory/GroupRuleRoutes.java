package leanladder.server.directory;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.directory.UpdateEntity;
import leanladder.estate.Account;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.Directory;
import leanladder.rule.GroupRule;
import leanladder.rule.RuleSyntaxException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.workingcopy.EntityType;
import org.roaringbitmap.RoaringBitmap;

/** Tries the rule of a group while it is typed (resolution.md, section 3, "Groups by rule"). */
public record GroupRuleRoutes(Timeline timeline, QueryContext.Reader queries) implements RouteGroup {
    private static final int TOLD = 8;

    /** Somebody whom a rule fits. */
    public record RuleMatchLine(String id, String name, String unit) {}

    /**
     * What a rule comes to.
     *
     * @param accounts active accounts that it fits @param inactive those that are deactivated
     * @param first some of them, by name
     * @param problem why it is no rule; then it fits nobody
     * @param position the place in the text at which it is none, in code points; empty where the whole is refused
     */
    public record RuleTrial(
            int accounts,
            int inactive,
            List<RuleMatchLine> first,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> problem,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Integer> position) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/group-rule", this::rule, RuleTrial.class);
    }

    private Response rule(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("rule", "group"), Set.of());
        QueryContext queryContext = queries.read(queryParameters);
        GroupRule rule;
        try {
            rule = GroupRule.parse(queryParameters.required("rule"));
        } catch (RuleSyntaxException e) {
            return Response.of(refused(String.valueOf(e.getMessage()), Optional.of(e.position())));
        }
        Optional<RuleTrial> unknown = unknown(rule, queryContext);
        if (unknown.isPresent()) return Response.of(unknown.get());
        Optional<String> group = queryParameters.one("group");
        Optional<String> refusal = group.flatMap(id -> refusal(id, rule, queryContext));
        if (refusal.isPresent()) return Response.of(refused(refusal.get(), Optional.empty()));
        Directory directory = queryContext.directory();
        RoaringBitmap fitting = directory.fitting(rule);
        RoaringBitmap active = RoaringBitmap.and(fitting, directory.active());
        List<Account> first =
                directory.byName(some(active)).stream().limit(TOLD).toList();
        return Response.of(new RuleTrial(
                active.getCardinality(),
                fitting.getCardinality() - active.getCardinality(),
                first.stream()
                        .map(a -> new RuleMatchLine(a.id(), a.displayName(), AccountPage.place(directory, a.unit())))
                        .toList(),
                Optional.empty(),
                Optional.empty()));
    }

    /** Of very many, some: their names are only told as examples. */
    private static RoaringBitmap some(RoaringBitmap all) {
        return all.getCardinality() <= MANY ? all : all.limit(MANY);
    }

    private static final int MANY = 1_000;

    private static RuleTrial refused(String problem, Optional<Integer> position) {
        return new RuleTrial(0, 0, List.of(), Optional.of(problem), position);
    }

    private static Optional<RuleTrial> unknown(GroupRule rule, QueryContext queryContext) {
        Optional<RuleTrial> unit = rule.units()
                .filter(u -> queryContext.estate().unit(u.unit()).isEmpty())
                .findFirst()
                .map(u -> refused("there is no unit \"" + u.unit() + "\"", Optional.of(u.position())));
        return unit.or(() -> rule.groups()
                .filter(g -> queryContext.estate().group(g.group()).isEmpty())
                .findFirst()
                .map(g -> refused("there is no group \"" + g.group() + "\"", Optional.of(g.position()))));
    }

    /** Why a group cannot have a rule, such as a circle of groups. */
    private Optional<String> refusal(String group, GroupRule rule, QueryContext queryContext) {
        var edit = Json.NODES
                .objectNode()
                .put("kind", UpdateEntity.kind(EntityType.GROUP).name());
        edit.put("group", group).putObject("members").put("rule", rule.text());
        Defects defects = new Defects();
        timeline.editSession(queryContext.snapshot()).apply(new JsonCursor(edit, "", defects));
        return defects.all().stream().map(Defect::message).findFirst();
    }
}
