package leanladder.server.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.advise.CatalogueUpdate;
import leanladder.catalogue.Family;
import leanladder.catalogue.Setting;
import leanladder.edit.directory.EntityEdit;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Statement;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.text.EditFormatter;

/** The catalogue, and what a newer version of it from the vendor would change. */
public record CatalogueRoutes(QueryContext.Reader queries, Timeline timeline) implements RouteGroup {
    /** Values of settings that belong together. */
    public record FamilyState(String name, Map<String, JsonNode> values) {}

    /** Settings that are meant to be set together, and the states that they make together. */
    public record FamilyView(String id, String name, List<FamilyState> states) {}

    /** Apps, settings, families, and sizes of hosting from the smallest; settings as the estate file writes them, and whether they can be capped. */
    public record CatalogueView(
            List<NamedRef> apps,
            List<NamedRef> entitlements,
            List<String> sizes,
            List<@SchemaRef("Setting") JsonNode> settings,
            List<FamilyView> families) {}

    /** A setting that the newer version changes. @param words what changes, in sentences */
    public record SettingAmendment(String key, String title, List<String> words) {}

    /**
     * A statement that does not fit the newer version; the edit removes it.
     *
     * @param says what the policy says now, in words
     * @param setting as it will be, as the estate file writes it; missing where it is removed
     */
    public record MisfitStatement(
            String policy,
            String name,
            String key,
            String title,
            String says,
            boolean cap,
            boolean lock,
            Optional<@SchemaRef("Setting") JsonNode> setting) {}

    /**
     * What a newer catalogue changes.
     *
     * @param refusals why parts cannot be applied, in sentences
     * @param edit applies the update, as one batch; missing where nothing differs
     */
    public record CatalogueUpdateView(
            List<NamedRef> added,
            List<SettingAmendment> amended,
            List<NamedRef> removed,
            List<MisfitStatement> misfits,
            List<String> refusals,
            Optional<@SchemaRef("Edit") JsonNode> edit) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/catalogue", this::catalogue, CatalogueView.class);
        routeRegistry.postReadOnly("/catalogue/update", this::update, CatalogueUpdateView.class);
    }

    private Response update(RequestContext requestContext) throws IOException {
        QueryParameters queryParameters = requestContext.query(Set.of("draft", "name"));
        QueryContext queryContext = queries.read(queryParameters);
        JsonRequestBody body = requestContext.sent(Limits.ESTATE);
        // A whole estate file holds a catalogue, too.
        JsonCursor newer = body.root().node().has("catalogue")
                ? body.root().member("catalogue").orElseThrow()
                : body.root();
        CatalogueUpdate update = new CatalogueUpdate(timeline.editSession(queryContext.snapshot()), newer);
        body.refuseDefects();
        return Response.of(
                view(update, queryContext, queryParameters.one("name").orElse("a file")));
    }

    private static CatalogueUpdateView view(CatalogueUpdate update, QueryContext queryContext, String name) {
        EditFormatter editFormatter = new EditFormatter(queryContext.estateFormatter());
        Map<String, List<String>> words = update.edits().stream()
                .filter(applied -> applied.edit() instanceof EntityEdit)
                .collect(Collectors.groupingBy(
                        applied -> ((EntityEdit) applied.edit()).id(),
                        Collectors.mapping(editFormatter::format, Collectors.toList())));
        ArrayNode edits = Json.NODES.arrayNode();
        update.edits().forEach(applied -> edits.add(applied.json()));
        ObjectNode batch = Json.NODES
                .objectNode()
                .put("kind", BatchEdit.KIND.name())
                .put("source", name)
                .set("edits", edits);
        return new CatalogueUpdateView(
                named(update.added()),
                update.amended().keySet().stream()
                        .map(s -> new SettingAmendment(s.key(), s.title(), words.getOrDefault(s.key(), List.of())))
                        .toList(),
                named(update.removed()),
                update.misfits().stream().map(m -> misfit(m, queryContext)).toList(),
                update.refusals().stream().map(r -> r + ".").toList(),
                Optional.<JsonNode>of(batch).filter(b -> !edits.isEmpty()));
    }

    private static List<NamedRef> named(List<Setting> settings) {
        return settings.stream().map(s -> new NamedRef(s.key(), s.title())).toList();
    }

    private static MisfitStatement misfit(CatalogueUpdate.Misfit misfit, QueryContext queryContext) {
        Statement statement = misfit.statement();
        return new MisfitStatement(
                misfit.policy(),
                misfit.policyName(),
                misfit.was().key(),
                misfit.was().title(),
                queryContext.estateFormatter().statement(misfit.was(), statement),
                statement instanceof Statement.Cap,
                statement instanceof Statement.Set set && set.lock(),
                misfit.setting().map(CatalogueRoutes::source));
    }

    private static JsonNode source(Setting setting) {
        return setting.source().deepCopy().put("cappable", setting.strictness().isPresent());
    }

    private Response catalogue(RequestContext requestContext) {
        var catalogue =
                queries.read(requestContext.query(Set.of("draft"))).estate().catalogue();
        List<NamedRef> apps = catalogue.apps().entrySet().stream()
                .sorted(Map.Entry.comparingByValue())
                .map(app -> new NamedRef(app.getKey(), app.getValue()))
                .toList();
        List<JsonNode> settings = new ArrayList<>();
        catalogue.settings().values().forEach(s -> settings.add(source(s)));
        return Response.of(new CatalogueView(
                apps,
                catalogue.entitlements().entrySet().stream()
                        .map(e -> new NamedRef(e.getKey(), e.getValue()))
                        .sorted(java.util.Comparator.comparing(NamedRef::name))
                        .toList(),
                catalogue.sizes(),
                settings,
                catalogue.families().stream().map(CatalogueRoutes::family).toList()));
    }

    private static FamilyView family(Family family) {
        List<FamilyState> states = new ArrayList<>();
        for (Family.State state : family.states()) {
            Map<String, JsonNode> values = new LinkedHashMap<>();
            state.values().forEach((key, value) -> values.put(key, value.json()));
            states.add(new FamilyState(state.name(), values));
        }
        return new FamilyView(family.id(), family.name(), states);
    }
}
