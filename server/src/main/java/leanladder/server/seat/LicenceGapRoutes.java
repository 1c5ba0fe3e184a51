package leanladder.server.seat;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.advise.LicenceGapAnalysis;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Family;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.edit.seat.AddPurchase;
import leanladder.edit.seat.AssignSeats;
import leanladder.edit.seat.PutRule;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Assignment;
import leanladder.estate.Plan;
import leanladder.estate.Target;
import leanladder.json.Json;
import leanladder.reach.Directory;
import leanladder.seat.Entitlements;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.seat.PlanViews.Price;
import org.roaringbitmap.RoaringBitmap;

/** What it would take to give something to somebody: the needs that are not met, and the plans that would fill the gap. */
public record LicenceGapRoutes(QueryContext.Reader queries) implements RouteGroup {
    /**
     * A need that some fail.
     *
     * @param alone how many fail nothing else, but what is asked for itself
     * @param licence whether seats can meet it
     * @param within whether it asks for another of the settings that are asked about, so that turning all of them on meets it
     */
    public record LicenceGap(
            String need, int accounts, int alone, boolean licence, boolean within, List<String> settings) {}

    /** So many accounts of a kind. */
    public record KindCount(AccountKind kind, int accounts) {}

    /**
     * A plan that would fill the gap of licences, or a part of it.
     *
     * @param filled of those who lack a licence, for how many it would do
     * @param leftOut of these, how many are seated and a rule leaves out what they lack
     * @param fresh of these, how many would need a seat
     * @param unfit of those who lack a licence, the others who are of a kind that it does not seat, by kind
     * @param ahead how many others wait before them
     * @param shortBy seats that would have to be bought
     * @param cost of those, for each of the price's stretches of time; missing where the plan has no price
     * @param edit stages it: a rule for all who are asked about, and the seats; null where a rule would not do it
     */
    public record PlanOffer(
            String plan,
            String name,
            int filled,
            int leftOut,
            int fresh,
            List<KindCount> unfit,
            int free,
            int ahead,
            int shortBy,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Price> price,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> cost,

            Optional<@SchemaRef("Edit") JsonNode> edit) {}

    /**
     * What it would take.
     *
     * @param asked what is wanted, in words
     * @param who for whom, in words
     * @param inForce how many have it in force now
     * @param ready for how many every need is met, but what is asked for itself: whatever is decided for them works
     * @param unlicensed how many lack a licence
     * @param beyond of those who fail a need, how many fail one that no seat can meet
     * @param turnedOff of those who lack a licence and nothing else, for how many it is turned off besides
     */
    public record LicenceGapView(
            String asked,
            String who,
            int accounts,
            int inForce,
            int ready,
            int unlicensed,
            int beyond,
            int turnedOff,
            List<LicenceGap> gaps,
            List<PlanOffer> offers) {}

    /** A plan, by its name. */
    public record PlanName(String id, String name) {}

    /**
     * A component that seats carry.
     *
     * @param alone whether some setting asks for it alone, so that one can ask what it would take
     * @param accounts how many use it through some seat
     * @param plans that carry it and are in term
     */
    public record ComponentUse(String id, String name, boolean alone, int accounts, List<PlanName> plans) {}

    /** All components, in the order of the catalogue. @param accounts how many accounts are active */
    public record ComponentUses(int accounts, List<ComponentUse> components) {}

    private record LicenceGapQuery(String words, List<Setting> settings) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/licence-gap", this::needed, LicenceGapView.class);
        routeRegistry.get("/components", this::components, ComponentUses.class);
    }

    private Response components(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Catalogue catalogue = queryContext.estate().catalogue();
        Entitlements seats = queryContext.instantResolution().entitlements();
        List<ComponentUse> components = new ArrayList<>();
        catalogue.entitlements().forEach((id, name) -> {
            List<PlanName> plans = seats.allocations().stream()
                    .filter(a -> a.isInTerm() && a.plan().components().contains(id))
                    .map(a -> new PlanName(a.plan().id(), a.plan().name()))
                    .toList();
            boolean alone = !asking(id, catalogue).isEmpty();
            components.add(new ComponentUse(id, name, alone, seats.holding(id).getCardinality(), plans));
        });
        return Response.of(new ComponentUses(queryContext.directory().active().getCardinality(), components));
    }

    private Response needed(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("setting", "family", "component", "who"));
        QueryContext queryContext = queries.read(queryParameters);
        LicenceGapQuery licenceGapQuery = asked(queryParameters, queryContext);
        Target who = queryParameters.target("who", queryContext.estate(), true);
        RoaringBitmap accounts = queryContext.directory().holding(who);
        accounts.and(queryContext.directory().active());
        LicenceGapAnalysis required = new LicenceGapAnalysis(
                queryContext.instantResolution().columnResolver(),
                licenceGapQuery.settings,
                accounts,
                queryContext.question().at());
        RoaringBitmap beyond = new RoaringBitmap();
        for (LicenceGapAnalysis.Gap gap : required.gaps())
            if (!(gap.need() instanceof Need.Entitlement) && !gap.within()) beyond.or(gap.failing());
        RoaringBitmap licenceOnly = RoaringBitmap.andNot(accounts, required.ready());
        licenceOnly.andNot(beyond);
        var estateFormatter = queryContext.estateFormatter();
        return Response.of(new LicenceGapView(
                licenceGapQuery.words,
                who instanceof Target.OrganisationTarget ? "Everyone" : PlanViews.name(queryContext, who),
                accounts.getCardinality(),
                required.inForce().getCardinality(),
                required.ready().getCardinality(),
                required.unlicensed().getCardinality(),
                beyond.getCardinality(),
                RoaringBitmap.andCardinality(licenceOnly, required.turnedOff()),
                required.gaps().stream()
                        .map(g -> new LicenceGap(
                                estateFormatter.need(g.need()),
                                g.failing().getCardinality(),
                                g.alone().getCardinality(),
                                g.need() instanceof Need.Entitlement,
                                g.within(),
                                g.settings().stream().map(Setting::title).toList()))
                        .toList(),
                required.offers().stream()
                        .map(o -> offer(o, who, unfit(o.plan(), required.unlicensed(), queryContext.directory())))
                        .sorted(Comparator.comparingInt((PlanOffer o) -> -o.filled)
                                .thenComparing(
                                        o -> o.cost.map(BigDecimal::new).orElse(BigDecimal.valueOf(Long.MAX_VALUE)))
                                .thenComparingInt(PlanOffer::shortBy))
                        .toList()));
    }

    private static LicenceGapQuery asked(QueryParameters queryParameters, QueryContext queryContext) {
        var catalogue = queryContext.estate().catalogue();
        List<String> named = List.of("setting", "family", "component").stream()
                .filter(queryParameters::has)
                .toList();
        if (named.size() != 1)
            throw ProblemException.wrongInput("Name one of the parameters \"setting\", \"family\" and \"component\".");
        if (queryParameters.has("setting")) {
            Setting setting = queryContext.setting(queryParameters.required("setting"));
            return new LicenceGapQuery(setting.title(), List.of(setting));
        }
        if (queryParameters.has("family")) {
            String id = queryParameters.required("family");
            Family family = catalogue.families().stream()
                    .filter(f -> f.id().equals(id))
                    .findFirst()
                    .orElseThrow(() -> ProblemException.unknown("The catalogue has no family \"" + id + "\"."));
            return new LicenceGapQuery(
                    family.name(),
                    family.states().stream()
                            .flatMap(s -> s.values().keySet().stream())
                            .distinct()
                            .map(queryContext::setting)
                            .toList());
        }
        String component = queryParameters.required("component");
        if (!catalogue.entitlements().containsKey(component))
            throw ProblemException.unknown("The catalogue has no component \"" + component + "\".");
        List<Setting> asking = asking(component, catalogue);
        if (asking.isEmpty())
            throw ProblemException.unknown(
                    "No setting asks for the component \"" + component + "\" alone; ask about a setting.");
        return new LicenceGapQuery(catalogue.entitlements().get(component), asking);
    }

    /** The settings that ask for a component and for no other in its place. */
    private static List<Setting> asking(String component, Catalogue catalogue) {
        List<Setting> asking = new ArrayList<>();
        for (Setting setting : catalogue.settings().values())
            if (setting.needs().stream()
                    .anyMatch(n -> n instanceof Need.Entitlement e && e.anyOf().equals(List.of(component))))
                asking.add(setting);
        return asking;
    }

    /** Those of some accounts whom a plan does not seat, by kind. */
    private static List<KindCount> unfit(Plan plan, RoaringBitmap accounts, Directory directory) {
        List<KindCount> unfit = new ArrayList<>();
        for (AccountKind accountKind : AccountKind.values()) {
            int some = RoaringBitmap.andCardinality(accounts, directory.ofKind(accountKind));
            if (some > 0 && !plan.kinds().contains(accountKind)) unfit.add(new KindCount(accountKind, some));
        }
        return unfit;
    }

    private static PlanOffer offer(LicenceGapAnalysis.Offer offer, Target who, List<KindCount> unfit) {
        Optional<Price> price = PlanViews.price(offer.plan());
        boolean byName = who instanceof Target.AccountTarget;
        int shortBy = offer.shortBy(byName);
        return new PlanOffer(
                offer.plan().id(),
                offer.plan().name(),
                offer.filled().getCardinality(),
                offer.leftOut().getCardinality(),
                offer.fresh().getCardinality(),
                unfit,
                offer.free(),
                byName ? 0 : offer.ahead(),
                shortBy,
                price,
                offer.plan().price().map(p -> p.times(shortBy).toPlainString()),
                edit(offer, who, shortBy));
    }

    /** A seat for one account by name, bought where none is free. */
    private static JsonNode give(LicenceGapAnalysis.Offer offer, String account, int shortBy) {
        ObjectNode give = Json.NODES
                .objectNode()
                .put("kind", AssignSeats.KIND.name())
                .put("plan", offer.plan().id());
        give.putArray("accounts").add(account);
        if (shortBy == 0) return give;
        ObjectNode batch = Json.NODES.objectNode().put("kind", BatchEdit.KIND.name());
        ArrayNode edits = batch.putArray("edits");
        edits.addObject()
                .put("kind", AddPurchase.KIND.name())
                .put("plan", offer.plan().id())
                .putObject("purchase")
                .put("seats", shortBy);
        edits.add(give);
        return batch;
    }

    private static Optional<JsonNode> edit(LicenceGapAnalysis.Offer offer, Target who, int shortBy) {
        Plan plan = offer.plan();
        if (offer.fresh().isEmpty()) return Optional.empty();
        if (who instanceof Target.AccountTarget account) return Optional.of(give(offer, account.id(), shortBy));
        String target = who instanceof Target.OrganisationTarget ? "organisation" : who.text();
        ArrayNode edits = Json.NODES.arrayNode();
        if (shortBy > 0) {
            ObjectNode buy =
                    edits.addObject().put("kind", AddPurchase.KIND.name()).put("plan", plan.id());
            buy.putObject("purchase").put("seats", shortBy);
        }
        boolean named = plan.assignments().stream()
                .anyMatch((Assignment a) -> a.include()
                        && a.target().text().equals(target)
                        && a.window().edges().findAny().isEmpty());
        if (!named) {
            ObjectNode put = edits.addObject().put("kind", PutRule.KIND.name()).put("plan", plan.id());
            put.putObject("rule").put("include", target);
        }
        if (edits.isEmpty()) return Optional.empty();
        if (edits.size() == 1) return Optional.of(edits.get(0));
        ObjectNode batch = Json.NODES.objectNode().put("kind", BatchEdit.KIND.name());
        batch.set("edits", edits);
        return Optional.of(batch);
    }
}
