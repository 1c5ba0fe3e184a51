package leanladder.server.explain;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Strictness;
import leanladder.catalogue.Value;
import leanladder.edit.policy.AddPolicy;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.reach.Places;
import leanladder.reach.PolicyReach;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.ripple.Ripple;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.QueryValues;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/**
 * The edit that gives everybody one value at once, in an emergency: of an ordered setting a cap at its strict end, which binds whatever
 * locks there are; of any other a lock at the organisation (resolution.md, section 4). The policy stands first in the ranking.
 */
public record TurnOffRoutes(QueryContext.Reader queries, Timeline timeline) implements RouteGroup {
    /** Accounts that have another value afterwards, with the reason. */
    public record Deviation(String value, int accounts, String because) {}

    /**
     * What turns a setting off.
     *
     * @param value the value that everybody gets, in words
     * @param capped whether it is a cap; a lock otherwise
     * @param have how many active accounts have the value afterwards
     */
    public record TurnOff(
            @SchemaRef("Edit") JsonNode edit,
            String policy,
            String value,
            boolean capped,
            RippleFormatter.RippleCounts ripple,
            int have,
            List<Deviation> deviations) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/turn-off", this::turnOff, TurnOff.class);
    }

    private Response turnOff(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("setting", "value", "until"), Set.of("except"));
        QueryContext queryContext = queries.read(queryParameters);
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        Optional<Value> end = setting.strictness().map(Strictness::strictEnd);
        Value value = end.or(() -> wanted(setting, queryParameters))
                .orElseThrow(
                        () -> ProblemException.wrongInput(
                                "“" + setting.title()
                                        + "” has no strict end; name the value that everybody shall have with the parameter \"value\"."));
        ObjectNode edit = edit(queryContext, setting, value, queryParameters);
        Defects defects = new Defects();
        EditTrial trial = EditTrial.of(edit, queryContext, queryContext.question(), timeline, defects)
                .orElseThrow(() -> ProblemException.wrongInput(
                        defects.all().stream().map(Defect::message).collect(Collectors.joining("; "))));
        CompiledEstate after = trial.after();
        Ripple ripple = trial.ripple();
        ColumnResolver columns = new ColumnResolver(after, queryContext.question(), ripple.seatsAfter());
        Policy added = after.estate().policies().get(0);
        PolicyReach reach = PolicyReach.compute(
                added.assignments(),
                after.directory(),
                Places.of(after.estate(), queryContext.question().workspace()));
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        int have = 0;
        Map<Deviation, Integer> deviations = new LinkedHashMap<>();
        for (Segment<Outcome> segment : columns.column(setting.key()).shares()) {
            if (segment.what().value().equals(value)) {
                have += segment.accounts().getCardinality();
                continue;
            }
            String words = estateFormatter.value(setting, segment.what().value());
            RoaringBitmap excepted = RoaringBitmap.andNot(segment.accounts(), reach.everyone());
            count(deviations, new Deviation(words, 0, "excepted"), excepted.getCardinality());
            count(
                    deviations,
                    new Deviation(words, 0, because(segment.what(), after, estateFormatter)),
                    segment.accounts().getCardinality() - excepted.getCardinality());
        }
        return Response.of(new TurnOff(
                edit,
                added.name(),
                estateFormatter.value(setting, value),
                end.isPresent(),
                RippleFormatter.counts(ripple),
                have,
                deviations.entrySet().stream()
                        .map(e -> new Deviation(e.getKey().value, e.getValue(), e.getKey().because))
                        .toList()));
    }

    private static Optional<Value> wanted(Setting setting, QueryParameters queryParameters) {
        return queryParameters
                .one("value")
                .map(text -> setting.type()
                        .read(QueryValues.json("value", text), defect -> {
                            throw ProblemException.wrongInput("The parameter \"value\" " + defect + ".");
                        })
                        .orElseThrow());
    }

    private static ObjectNode edit(
            QueryContext queryContext, Setting setting, Value value, QueryParameters queryParameters) {
        String words = queryContext.estateFormatter().value(setting, value);
        ObjectNode policy = Json.NODES.objectNode().put("name", setting.title() + ": " + words + " for everyone");
        ObjectNode statement = policy.putArray("statements").addObject().put("setting", setting.key());
        if (setting.strictness().isPresent()) statement.set("cap", value.json());
        else statement.<ObjectNode>set("set", value.json()).put("lock", true);
        ArrayNode assignments = policy.putArray("assignments");
        ObjectNode everyone = assignments.addObject().put("include", new Target.OrganisationTarget().text());
        queryParameters
                .instant("until", queryContext.estate().organisation().zone())
                .map(Instant::toString)
                .ifPresent(until -> everyone.put("until", until));
        for (String except : queryParameters.all("except")) {
            Target target = Target.asked(except)
                    .filter(t -> t instanceof Target.UnitTarget
                            || t instanceof Target.GroupTarget
                            || t instanceof Target.AccountTarget)
                    .orElseThrow(() -> ProblemException.wrongInput(
                            "The parameter \"except\" must be unit:ID, group:ID or account:ID, but is \"" + except
                                    + "\"."));
            assignments.addObject().put("except", target.text());
        }
        ObjectNode edit = Json.NODES.objectNode().put("kind", AddPolicy.KIND.name());
        edit.set("policy", policy);
        queryContext.estate().policies().stream().findFirst().ifPresent(first -> edit.put("above", first.id()));
        return edit;
    }

    private static void count(Map<Deviation, Integer> deviations, Deviation deviation, int accounts) {
        if (accounts > 0) deviations.merge(deviation, accounts, Integer::sum);
    }

    /** Why an account that the policy reaches has another value. */
    private static String because(Outcome outcome, CompiledEstate after, EstateFormatter estateFormatter) {
        List<String> needs = new ArrayList<>();
        outcome.blockedBy().forEach(need -> needs.add(estateFormatter.need(need)));
        if (!needs.isEmpty()) return "a need is not met: " + String.join(" and ", needs);
        return outcome.policy()
                .flatMap(after.estate()::policy)
                .map(policy -> policy.name() + " decides")
                .orElse("the built-in value is added");
    }
}
