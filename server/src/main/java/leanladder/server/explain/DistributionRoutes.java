package leanladder.server.explain;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.Workspace;
import leanladder.reach.RungKind;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.resolve.Standing;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.QueryValues;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** The ladder for many: on which rung, and by which statement, a setting is decided for a unit, a group or everyone. */
public record DistributionRoutes(QueryContext.Reader queries) implements RouteGroup {
    /** What kind of audience it is. */
    public enum AudienceKind {
        EVERYONE,
        UNIT,
        GROUP;

        static AudienceKind of(Target target) {
            return target instanceof Target.OrganisationTarget
                    ? EVERYONE
                    : target instanceof Target.UnitTarget ? UNIT : GROUP;
        }
    }

    /** How many have a value. */
    public record DistributionValue(
            String value, @SchemaRef("Value") JsonNode inForce, int accounts) {}

    /** How many stand so. @param by the policy whose cap bends them, or that locks, where all have the same */
    public record DistributionStanding(Standing standing, int accounts, Optional<String> by) {}

    /**
     * Accounts of one rung that are decided by the same statement, with the same value and standing.
     *
     * @param policy that decides; null on the built-in rung
     * @param cappedBy the name of the policy whose cap changed the value
     * @param blockedBy the needs that are not met, in words
     */
    public record DistributionSegment(
            Optional<String> policy,
            Optional<String> name,
            String value,
            @SchemaRef("Value") JsonNode inForce,
            String decided,
            Standing standing,
            Optional<String> cappedBy,
            Optional<String> blockedBy,
            int accounts) {}

    /** A rung, with the segments on it, the longest first. */
    public record DistributionRung(RungKind height, List<DistributionSegment> segments) {}

    /**
     * The ladder for many.
     *
     * @param opensEarlyTo to whom the setting's release could be opened early, as the estate file writes it, who are asked about and have it
     *     not all; null where there is no release, or it is open to them early already
     */
    public record Distribution(
            long change,
            String name,
            AudienceKind kind,
            String setting,
            Optional<String> app,
            int accounts,
            List<DistributionValue> values,
            List<DistributionStanding> standings,
            List<DistributionRung> rungs,
            Optional<String> opensEarlyTo) {}

    private record SegmentKey(Outcome outcome, RoaringBitmap accounts) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/distribution", this::distribution, Distribution.class, AccountPage.PeopleList.class);
    }

    private Response distribution(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about(
                "who", "setting", "rung", "policy", "value", "standing", "list", "limit", "after", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        Target who = queryParameters.target("who", queryContext.estate(), false);
        RoaringBitmap crowd = queryContext.directory().holding(who);
        crowd.and(queryContext.directory().active());
        List<SegmentKey> parts = new ArrayList<>();
        for (Segment<Outcome> segment : queryContext
                .instantResolution()
                .columnResolver()
                .column(setting.key())
                .shares()) {
            RoaringBitmap here = RoaringBitmap.and(segment.accounts(), crowd);
            if (!here.isEmpty()) parts.add(new SegmentKey(segment.what(), here));
        }
        parts.sort(Comparator.comparingInt((SegmentKey p) -> p.accounts.getCardinality())
                .reversed());
        if (queryParameters.one("list").isPresent() || queryParameters.isCsv())
            return Response.of(
                    AccountPage.answer(queryParameters, queryContext.directory(), chosen(queryParameters, parts)));
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        Optional<Workspace> workspace = queryContext.question().workspace().flatMap(queryContext.estate()::workspace);
        List<DistributionRung> rungs = new ArrayList<>();
        for (RungKind rungKind : RungKind.values()) {
            if (rungKind == RungKind.WORKSPACE && workspace.isEmpty()) continue;
            if (rungKind == RungKind.HOSTING
                    && workspace.flatMap(Workspace::hosting).isEmpty()) continue;
            rungs.add(new DistributionRung(
                    rungKind,
                    parts.stream()
                            .filter(p -> p.outcome.rung().kind() == rungKind)
                            .map(p -> segment(p, queryContext, setting, estateFormatter))
                            .toList()));
        }
        return Response.of(new Distribution(
                queryContext.snapshot().change(),
                who instanceof Target.OrganisationTarget ? "everyone" : estateFormatter.target(who),
                AudienceKind.of(who),
                setting.title(),
                queryContext.app(setting),
                crowd.getCardinality(),
                values(setting, estateFormatter, parts),
                standings(queryContext, parts),
                rungs,
                opensEarlyTo(queryContext, setting, who, crowd)));
    }

    /** Whom a release could be opened to early without the rest of their ring: those asked about, where they have it not all. */
    private static Optional<String> opensEarlyTo(
            QueryContext queryContext, Setting setting, Target who, RoaringBitmap crowd) {
        boolean aimed = who instanceof Target.UnitTarget
                || who instanceof Target.GroupTarget group
                        && queryContext.estate().group(group.id()).orElseThrow().access();
        boolean asks = setting.needs().stream().flatMap(Need::flatten).anyMatch(Need.ReleaseNeed.class::isInstance);
        if (!aimed || !asks) return Optional.empty();
        return queryContext
                .estate()
                .release(setting.key())
                .filter(r -> r.early().stream().noneMatch(e -> e.to().equals(who)))
                .filter(r -> RoaringBitmap.andNotCardinality(
                                crowd,
                                queryContext
                                        .instantResolution()
                                        .columnResolver()
                                        .releasesWith(setting.key())
                                        .reachedBy(setting.key()))
                        > 0)
                .map(r -> who.text());
    }

    /** How many have each value, the most frequent first. */
    private static List<DistributionValue> values(
            Setting setting, EstateFormatter estateFormatter, List<SegmentKey> parts) {
        Map<Value, Integer> byValue = new LinkedHashMap<>();
        parts.forEach(p -> byValue.merge(p.outcome.value(), p.accounts.getCardinality(), Integer::sum));
        return byValue.entrySet().stream()
                .sorted(Map.Entry.<Value, Integer>comparingByValue().reversed())
                .map(e -> new DistributionValue(
                        estateFormatter.value(setting, e.getKey()), e.getKey().json(), e.getValue()))
                .toList();
    }

    /** How many stand how, the most frequent first. */
    private static List<DistributionStanding> standings(QueryContext queryContext, List<SegmentKey> parts) {
        Map<Standing, List<SegmentKey>> byStanding = parts.stream()
                .collect(Collectors.groupingBy(p -> p.outcome.standing(), LinkedHashMap::new, Collectors.toList()));
        return byStanding.entrySet().stream()
                .map(e -> new DistributionStanding(
                        e.getKey(),
                        e.getValue().stream()
                                .mapToInt(p -> p.accounts.getCardinality())
                                .sum(),
                        by(queryContext, e.getKey(), e.getValue())))
                .sorted(Comparator.comparingInt(DistributionStanding::accounts).reversed())
                .toList();
    }

    private static Optional<String> by(QueryContext queryContext, Standing standing, List<SegmentKey> parts) {
        List<Optional<String>> by = parts.stream()
                .map(p -> standing == Standing.CAPPED ? p.outcome.cappedBy() : p.outcome.policy())
                .distinct()
                .toList();
        return by.size() == 1 ? by.get(0).flatMap(id -> name(queryContext, id)) : Optional.empty();
    }

    private static Optional<String> name(QueryContext queryContext, String policy) {
        return queryContext.estate().policy(policy).map(Policy::name);
    }

    private static DistributionSegment segment(
            SegmentKey segmentKey, QueryContext queryContext, Setting setting, EstateFormatter estateFormatter) {
        Outcome outcome = segmentKey.outcome;
        return new DistributionSegment(
                outcome.policy(),
                outcome.policy().flatMap(id -> name(queryContext, id)),
                estateFormatter.value(setting, outcome.value()),
                outcome.value().json(),
                estateFormatter.value(setting, outcome.decided()),
                outcome.standing(),
                outcome.cappedBy().flatMap(id -> name(queryContext, id)),
                outcome.blockedBy().isEmpty()
                        ? Optional.empty()
                        : Optional.of(outcome.blockedBy().stream()
                                .map(estateFormatter::need)
                                .collect(Collectors.joining("; "))),
                segmentKey.accounts.getCardinality());
    }

    /** Those of the segments that the parameters name; values are told apart by what they are. */
    private static RoaringBitmap chosen(QueryParameters queryParameters, List<SegmentKey> parts) {
        Predicate<Value> value = queryParameters
                .one("value")
                .map(text -> QueryValues.json("value", text))
                .map(json -> (Predicate<Value>) v -> v.json().equals(json))
                .orElse(v -> true);
        RoaringBitmap found = new RoaringBitmap();
        for (SegmentKey segmentKey : parts) {
            Outcome o = segmentKey.outcome;
            boolean fits = fits(queryParameters, "rung", o.rung().kind().word())
                    && fits(queryParameters, "policy", o.policy().orElse("none"))
                    && fits(queryParameters, "standing", o.standing().word())
                    && value.test(o.value());
            if (fits) found.or(segmentKey.accounts);
        }
        return found;
    }

    private static boolean fits(QueryParameters queryParameters, String name, String is) {
        Optional<String> wanted = queryParameters.one(name);
        return wanted.isEmpty() || wanted.get().equals(is);
    }
}
