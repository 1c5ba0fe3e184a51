package leanladder.server.explain;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import leanladder.catalogue.Setting;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.estate.Workspace;
import leanladder.resolve.RankedStatement;
import leanladder.server.explain.WorkspaceRoutes.Deviation;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;

/** An overview of all workspaces: where values differ from those outside, and what workspaces may decide within which limits. */
public record WorkspaceOverviewRoutes(QueryContext.Reader queries) implements RouteGroup {
    /** At most this many settings of workspaces are compared; each costs a column in that workspace. */
    private static final int MOST = 2000;

    /**
     * A value that members have in a workspace and not outside it.
     *
     * @param by the policy that decides it there
     * @param accounts how many members have it
     */
    public record WorkspaceDeviation(
            String workspace,
            String name,
            String setting,
            String title,
            String value,
            String elsewhere,
            Optional<String> by,
            int accounts) {}

    /** All deviations, by workspace. @param complete whether all workspaces were compared */
    public record WorkspaceDeviations(List<WorkspaceDeviation> deviations, boolean complete) {}

    /** A statement that limits workspaces. @param says "On, locked", "at most customs" */
    public record WorkspaceLimit(String policy, String name, String says) {}

    /** A setting that workspaces may decide. @param limits locks and caps from elsewhere @param deciding how many workspaces have a statement of their own */
    public record OpenSetting(String key, String title, List<WorkspaceLimit> limits, int deciding) {}

    /** All settings that are open to workspaces, by title. */
    public record OpenSettings(List<OpenSetting> settings, int workspaces) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/workspace-deviations", this::deviations, WorkspaceDeviations.class);
        routeRegistry.get("/workspace-openness", this::open, OpenSettings.class);
    }

    private Response deviations(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        List<WorkspaceDeviation> deviations = new ArrayList<>();
        int compared = 0;
        for (Setting setting : openSettings(queryContext))
            for (String id : findWorkspacesWithStatement(queryContext, setting)) {
                if (++compared > MOST) break;
                Workspace workspace = queryContext.estate().workspace(id).orElseThrow();
                EstateFormatter estateFormatter = queryContext.estateFormatter();
                for (Deviation deviation : WorkspaceRoutes.deviations(queryContext, workspace, setting))
                    deviations.add(new WorkspaceDeviation(
                            id,
                            workspace.name(),
                            setting.key(),
                            setting.title(),
                            estateFormatter.value(setting, deviation.value()),
                            estateFormatter.value(setting, deviation.elsewhere()),
                            deviation
                                    .by()
                                    .flatMap(queryContext.estate()::policy)
                                    .map(Policy::name),
                            deviation.accounts()));
            }
        deviations.sort(Comparator.comparing(WorkspaceDeviation::name)
                .thenComparing(WorkspaceDeviation::workspace)
                .thenComparing(WorkspaceDeviation::title)
                .thenComparing(WorkspaceDeviation::value));
        return Response.of(new WorkspaceDeviations(deviations, compared <= MOST));
    }

    private Response open(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        List<OpenSetting> settings = new ArrayList<>();
        for (Setting setting : openSettings(queryContext)) {
            List<WorkspaceLimit> limits = statements(queryContext, setting).stream()
                    .filter(s -> s.policy().assignments().stream()
                            .anyMatch(a -> a.include()
                                    && a.place().isEmpty()
                                    && a.window().holds(queryContext.question().at())))
                    .filter(s -> s.statement() instanceof Statement.Cap
                            || s.statement() instanceof Statement.Set set && set.lock())
                    .map(s -> new WorkspaceLimit(
                            s.policy().id(),
                            s.policy().name(),
                            queryContext.estateFormatter().statement(setting, s.statement())))
                    .toList();
            settings.add(new OpenSetting(
                    setting.key(),
                    setting.title(),
                    limits,
                    findWorkspacesWithStatement(queryContext, setting).size()));
        }
        return Response.of(
                new OpenSettings(settings, queryContext.estate().workspaces().size()));
    }

    private static List<Setting> openSettings(QueryContext queryContext) {
        return queryContext.estate().catalogue().settings().values().stream()
                .filter(Setting::openToWorkspaces)
                .sorted(Comparator.comparing(Setting::title).thenComparing(Setting::key))
                .toList();
    }

    private static List<RankedStatement> statements(QueryContext queryContext, Setting setting) {
        return queryContext.snapshot().compiledEstate().statementsOn(setting.key()).stream()
                .filter(s -> s.policy().live())
                .toList();
    }

    /** The workspaces for which a policy states something about a setting now, directly or through their hosting. */
    private static Set<String> findWorkspacesWithStatement(QueryContext queryContext, Setting setting) {
        Set<Target> places = new HashSet<>();
        for (RankedStatement statement : statements(queryContext, setting))
            statement.policy().assignments().stream()
                    .filter(a -> a.include()
                            && a.window().holds(queryContext.question().at()))
                    .forEach(a -> a.place().ifPresent(places::add));
        Set<String> workspaces = new TreeSet<>();
        for (Workspace workspace : queryContext.estate().workspaces())
            if (places.contains(new Target.WorkspaceTarget(workspace.id()))
                    || workspace
                            .hosting()
                            .filter(h -> places.contains(new Target.HostingTarget(h)))
                            .isPresent()) workspaces.add(workspace.id());
        return workspaces;
    }
}
