package leanladder.server.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.edit.policy.RemoveAssignment;
import leanladder.edit.seat.RemoveRule;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.estate.Workspace;
import leanladder.json.Json;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.store.Store;
import leanladder.store.requests.FeatureRequest;

/** Where somebody who leaves is still named, and the edit that removes the account from all of it. */
public record DepartureRoutes(QueryContext.Reader queries, Store store) implements RouteGroup {
    private static final int REQUESTS = 500;

    /** Something that names an account. @param words "the policy Night watch" @param removed whether the edit removes the account there */
    public record NamedIn(String words, boolean removed) {}

    /** Where an account is named. @param edit null where there is nothing to remove */
    public record Departure(List<NamedIn> namedIn, Optional<@SchemaRef("Edit") JsonNode> edit) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/accounts/{id}/departure", this::departure, Departure.class);
    }

    private Response departure(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        String id = requestContext.path("id");
        Estate estate = queryContext.estate();
        if (estate.account(id).isEmpty()) throw ProblemException.unknown("There is no account \"" + id + "\".");
        Removal removal = new Removal(id);
        estate.policies().forEach(removal::from);
        queryContext
                .directory()
                .groupsOf(id)
                .forEach(group -> removal.membership(queryContext.directory().group(group)));
        estate.groups().forEach(removal::ownership);
        estate.workspaces().forEach(removal::from);
        estate.plans().forEach(removal::from);
        estate.releases().forEach(release -> removal.from(release, estate));
        long open = store.requests().of(id, REQUESTS).stream()
                .filter(request -> request.state() == FeatureRequest.RequestState.OPEN)
                .count();
        if (open > 0) removal.left(open == 1 ? "one open request" : open + " open requests");
        return Response.of(removal.told());
    }

    /** Gathers what names an account, and the edits that remove it. */
    private static final class Removal {
        private final String id;
        private final String target;
        private final List<NamedIn> namedIn = new ArrayList<>();
        private final ArrayNode edits = Json.NODES.arrayNode();

        Removal(String id) {
            this.id = id;
            this.target = "account:" + id;
        }

        void from(Policy policy) {
            for (JsonNode assignment : policy.source().path("assignments"))
                if (names(assignment)) {
                    edit("the policy " + policy.name(), RemoveAssignment.KIND.name())
                            .put("policy", policy.id())
                            .set("assignment", assignment);
                }
        }

        void membership(Group group) {
            edit("the members of " + group.name(), "remove-members")
                    .put("group", group.id())
                    .putArray("who")
                    .add(target);
        }

        void ownership(Group group) {
            if (group.owners().contains(id))
                without(
                        edit("the owners of " + group.name(), "amend-group")
                                .put("group", group.id())
                                .putObject("members"),
                        "owners",
                        group.owners(),
                        id);
        }

        void from(Workspace workspace) {
            if (workspace.stewards().contains(id))
                without(
                        edit("the stewards of " + workspace.name(), "amend-workspace")
                                .put("workspace", workspace.id())
                                .putObject("members"),
                        "stewards",
                        workspace.stewards(),
                        id);
            if (workspace.members().accounts().contains(id))
                without(
                        edit("the members of " + workspace.name(), "amend-workspace")
                                .put("workspace", workspace.id())
                                .putObject("members"),
                        "members",
                        workspace.members().texts().toList(),
                        target);
        }

        void from(Plan plan) {
            for (JsonNode rule : plan.source().path("rules"))
                if (names(rule))
                    edit("the rules of " + plan.name(), RemoveRule.KIND.name())
                            .put("plan", plan.id())
                            .set("rule", rule);
        }

        void from(Release release, Estate estate) {
            if (release.early().stream().anyMatch(e -> e.to().text().equals(target)))
                left("early access to "
                        + estate.catalogue()
                                .setting(release.setting())
                                .orElseThrow()
                                .title());
        }

        /** What names the account, and keeps its name. */
        void left(String words) {
            namedIn.add(new NamedIn(words, false));
        }

        private boolean names(JsonNode assignment) {
            return assignment.path("include").asText().equals(target)
                    || assignment.path("except").asText().equals(target);
        }

        private ObjectNode edit(String words, String kind) {
            namedIn.add(new NamedIn(words, true));
            return edits.addObject().put("kind", kind);
        }

        private static void without(ObjectNode members, String list, List<String> all, String gone) {
            ArrayNode left = members.putArray(list);
            all.stream().filter(one -> !one.equals(gone)).forEach(left::add);
        }

        Departure told() {
            if (edits.isEmpty()) return new Departure(namedIn, Optional.empty());
            ObjectNode batch = Json.NODES.objectNode().put("kind", BatchEdit.KIND.name());
            batch.put("source", "a departure").set("edits", edits);
            return new Departure(namedIn, Optional.of(batch));
        }
    }
}
