package leanladder.server.seat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.edit.seat.PutRule;
import leanladder.edit.seat.RemoveRule;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.reach.Directory;
import leanladder.seat.Allocation;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.text.PluralText;
import leanladder.workingcopy.IdGenerator;
import org.roaringbitmap.RoaringBitmap;

/**
 * The edit that takes one component of a licence plan from some accounts. A component is gone only when every rule that holds the account
 * leaves it out (resolution.md, section 6). So each rule that grants it to them leaves it out, and a rule for a new group gives it back to
 * the others.
 */
public record ComponentExclusionRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final int MOST_OTHERS = 20_000;
    private static final PluralText PEOPLE = new PluralText("one account", "# accounts");

    /** What takes the component away. @param losing how many lose it @param group the new group for the others, where there are any */
    public record ComponentExclusion(
            @SchemaRef("Edit") JsonNode edit, String words, int losing, Optional<String> group, int others) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.postReadOnly("/plans/{plan}/component-exclusions", this::exclusion, ComponentExclusion.class);
    }

    private Response exclusion(RequestContext requestContext) throws IOException {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        String id = requestContext.path("plan");
        Allocation allocation = queryContext
                .instantResolution()
                .entitlements()
                .allocation(id)
                .orElseThrow(() -> ProblemException.unknown("There is no plan \"" + id + "\"."));
        JsonRequestBody body = requestContext.sent(Limits.BATCH);
        Optional<JsonCursor> named = body.root().required("component");
        Optional<String> component = named.flatMap(JsonCursor::text);
        component
                .filter(c -> !allocation.plan().components().contains(c))
                .ifPresent(c -> named.get().defect("is no component of this plan"));
        RoaringBitmap chosen = new RoaringBitmap();
        for (JsonCursor account : body.root().items("accounts"))
            account.text()
                    .flatMap(queryContext.estate()::account)
                    .map(Account::id)
                    .ifPresentOrElse(
                            a -> chosen.add(queryContext.directory().number(a)),
                            () -> account.defect("names no account that exists"));
        body.refuseDefects();
        return Response.of(new Exclusion(queryContext, allocation, component.orElseThrow(), chosen).told());
    }

    private record Exclusion(QueryContext queryContext, Allocation allocation, String component, RoaringBitmap chosen) {
        ComponentExclusion told() {
            Plan plan = allocation.plan();
            Directory directory = queryContext.directory();
            String name = queryContext.estate().catalogue().entitlements().getOrDefault(component, component);
            RoaringBitmap carrying = allocation.carrying(component);
            RoaringBitmap losing = RoaringBitmap.and(carrying, chosen);
            if (losing.isEmpty())
                throw ProblemException.refused(
                        422, "Nothing to take", "None of them has " + name + " through " + plan.name() + ".");
            List<Integer> altered = new ArrayList<>();
            RoaringBitmap otherwise = new RoaringBitmap();
            RoaringBitmap touched = new RoaringBitmap();
            for (int i = 0; i < plan.rules().size(); i++) {
                Plan.Rule rule = plan.rules().get(i);
                boolean grants = rule.assignment().include()
                        && rule.assignment()
                                .window()
                                .holds(queryContext.question().at())
                        && !rule.off().contains(component);
                if (!grants) continue;
                RoaringBitmap held = directory.holding(rule.assignment().target());
                if (RoaringBitmap.intersects(held, losing)) {
                    altered.add(i);
                    touched.or(held);
                } else otherwise.or(held);
            }
            RoaringBitmap others = RoaringBitmap.and(RoaringBitmap.andNot(carrying, losing), touched);
            others.andNot(otherwise);
            if (others.getCardinality() > MOST_OTHERS)
                throw ProblemException.refused(
                        422,
                        "Too many others",
                        "Its rules grant " + name + " to " + others.getCardinality()
                                + " others too; give it by a rule of its own first.");
            ObjectNode batch = Json.NODES.objectNode().put("kind", BatchEdit.KIND.name());
            batch.put("source", "leaving out " + name);
            ArrayNode edits = batch.putArray("edits");
            leaveOut(plan, altered, edits);
            Optional<String> group =
                    others.isEmpty() ? Optional.empty() : Optional.of(giveBack(plan, name, others, edits));
            return new ComponentExclusion(
                    batch,
                    words(name, losing, altered, group, others),
                    losing.getCardinality(),
                    group,
                    others.getCardinality());
        }

        /** From the last to the first, so that the rule below is there as it will be. */
        private void leaveOut(Plan plan, List<Integer> altered, ArrayNode edits) {
            List<JsonNode> rules = new ArrayList<>();
            plan.source().path("rules").forEach(rules::add);
            for (int at = altered.size() - 1; at >= 0; at--) {
                int i = altered.get(at);
                JsonNode was = rules.get(i);
                ObjectNode is = was.deepCopy();
                ArrayNode off = is.putArray("off");
                was.path("off").forEach(off::add);
                off.add(component);
                edits.add(edit(RemoveRule.KIND.name(), plan, was));
                ObjectNode put = edit(PutRule.KIND.name(), plan, is);
                if (i + 1 < rules.size()) put.set("above", rules.get(i + 1));
                edits.add(put);
                rules.set(i, is);
            }
        }

        private String giveBack(Plan plan, String name, RoaringBitmap others, ArrayNode edits) {
            String called = plan.name() + " with " + name;
            String id = IdGenerator.generate(
                    called, "group", g -> queryContext.estate().group(g).isPresent());
            ObjectNode add = edits.addObject().put("kind", "add-group");
            ObjectNode group =
                    add.putObject("group").put("id", id).put("name", called).put("purpose", "access");
            ArrayNode members = group.putArray("members");
            others.forEach((int n) ->
                    members.add("account:" + queryContext.directory().account(n).id()));
            ObjectNode rule = Json.NODES.objectNode().put("include", "group:" + id);
            ArrayNode off = rule.putArray("off");
            plan.components().stream().filter(c -> !c.equals(component)).forEach(off::add);
            if (off.isEmpty()) rule.remove("off");
            edits.add(edit(PutRule.KIND.name(), plan, rule));
            return called;
        }

        private static ObjectNode edit(String kind, Plan plan, JsonNode rule) {
            ObjectNode edit = Json.NODES.objectNode().put("kind", kind).put("plan", plan.id());
            edit.set("rule", rule);
            return edit;
        }

        private static String words(
                String name,
                RoaringBitmap losing,
                List<Integer> altered,
                Optional<String> group,
                RoaringBitmap others) {
            String rules = altered.stream().map(i -> String.valueOf(i + 1)).collect(Collectors.joining(", "));
            return capital(PEOPLE.of(losing.getCardinality())) + (losing.getCardinality() == 1 ? " loses " : " lose ")
                    + name + ": " + (altered.size() == 1 ? "rule " : "rules ") + rules
                    + (altered.size() == 1 ? " leaves" : " leave") + " it out"
                    + group.map(g -> ", and the new group “" + g + "” gives it back to "
                                    + PEOPLE.of(others.getCardinality())
                                    + ". Who is included later gets it only as a member of that group")
                            .orElse("")
                    + ".";
        }

        private static String capital(String text) {
            return text.substring(0, 1).toUpperCase(java.util.Locale.UK) + text.substring(1);
        }
    }
}
