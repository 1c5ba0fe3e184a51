package leanladder.server.explain;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Default;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;

/** A setting as a thing of its own: what it needs, what depends on it, who states something about it, and what comes of that. */
public record SettingRoutes(QueryContext.Reader queries) implements RouteGroup {
    /**
     * A setting in a list.
     *
     * @param stated whether a live policy states something about it
     * @param blocked for how many active accounts a need is not met
     */
    public record SettingLine(String key, String title, boolean stated, boolean openToWorkspaces, int blocked) {}

    /** All settings, in the order of their titles. */
    public record SettingList(List<SettingLine> settings) {}

    /**
     * What a policy states about a setting.
     *
     * @param says "On, locked", "at most customs"
     * @param decides for how many active accounts it decides the value; of a cap, for how many it binds
     */
    public record SettingStatement(String policy, String name, boolean live, boolean cap, String says, int decides) {}

    /** A value, and how many active accounts have it in effect. */
    public record SettingValue(String value, int accounts) {}

    /**
     * A setting.
     *
     * @param builtIn the built-in value in words
     * @param needs what must be met before a value other than the fallback works
     * @param dependents settings that need this one, or follow it
     * @param statements in the order of the ranking
     * @param values the most frequent first
     * @param blocked for how many a need is not met
     */
    public record SettingView(
            String key,
            String title,
            String builtIn,
            List<String> needs,
            List<NamedRef> dependents,
            List<SettingStatement> statements,
            List<SettingValue> values,
            int accounts,
            int blocked) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/settings", this::settings, SettingList.class);
        routeRegistry.get("/settings/{key}", this::setting, SettingView.class);
    }

    private Response settings(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        List<SettingLine> lines = new ArrayList<>();
        for (Setting setting : queryContext.estate().catalogue().settings().values())
            lines.add(new SettingLine(
                    setting.key(),
                    setting.title(),
                    queryContext.estate().policies().stream()
                            .anyMatch(policy -> policy.live()
                                    && policy.on(setting.key()).findAny().isPresent()),
                    setting.openToWorkspaces(),
                    blocked(queryContext, setting)));
        lines.sort(Comparator.comparing(SettingLine::title).thenComparing(SettingLine::key));
        return Response.of(new SettingList(lines));
    }

    private static int blocked(QueryContext queryContext, Setting setting) {
        int blocked = 0;
        if (setting.needs().isEmpty()) return blocked;
        for (Segment<Outcome> segment : queryContext
                .instantResolution()
                .columnResolver()
                .column(setting.key())
                .shares())
            if (!segment.what().blockedBy().isEmpty())
                blocked += segment.accounts().getCardinality();
        return blocked;
    }

    private Response setting(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Setting setting = queryContext.setting(requestContext.path("key"));
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        Catalogue catalogue = queryContext.estate().catalogue();
        Column column = queryContext.instantResolution().columnResolver().column(setting.key());
        Map<String, Integer> decides = new HashMap<>();
        Map<String, Integer> binds = new HashMap<>();
        Map<Value, Integer> values = new HashMap<>();
        int blocked = 0;
        for (Segment<Outcome> segment : column.shares()) {
            int accounts = segment.accounts().getCardinality();
            Outcome outcome = segment.what();
            outcome.policy().ifPresent(policy -> decides.merge(policy, accounts, Integer::sum));
            outcome.cappedBy().ifPresent(policy -> binds.merge(policy, accounts, Integer::sum));
            values.merge(outcome.value(), accounts, Integer::sum);
            if (!outcome.blockedBy().isEmpty()) blocked += accounts;
        }
        List<SettingStatement> statements = new ArrayList<>();
        for (Policy policy : queryContext.estate().policies())
            policy.on(setting.key())
                    .forEach(statement -> statements.add(new SettingStatement(
                            policy.id(),
                            policy.name(),
                            policy.live(),
                            statement instanceof Statement.Cap,
                            estateFormatter.statement(setting, statement),
                            (statement instanceof Statement.Cap ? binds : decides).getOrDefault(policy.id(), 0))));
        return Response.of(new SettingView(
                setting.key(),
                setting.title(),
                builtIn(setting, catalogue, estateFormatter),
                setting.needs().stream().map(estateFormatter::need).toList(),
                catalogue.withDependents(List.of(setting.key())).stream()
                        .filter(other -> catalogue.dependencies(other.key()).contains(setting.key()))
                        .map(other -> new NamedRef(other.key(), other.title()))
                        .toList(),
                statements,
                values.entrySet().stream()
                        .sorted(Map.Entry.<Value, Integer>comparingByValue().reversed())
                        .map(e -> new SettingValue(estateFormatter.value(setting, e.getKey()), e.getValue()))
                        .toList(),
                queryContext.directory().active().getCardinality(),
                blocked));
    }

    private static String builtIn(Setting setting, Catalogue catalogue, EstateFormatter estateFormatter) {
        return setting.builtIn() instanceof Default.Follow follow
                ? "the same as " + catalogue.setting(follow.key()).orElseThrow().title()
                : estateFormatter.value(setting, ((Default.Fixed) setting.builtIn()).value());
    }
}
