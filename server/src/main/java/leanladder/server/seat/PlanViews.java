package leanladder.server.seat;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import leanladder.catalogue.AccountKind;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.Target;
import leanladder.estate.TimeWindow;
import leanladder.reach.Directory;
import leanladder.seat.Allocation;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import org.roaringbitmap.RoaringBitmap;

/** Licence plans as they are told: in short, and whole. */
final class PlanViews {
    /** How far ahead a plan is looked at: twelve weeks. */
    static final Duration AHEAD = Duration.ofDays(84);

    private static final int COURSE_MOST = 60;

    private PlanViews() {}

    /** Whether seats of a plan carry anything. */
    public enum TermState {
        RUNNING,
        TO_COME,
        OVER
    }

    /** What a seat costs. */
    public record Price(String amount, String currency, String per) {}

    /** How many seats a plan has from an instant on. */
    public record Step(Instant at, int seats) {}

    /**
     * A plan in short.
     *
     * @param seats how many it has now
     * @param held how many of them are held
     * @param waiting how many wait for one
     * @param lowest the fewest seats that it will have within twelve weeks
     * @param steps how the number of seats changes within twelve weeks
     * @param claimants how many want a seat
     */
    public record PlanLine(
            String id,
            String name,
            TermState term,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> starts,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> ends,

            List<NamedRef> components,
            List<AccountKind> kinds,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Price> price,

            String note,
            int seats,
            int held,
            int free,
            int waiting,
            int lowest,
            int claimants,
            int rules,
            List<Step> steps) {}

    /** Seats that were bought together. @param written as the estate file writes them */
    public record PurchaseLine(
            int seats,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> from,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> until,

            String note,
            boolean holds,
            @SchemaRef("Value") JsonNode written) {}

    /**
     * A rule.
     *
     * @param whom whom it names, in words
     * @param accounts how many of those it names want a seat; of an exception, how many it keeps from wanting one
     * @param overruled which components that it leaves out stay for some of them, and by which other rules, in words
     * @param written as the estate file writes it
     */
    public record RuleLine(
            boolean include,
            String target,
            String whom,
            List<NamedRef> off,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> from,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> until,

            boolean holds,
            int accounts,
            List<String> overruled,
            @SchemaRef("Value") JsonNode written) {}

    /** How a plan stands from an instant on. @param why what changes then, in words */
    public record CoursePoint(Instant at, int seats, int held, int waiting, boolean carries, List<String> why) {}

    /** Where the seats sit. @param depth below the organisation, 0 for itself */
    public record Place(String unit, String name, int depth, int accounts, int held, int waiting) {}

    /** A plan, whole. */
    public record PlanView(
            PlanLine plan,
            List<PurchaseLine> purchases,
            List<RuleLine> rules,
            List<CoursePoint> course,
            List<Place> places) {}

    static PlanLine line(QueryContext queryContext, Allocation allocation) {
        Plan plan = allocation.plan();
        Instant at = queryContext.question().at();
        int held = allocation.seated().getCardinality();
        int claimants = allocation.claimants().getCardinality();
        List<Step> steps = steps(plan, at);
        int lowest = Math.min(
                allocation.seats(), steps.stream().mapToInt(Step::seats).min().orElse(Integer.MAX_VALUE));
        return new PlanLine(
                plan.id(),
                plan.name(),
                state(plan.term(), at),
                plan.term().from(),
                plan.term().until(),
                plan.components().stream().map(c -> component(queryContext, c)).toList(),
                plan.kinds().size() == AccountKind.values().length
                        ? List.of()
                        : plan.kinds().stream().sorted().toList(),
                price(plan),
                plan.source().path("note").asText(""),
                allocation.seats(),
                held,
                allocation.seats() - held,
                claimants - held,
                lowest,
                claimants,
                plan.rules().size(),
                steps);
    }

    static NamedRef component(QueryContext queryContext, String id) {
        return new NamedRef(id, queryContext.estate().catalogue().entitlements().getOrDefault(id, id));
    }

    private static TermState state(TimeWindow term, Instant at) {
        return term.isOver(at) ? TermState.OVER : term.isEarly(at) ? TermState.TO_COME : TermState.RUNNING;
    }

    static Optional<Price> price(Plan plan) {
        JsonNode price = plan.source().path("price");
        return price.isObject()
                ? Optional.of(new Price(
                        price.path("amount").asText(),
                        price.path("currency").asText(),
                        price.path("per").asText("month")))
                : Optional.empty();
    }

    private static List<Step> steps(Plan plan, Instant at) {
        Set<Instant> edges = new TreeSet<>();
        for (Purchase purchase : plan.purchases())
            purchase.window()
                    .edges()
                    .filter(e -> e.isAfter(at) && e.isBefore(at.plus(AHEAD)))
                    .forEach(edges::add);
        return edges.stream()
                .limit(COURSE_MOST)
                .map(e -> new Step(e, plan.seats(e)))
                .toList();
    }

    static PlanView view(QueryContext queryContext, Allocation allocation) {
        return new PlanView(
                line(queryContext, allocation),
                purchases(allocation.plan(), queryContext.question().at()),
                rules(queryContext, allocation),
                course(queryContext, allocation),
                places(queryContext, allocation));
    }

    private static List<PurchaseLine> purchases(Plan plan, Instant at) {
        List<PurchaseLine> lines = new ArrayList<>();
        JsonNode written = plan.source().path("purchases");
        for (int i = 0; i < written.size(); i++) {
            Purchase purchase = plan.purchases().get(i);
            lines.add(new PurchaseLine(
                    purchase.seats(),
                    purchase.window().from(),
                    purchase.window().until(),
                    written.get(i).path("note").asText(""),
                    purchase.window().holds(at),
                    written.get(i)));
        }
        return lines;
    }

    private static List<RuleLine> rules(QueryContext queryContext, Allocation allocation) {
        Plan plan = allocation.plan();
        Instant at = queryContext.question().at();
        RoaringBitmap kept = RoaringBitmap.and(
                queryContext.directory().active(),
                queryContext.directory().ofKinds(allocation.plan().kinds()));
        kept.andNot(allocation.claimants());
        List<RuleLine> lines = new ArrayList<>();
        for (int i = 0; i < plan.rules().size(); i++) {
            Plan.Rule rule = plan.rules().get(i);
            boolean include = rule.assignment().include();
            RoaringBitmap named =
                    queryContext.directory().holding(rule.assignment().target());
            boolean holds = rule.assignment().window().holds(at);
            lines.add(new RuleLine(
                    include,
                    rule.assignment().target().text(),
                    name(queryContext, rule.assignment().target()),
                    rule.off().stream().map(c -> component(queryContext, c)).toList(),
                    rule.assignment().window().from(),
                    rule.assignment().window().until(),
                    holds,
                    holds ? RoaringBitmap.andCardinality(named, include ? allocation.claimants() : kept) : 0,
                    include && holds ? overruled(queryContext, allocation, rule) : List.of(),
                    plan.source().path("rules").get(i)));
        }
        return lines;
    }

    /** A component is gone only when every rule that holds an account leaves it out (resolution.md, section 6). */
    private static List<String> overruled(QueryContext queryContext, Allocation allocation, Plan.Rule rule) {
        Plan plan = allocation.plan();
        Directory directory = queryContext.directory();
        List<String> words = new ArrayList<>();
        for (String component : rule.off()) {
            RoaringBitmap still = RoaringBitmap.and(
                    allocation.carrying(component),
                    directory.holding(rule.assignment().target()));
            if (still.isEmpty()) continue;
            List<String> granting = new ArrayList<>();
            for (int i = 0; i < plan.rules().size(); i++) {
                Plan.Rule other = plan.rules().get(i);
                if (other.assignment().include()
                        && !other.off().contains(component)
                        && other.assignment()
                                .window()
                                .holds(queryContext.question().at())
                        && RoaringBitmap.intersects(
                                still, directory.holding(other.assignment().target())))
                    granting.add(String.valueOf(i + 1));
            }
            words.add(component(queryContext, component).name() + " stays for " + still.getCardinality()
                    + " of them: " + (granting.size() == 1 ? "rule " : "rules ") + String.join(", ", granting)
                    + (granting.size() == 1 ? " grants it" : " grant it"));
        }
        return words;
    }

    /** Whom a target names, a unit with the one above it. */
    static String name(QueryContext queryContext, Target target) {
        if (target instanceof Target.UnitTarget unit)
            return leanladder.server.paging.AccountPage.place(queryContext.directory(), unit.id());
        return queryContext.estateFormatter().target(target);
    }

    /** How the plan stands now and at every edge of the coming twelve weeks. */
    private static List<CoursePoint> course(QueryContext queryContext, Allocation allocation) {
        Plan plan = allocation.plan();
        Instant at = queryContext.question().at();
        Set<Instant> edges = new TreeSet<>();
        plan.edges().forEach(edges::add);
        plan.term().edges().forEach(edges::add);
        List<CoursePoint> course = new ArrayList<>(List.of(point(at, allocation, List.of())));
        for (Instant edge : edges) {
            if (!edge.isAfter(at) || !edge.isBefore(at.plus(AHEAD)) || course.size() > COURSE_MOST) continue;
            Allocation then = queryContext
                    .snapshot()
                    .compiledEstate()
                    .seats(Set.of(plan.id()), edge)
                    .allocation(plan.id())
                    .orElseThrow();
            course.add(point(edge, then, why(queryContext, plan, edge)));
        }
        return course;
    }

    private static CoursePoint point(Instant at, Allocation allocation, List<String> why) {
        int held = allocation.seated().getCardinality();
        return new CoursePoint(
                at,
                allocation.seats(),
                held,
                allocation.claimants().getCardinality() - held,
                allocation.isInTerm(),
                why);
    }

    private static List<String> why(QueryContext queryContext, Plan plan, Instant edge) {
        List<String> why = new ArrayList<>();
        Optional<Instant> here = Optional.of(edge);
        if (plan.term().from().equals(here)) why.add("The term begins: seats carry what they are for");
        if (plan.term().until().equals(here)) why.add("The term ends: seats carry nothing any more");
        for (Purchase purchase : plan.purchases()) {
            String seats = purchase.seats() == 1 ? "One seat" : purchase.seats() + " seats";
            if (purchase.window().from().equals(here)) why.add(seats + " more");
            if (purchase.window().until().equals(here)) why.add(seats + " fewer");
        }
        for (Plan.Rule rule : plan.rules()) {
            String words = (rule.assignment().include() ? "for " : "the exception of ")
                    + name(queryContext, rule.assignment().target());
            if (rule.assignment().window().from().equals(here)) why.add("The rule " + words + " begins");
            if (rule.assignment().window().until().equals(here)) why.add("The rule " + words + " ends");
        }
        return why;
    }

    /** The units in which somebody holds or waits for a seat, to two levels below the organisation, in the order of the tree. */
    private static List<Place> places(QueryContext queryContext, Allocation allocation) {
        var directory = queryContext.directory();
        var tree = directory.tree();
        List<Place> places = new ArrayList<>();
        for (String unit : tree.preorder()) {
            int depth = tree.path(unit).size() - 1;
            if (depth > 2) continue;
            RoaringBitmap in = directory.inOrBelow(unit);
            int held = RoaringBitmap.andCardinality(in, allocation.seated());
            int claim = RoaringBitmap.andCardinality(in, allocation.claimants());
            if (claim == 0) continue;
            places.add(new Place(
                    unit,
                    tree.unit(unit).name(),
                    depth,
                    RoaringBitmap.andCardinality(in, directory.active()),
                    held,
                    claim - held));
        }
        return places;
    }

    /** The entitlements of a plan in words. */
    static String components(QueryContext queryContext, Plan plan) {
        return plan.components().stream()
                .map(c -> component(queryContext, c).name())
                .collect(Collectors.joining(", "));
    }
}
