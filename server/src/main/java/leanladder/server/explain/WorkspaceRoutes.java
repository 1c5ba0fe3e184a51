package leanladder.server.explain;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.estate.Workspace;
import leanladder.reach.Places;
import leanladder.reach.PolicyReach;
import leanladder.reach.Rung;
import leanladder.resolve.Column;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.RankedStatement;
import leanladder.resolve.Segment;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** What a workspace has its own word on, what becomes of that for those who work there, and what its hosting keeps from them. */
public record WorkspaceRoutes(QueryContext.Reader queries) implements RouteGroup {
    /** A statement made for the workspace, be it in force or not. @param value in words */
    public record WorkspaceStatement(String policy, String name, boolean cap, boolean lock, String value) {}

    /** What becomes of it for some members. */
    public enum StatementEffect {
        /** They have another value here than elsewhere. */
        OVERRIDDEN,
        /** A lock further down decides for them, whatever is said here. */
        HELD,
        /** What is said of them in person counts more. */
        PERSONAL,
        /** The hosting is too small for them to have it here, or a trial. */
        UNHOSTED
    }

    /**
     * Members of whom the same is true.
     *
     * @param id tells it from the others of its setting
     * @param value what they have here, in words
     * @param elsewhere what they have where no workspace is asked about, where it differs
     * @param by the policy that decides for them here
     */
    public record WorkspaceEffect(
            String id,
            StatementEffect fate,
            String value,
            Optional<String> elsewhere,
            Optional<String> by,
            Optional<String> byId,
            int accounts) {}

    /**
     * A setting as it stands in a workspace.
     *
     * @param open whether workspaces may have their own word on it
     * @param usual what most members have here, in words
     * @param need what the hosting must be, in words, where it must be something
     */
    public record WorkspaceSetting(
            String key,
            String title,
            Optional<String> app,
            boolean open,
            Optional<String> usual,
            @SchemaRef("Value") Optional<JsonNode> inForce,
            Optional<String> need,
            List<WorkspaceStatement> words,
            List<WorkspaceEffect> fates) {}

    /** A workspace's settings: those open to workspaces, and those that its hosting keeps from its members. */
    public record WorkspaceSettings(long change, String name, int members, List<WorkspaceSetting> settings) {}

    private record Group(
            StatementEffect fate, Value value, Optional<Value> elsewhere, Optional<String> by, RoaringBitmap accounts) {
        boolean isLike(Group other) {
            return fate == other.fate
                    && value.equals(other.value)
                    && elsewhere.equals(other.elsewhere)
                    && by.equals(other.by);
        }

        String id() {
            return String.join(
                    " ",
                    JsonWriter.word(fate),
                    value.json().toString(),
                    elsewhere.map(v -> v.json().toString()).orElse(""),
                    by.orElse(""));
        }
    }

    /** A value that some members have in a workspace and not outside it. */
    record Deviation(Value value, Value elsewhere, Optional<String> by, int accounts) {}

    /** The deviations of one setting in a workspace. Costs the setting's column in the workspace. */
    static List<Deviation> deviations(QueryContext queryContext, Workspace workspace, Setting setting) {
        return groups(queryContext, workspace, setting, members(queryContext, workspace)).stream()
                .filter(g -> g.fate == StatementEffect.OVERRIDDEN)
                .map(g -> new Deviation(g.value, g.elsewhere.orElseThrow(), g.by, g.accounts.getCardinality()))
                .toList();
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/workspaces/{id}/settings", this::settings, WorkspaceSettings.class);
        routeRegistry.get("/workspaces/{id}/people", this::people, AccountPage.PeopleList.class);
    }

    private static Workspace workspace(QueryContext queryContext, String id) {
        return queryContext
                .estate()
                .workspace(id)
                .orElseThrow(() -> ProblemException.unknown("There is no workspace \"" + id + "\"."));
    }

    private static RoaringBitmap members(QueryContext queryContext, Workspace workspace) {
        RoaringBitmap members = queryContext.directory().holding(workspace.members());
        members.and(queryContext.directory().active());
        return members;
    }

    private Response settings(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Workspace workspace = workspace(queryContext, requestContext.path("id"));
        RoaringBitmap members = members(queryContext, workspace);
        List<WorkspaceSetting> settings = new ArrayList<>();
        for (Setting setting : queryContext.estate().catalogue().settings().values()) {
            if (!setting.openToWorkspaces() && hosting(setting).isEmpty()) continue;
            List<Group> groups = groups(queryContext, workspace, setting, members);
            boolean unhosted = groups.stream().anyMatch(g -> g.fate == StatementEffect.UNHOSTED);
            if (setting.openToWorkspaces() || unhosted)
                settings.add(told(queryContext, workspace, setting, members, groups));
        }
        return Response.of(new WorkspaceSettings(
                queryContext.snapshot().change(), workspace.name(), members.getCardinality(), settings));
    }

    private Response people(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("setting", "id", "limit", "after", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Workspace workspace = workspace(queryContext, requestContext.path("id"));
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        RoaringBitmap members = members(queryContext, workspace);
        RoaringBitmap which = queryParameters
                .one("id")
                .map(id -> groups(queryContext, workspace, setting, members).stream()
                        .filter(g -> g.id().equals(id))
                        .findFirst()
                        .map(Group::accounts)
                        .orElseGet(RoaringBitmap::new))
                .orElse(members);
        return Response.of(AccountPage.answer(queryParameters, queryContext.directory(), which));
    }

    private static Optional<Need.Hosting> hosting(Setting setting) {
        return setting.allNeeds()
                .filter(Need.Hosting.class::isInstance)
                .map(Need.Hosting.class::cast)
                .findFirst();
    }

    private static WorkspaceSetting told(
            QueryContext queryContext,
            Workspace workspace,
            Setting setting,
            RoaringBitmap members,
            List<Group> groups) {
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        Optional<Value> usual = there(queryContext, workspace, setting).inForce().entrySet().stream()
                .max(Comparator.comparingInt(e -> RoaringBitmap.andCardinality(e.getValue(), members)))
                .filter(e -> RoaringBitmap.intersects(e.getValue(), members))
                .map(Map.Entry::getKey);
        return new WorkspaceSetting(
                setting.key(),
                setting.title(),
                queryContext.app(setting),
                setting.openToWorkspaces(),
                usual.map(v -> estateFormatter.value(setting, v)),
                usual.map(Value::json),
                hosting(setting).map(estateFormatter::need),
                setting.openToWorkspaces()
                        ? speaking(queryContext, workspace, setting)
                                .map(s -> word(s, setting, estateFormatter))
                                .toList()
                        : List.of(),
                groups.stream()
                        .map(g -> new WorkspaceEffect(
                                g.id(),
                                g.fate,
                                estateFormatter.value(setting, g.value),
                                g.elsewhere.map(v -> estateFormatter.value(setting, v)),
                                g.by.flatMap(queryContext.estate()::policy).map(Policy::name),
                                g.by,
                                g.accounts.getCardinality()))
                        .toList());
    }

    private static WorkspaceStatement word(
            RankedStatement rankedStatement, Setting setting, EstateFormatter estateFormatter) {
        Statement statement = rankedStatement.statement();
        return new WorkspaceStatement(
                rankedStatement.policy().id(),
                rankedStatement.policy().name(),
                statement instanceof Statement.Cap,
                statement instanceof Statement.Set set && set.lock(),
                estateFormatter.value(setting, statement.value()));
    }

    /** The statements on a setting that are made for a workspace now, or for what it runs on. */
    private static Stream<RankedStatement> speaking(QueryContext queryContext, Workspace workspace, Setting setting) {
        Places places = Places.of(queryContext.estate(), Optional.of(workspace.id()));
        Set<Target> here = Stream.concat(places.workspace().stream(), places.hosting().stream())
                .collect(Collectors.toSet());
        return queryContext.snapshot().compiledEstate().statementsOn(setting.key()).stream()
                .filter(s -> s.policy().live()
                        && now(s.policy(), queryContext).stream()
                                .anyMatch(a -> a.include()
                                        && a.place().filter(here::contains).isPresent()));
    }

    private static List<Assignment> now(Policy policy, QueryContext queryContext) {
        return policy.assignments().stream()
                .filter(a -> a.window().holds(queryContext.question().at()))
                .toList();
    }

    private static Column there(QueryContext queryContext, Workspace workspace, Setting setting) {
        EvaluationContext there = new EvaluationContext(queryContext.question().at(), Optional.of(workspace.id()));
        return queryContext.snapshot().resolutionAt(there).columnResolver().column(setting.key());
    }

    /** What becomes of a setting for the members of a workspace, most of them first. */
    private static List<Group> groups(
            QueryContext queryContext, Workspace workspace, Setting setting, RoaringBitmap members) {
        Column there = there(queryContext, workspace, setting);
        Column elsewhere = queryContext
                .snapshot()
                .resolutionAt(EvaluationContext.at(queryContext.question().at()))
                .columnResolver()
                .column(setting.key());
        RoaringBitmap spokenTo = new RoaringBitmap();
        if (setting.openToWorkspaces())
            speaking(queryContext, workspace, setting)
                    .filter(s -> s.statement() instanceof Statement.Set)
                    .map(s -> PolicyReach.compute(
                            now(s.policy(), queryContext),
                            queryContext.directory(),
                            Places.of(queryContext.estate(), Optional.of(workspace.id()))))
                    .forEach(reached -> reached.byRung()
                            .subMap(Rung.HOSTING, true, Rung.WORKSPACE, true)
                            .values()
                            .forEach(spokenTo::or));
        List<Group> groups = new ArrayList<>();
        for (Segment<Outcome> segment : there.shares()) {
            RoaringBitmap here = RoaringBitmap.and(segment.accounts(), members);
            if (here.isEmpty()) continue;
            Outcome outcome = segment.what();
            if (outcome.blockedBy().stream().flatMap(Need::flatten).anyMatch(Need.Hosting.class::isInstance))
                add(groups, StatementEffect.UNHOSTED, outcome, Optional.of(outcome.decided()), here);
            else {
                for (Map.Entry<Value, RoaringBitmap> other : elsewhere.inForce().entrySet())
                    if (!other.getKey().equals(outcome.value()))
                        add(
                                groups,
                                StatementEffect.OVERRIDDEN,
                                outcome,
                                Optional.of(other.getKey()),
                                RoaringBitmap.and(other.getValue(), here));
            }
            RoaringBitmap unheard = RoaringBitmap.and(here, spokenTo);
            if (outcome.rung().compareTo(Rung.HOSTING) < 0)
                add(groups, StatementEffect.HELD, outcome, Optional.empty(), unheard);
            if (outcome.rung().compareTo(Rung.WORKSPACE) > 0)
                add(groups, StatementEffect.PERSONAL, outcome, Optional.empty(), unheard);
        }
        groups.sort(Comparator.comparing((Group g) -> g.fate)
                .thenComparing(Comparator.comparingInt((Group g) -> g.accounts.getCardinality())
                        .reversed()));
        return groups;
    }

    private static void add(
            List<Group> groups,
            StatementEffect statementEffect,
            Outcome outcome,
            Optional<Value> elsewhere,
            RoaringBitmap accounts) {
        if (accounts.isEmpty()) return;
        Group fresh = new Group(statementEffect, outcome.value(), elsewhere, outcome.policy(), accounts);
        groups.stream()
                .filter(fresh::isLike)
                .findFirst()
                .ifPresentOrElse(like -> like.accounts.or(accounts), () -> groups.add(fresh));
    }
}
