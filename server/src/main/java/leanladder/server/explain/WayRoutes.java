package leanladder.server.explain;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.edit.policy.AddPolicy;
import leanladder.edit.policy.PutAssignment;
import leanladder.edit.policy.PutStatement;
import leanladder.edit.policy.RemoveStatement;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.reach.Directory;
import leanladder.reach.Places;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Climb;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
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
import leanladder.text.ClimbFormatter;
import leanladder.text.EstateFormatter;
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
     * @param excepts whether the policy, which locks or caps the setting, no longer applies to the target
     * @param refusal why it cannot be done
     * @param brings of an account: whether the value is decided for it then, and is not now
     * @param leaves how many of those asked about have another value in effect then
     * @param blocked how many of these have it decided, and a gate blocks it
     * @param stays of an account for which it is not in effect then: the sentence that says what is, and why
     */
    public record WayLine(
            String name,
            boolean first,
            boolean fresh,
            boolean excepts,
            @SchemaRef("Edit") JsonNode edit,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<RippleFormatter.RippleCounts> ripple,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> refusal,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Boolean> brings,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Integer> leaves,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Integer> blocked,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> stays) {}

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
        List<Aim> placed = setting.openToWorkspaces() ? placed(target, queryContext) : List.of();
        List<Policy> exactThere = new ArrayList<>();
        List<Policy> exact = new ArrayList<>();
        List<Policy> wider = new ArrayList<>();
        for (Policy policy : queryContext.estate().policies()) {
            boolean sets = policy.on(setting.key()).anyMatch(s -> s instanceof Statement.Set);
            if (!policy.live() || statement.isEmpty() && !sets) continue;
            List<Assignment> aimed =
                    policy.assignments().stream().filter(Assignment::include).toList();
            List<Target> includes = aimed.stream()
                    .filter(a -> a.place().isEmpty())
                    .map(Assignment::target)
                    .toList();
            if (aimed.size() == 1
                    && placed.contains(new Aim(aimed.get(0).whom(), aimed.get(0).place()))) {
                if (isInForce(policy, queryContext.question().at())) exactThere.add(policy);
            } else if (includes.equals(List.of(target))
                    && aimed.size() == 1
                    && isInForce(policy, queryContext.question().at())) exact.add(policy);
            else if (includes.contains(target) && (sets || !(target instanceof Target.AccountTarget))
                    || sets && reaches(policy, target, queryContext.directory())) wider.add(policy);
        }
        Optional<WantedValue> wanted = statement
                .flatMap(said -> setting.type().read(said.get("set"), defect -> {}))
                .map(value -> WantedValue.of(target, setting, value, queryContext));
        // A policy that sets it already comes before those that would begin to.
        exact.sort(Comparator.comparing(
                policy -> policy.on(setting.key()).noneMatch(said -> said instanceof Statement.Set)));
        List<WayLine> ways = new ArrayList<>();
        for (Policy policy : exactThere) ways.add(way(queryContext, policy, setting, statement, wanted, true, true));
        for (Aim aim : placed)
            statement.ifPresent(said -> ways.add(anew(queryContext, setting, aim, said, wanted, ways.isEmpty())));
        boolean outside = ways.isEmpty();
        for (Policy policy : exact) ways.add(way(queryContext, policy, setting, statement, wanted, outside, false));
        statement.ifPresent(said -> ways.add(anew(
                queryContext, setting, new Aim(target, Optional.empty()), said, wanted, outside && exact.isEmpty())));
        for (Policy policy : wider.subList(0, Math.min(OTHERS, wider.size())))
            ways.add(way(queryContext, policy, setting, statement, wanted, false, false));
        if (wanted.isPresent() && !(target instanceof Target.OrganisationTarget))
            queryContext.estate().policies().stream()
                    .filter(policy -> binds(policy, setting, target, queryContext))
                    .limit(OTHERS)
                    .forEach(policy -> ways.add(exception(queryContext, policy, target, wanted)));
        return Response.of(new Ways(ways));
    }

    /** Whom a policy of its own is for, and where; everywhere where no place is named. */
    private record Aim(Target whom, Optional<Target> in) {
        /** The include as it is written: a place stands for everyone there. */
        ObjectNode include() {
            boolean everyone = whom instanceof Target.OrganisationTarget;
            ObjectNode include = Json.NODES
                    .objectNode()
                    .put("include", in.filter(place -> everyone).orElse(whom).text());
            if (!everyone) in.ifPresent(place -> include.put("in", place.text()));
            return include;
        }

        String words(EstateFormatter estateFormatter) {
            boolean everyone = whom instanceof Target.OrganisationTarget;
            return in.map(place -> everyone
                            ? estateFormatter.target(place)
                            : estateFormatter.target(whom) + " in " + estateFormatter.target(place))
                    .orElseGet(() -> estateFormatter.target(whom));
        }
    }

    /** The same in the question's workspace, and on the hosting that it shares with others. */
    private static List<Aim> placed(Target target, QueryContext queryContext) {
        Places places = Places.of(queryContext.estate(), queryContext.question().workspace());
        return Stream.concat(places.workspace().stream(), places.hosting().stream())
                .map(place -> new Aim(target, Optional.of(place)))
                .toList();
    }

    /** Whether a policy locks or caps a setting for some of a target, without being aimed at it alone. */
    private static boolean binds(Policy policy, Setting setting, Target target, QueryContext queryContext) {
        return policy.live()
                && policy.on(setting.key())
                        .anyMatch(s -> s instanceof Statement.Cap || s instanceof Statement.Set set && set.lock())
                && policy.assignments().stream()
                        .noneMatch(a -> a.place().isEmpty() && a.target().equals(target))
                && reaches(policy, target, queryContext.directory());
    }

    private WayLine exception(QueryContext queryContext, Policy policy, Target target, Optional<WantedValue> wanted) {
        ObjectNode edit =
                Json.NODES.objectNode().put("kind", PutAssignment.KIND.name()).put("policy", policy.id());
        edit.putObject("assignment").put("except", target.text());
        return told(queryContext, edit, policy.name(), wanted, false, false, false);
    }

    private static boolean excepts(ObjectNode edit) {
        return edit.path("kind").asText().equals(PutAssignment.KIND.name());
    }

    private static boolean isInForce(Policy policy, Instant at) {
        return policy.assignments().stream()
                .anyMatch(a -> a.include() && a.window().holds(at));
    }

    private static boolean reaches(Policy policy, Target target, Directory directory) {
        return policy.assignments().stream()
                .filter(a -> a.include() && a.place().isEmpty())
                .anyMatch(a -> RoaringBitmap.intersects(directory.holding(a.target()), directory.holding(target)));
    }

    private WayLine anew(
            QueryContext queryContext,
            Setting setting,
            Aim aim,
            ObjectNode statement,
            Optional<WantedValue> wanted,
            boolean first) {
        String name = setting.title() + " for " + aim.words(queryContext.estateFormatter());
        ObjectNode body = Json.NODES.objectNode().put("name", name);
        body.putArray("statements").add(statement);
        body.putArray("assignments").add(aim.include());
        ObjectNode edit = Json.NODES.objectNode().put("kind", AddPolicy.KIND.name());
        edit.set("policy", body);
        return told(queryContext, edit, name, wanted, first, true, aim.in.isPresent());
    }

    private WayLine way(
            QueryContext queryContext,
            Policy policy,
            Setting setting,
            Optional<ObjectNode> statement,
            Optional<WantedValue> wanted,
            boolean first,
            boolean inPlace) {
        ObjectNode edit = Json.NODES.objectNode();
        if (statement.isPresent()) edit.put("kind", PutStatement.KIND.name()).set("statement", statement.get());
        else
            edit.put("kind", RemoveStatement.KIND.name())
                    .put("setting", setting.key())
                    .put("says", "set");
        edit.put("policy", policy.id());
        return told(queryContext, edit, policy.name(), wanted, first, false, inPlace);
    }

    /** @param inPlace whether what is done concerns the question's workspace, or what it runs on, alone */
    private WayLine told(
            QueryContext queryContext,
            ObjectNode edit,
            String name,
            Optional<WantedValue> wanted,
            boolean first,
            boolean fresh,
            boolean inPlace) {
        // What is done for a place alters nothing outside of it.
        EvaluationContext evaluationContext = inPlace
                ? queryContext.question()
                : EvaluationContext.at(queryContext.question().at());
        Defects defects = new Defects();
        Optional<EditTrial> trial = EditTrial.of(edit, queryContext, evaluationContext, timeline, defects);
        if (trial.isEmpty())
            return new WayLine(
                    name,
                    first,
                    fresh,
                    excepts(edit),
                    edit,
                    Optional.empty(),
                    Optional.of(defects.all().stream()
                            .map(Defect::message)
                            .findFirst()
                            .orElse("cannot be carried out")),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty());
        Ripple ripple = trial.get().ripple();
        Optional<Effect> effect =
                wanted.map(w -> w.after(queryContext, trial.get().after(), ripple));
        return new WayLine(
                name,
                first,
                fresh,
                excepts(edit),
                edit,
                Optional.of(RippleFormatter.counts(ripple)),
                Optional.empty(),
                effect.flatMap(Effect::brings),
                effect.map(Effect::leaves),
                effect.map(Effect::blocked),
                effect.flatMap(Effect::stays));
    }

    /** What a way comes to for those asked about, see {@link WayLine}. */
    private record Effect(Optional<Boolean> brings, int leaves, int blocked, Optional<String> stays) {}

    /**
     * The value that is wanted.
     *
     * @param account the account asked about, where it is one
     * @param accounts all active accounts asked about, by number
     */
    private record WantedValue(Optional<Account> account, RoaringBitmap accounts, Setting setting, Value value) {
        static WantedValue of(Target target, Setting setting, Value value, QueryContext queryContext) {
            Optional<Account> account = target instanceof Target.AccountTarget one
                    ? queryContext.estate().account(one.id()).filter(Account::active)
                    : Optional.empty();
            RoaringBitmap accounts = RoaringBitmap.and(
                    queryContext.directory().holding(target),
                    queryContext.directory().active());
            return new WantedValue(account, accounts, setting, value);
        }

        Effect after(QueryContext queryContext, CompiledEstate after, Ripple ripple) {
            return account.isPresent()
                    ? afterForOne(account.get(), queryContext, after, ripple)
                    : afterForAll(queryContext, after, ripple);
        }

        private Effect afterForOne(Account one, QueryContext queryContext, CompiledEstate after, Ripple ripple) {
            boolean now = isMetBy(queryContext
                    .instantResolution()
                    .climber(one)
                    .outcome(setting)
                    .decided());
            Climb climb = new AccountResolver(
                            after,
                            queryContext.question(),
                            ripple.seatsAfter(),
                            after.estate().account(one.id()).orElseThrow())
                    .climb(setting);
            boolean decided = isMetBy(climb.outcome().decided());
            boolean holds = isMetBy(climb.outcome().value());
            ClimbFormatter climbFormatter = new ClimbFormatter(after, climb);
            return new Effect(
                    Optional.of(decided && !now),
                    holds ? 0 : 1,
                    decided && !holds ? 1 : 0,
                    holds
                            ? Optional.empty()
                            : Optional.of(climbFormatter.answer() + ". "
                                    + climbFormatter.because().stream()
                                            .map(ClimbFormatter.Piece::text)
                                            .collect(Collectors.joining())));
        }

        /** Whether a value is the one that is wanted; of lists that are gathered, whether it has every item. */
        private boolean isMetBy(Value there) {
            return setting.merge() == Merge.GATHER
                            && there instanceof Value.ListValue all
                            && value instanceof Value.ListValue some
                    ? all.items().containsAll(some.items())
                    : there.equals(value);
        }

        private Effect afterForAll(QueryContext queryContext, CompiledEstate after, Ripple ripple) {
            int leaves = 0;
            int blocked = 0;
            for (Segment<Outcome> segment : new ColumnResolver(after, queryContext.question(), ripple.seatsAfter())
                    .column(setting.key())
                    .shares()) {
                if (isMetBy(segment.what().value())) continue;
                int some = RoaringBitmap.andCardinality(segment.accounts(), accounts);
                leaves += some;
                if (isMetBy(segment.what().decided())) blocked += some;
            }
            return new Effect(Optional.empty(), leaves, blocked, Optional.empty());
        }
    }
}
