package leanladder.change;

import static leanladder.RandomEstate.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.LongStream;
import leanladder.RandomEstate;
import leanladder.change.overlay.StoredParts;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Plan;
import leanladder.resolve.Ground;
import leanladder.seat.Allocation;
import leanladder.seat.Ledger;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** How the ledger moves by itself (resolution.md, section 6), over random histories. */
class LedgerTest {
    private static final StoredParts NONE = (section, key) -> Json.NODES.objectNode();

    /** The ledger as a plain list of who holds a seat since when, kept account by account. */
    private static final class PlainLedger {
        private final Map<String, TreeMap<String, Instant>> holders = new TreeMap<>();

        PlainLedger(Map<String, List<Plan.Holder>> listed) {
            listed.forEach((plan, all) -> all.forEach(h -> page(plan).put(h.account(), h.granted())));
        }

        TreeMap<String, Instant> page(String plan) {
            return holders.computeIfAbsent(plan, p -> new TreeMap<>());
        }

        /** What one instant does, read off an allocation of a file that lists these holders. */
        void move(Ground ground, Instant at) {
            Map<String, List<Plan.Holder>> file = new TreeMap<>();
            holders.forEach((plan, page) -> file.put(
                    plan,
                    page.entrySet().stream()
                            .filter(h -> ground.estate().account(h.getKey()).isPresent())
                            .map(h -> new Plan.Holder(h.getKey(), h.getValue(), Optional.empty()))
                            .toList()));
            Ground fresh = new Ground(ground.estate().withHolders(file));
            holders.keySet()
                    .retainAll(fresh.estate().plans().stream().map(Plan::id).collect(Collectors.toSet()));
            for (Allocation allocation : fresh.seats(at).allocations()) {
                TreeMap<String, Instant> page = page(allocation.plan().id());
                Set<String> claims = Set.copyOf(allocation.claims());
                page.keySet().retainAll(claims);
                allocation.seatedInOrder().forEach(a -> page.putIfAbsent(a, at));
            }
        }
    }

    private static Map<String, TreeMap<String, Instant>> told(Ground ground) {
        Map<String, TreeMap<String, Instant>> told = new TreeMap<>();
        for (Plan plan : ground.estate().plans()) {
            var page = ground.ledger().page(plan.id());
            TreeMap<String, Instant> here = new TreeMap<>();
            page.holders()
                    .forEach((int n) -> here.put(
                            ground.directory().account(n).id(), page.granted(n).orElseThrow()));
            told.put(plan.id(), here);
        }
        return told;
    }

    private static Ground opened(long seed) {
        return new Ground(RandomEstate.read(RandomEstate.json(seed))).withSeatsGiven(NOW.minusSeconds(7200));
    }

    /** Carries the ledger through the edges up to an instant, as the clock does: one after the other. */
    private static Ground waited(Ground ground, Instant until) {
        Ground now = ground;
        Instant passed = ground.ledger().asOf().orElseThrow();
        while (true) {
            Optional<Instant> edge = Ledger.nextEdge(now.estate(), passed, until);
            if (edge.isEmpty()) return now;
            now = now.withLedger(now.ledger().through(now.estate().plans(), now.directory(), edge.get()));
            passed = edge.get();
        }
    }

    private record Step(Ground before, Book book, Instant at) {
        Ground after() {
            Ground edited = book.after();
            return edited.withLedger(Ripple.seatsPassedOn(book, edited, at).ledger());
        }
    }

    private static Step edited(Ground ground, Random random, Instant at, boolean policies) {
        Book book = new Book(ground, NONE);
        List<String> edits = new ArrayList<>(RandomEdits.ofDirectory(ground, random, 2));
        edits.addAll(RandomEdits.ofPlans(ground, random, 2));
        if (policies) edits = RandomEdits.ofPolicies(ground, random, 3);
        for (String edit : edits)
            if (!edit.contains("remove-")) book.apply(new Place(Json.read(edit), "", new Defects()));
        return new Step(ground, book, at);
    }

    @Property(tries = 400)
    void theLedgerIsThatOfAPlainListOverHistoriesOfChangesAndEdges(@ForAll long seed) {
        Random random = new Random(seed);
        ObjectNode file = RandomEstate.json(seed);
        PlainLedger plain = new PlainLedger(RandomEstate.read(file).holders());
        Ground ground = opened(seed);
        plain.move(ground, NOW.minusSeconds(7200));
        assertThat(told(ground)).isEqualTo(plain.holders);
        for (int i = 0; i < 5; i++) {
            Instant at = NOW.plusSeconds(3600L * i - 5400 + random.nextInt(3000));
            Instant passed = ground.ledger().asOf().orElseThrow();
            for (Instant edge : edges(ground, passed, at)) plain.move(ground, edge);
            ground = waited(ground, at);
            assertThat(told(ground)).isEqualTo(plain.holders);
            ground = edited(ground, random, at, false).after();
            plain.move(ground, at);
            assertThat(told(ground)).isEqualTo(plain.holders);
        }
    }

    private static Set<Instant> edges(Ground ground, Instant after, Instant until) {
        return ground.estate().plans().stream()
                .flatMap(Plan::edges)
                .filter(e -> e.isAfter(after) && !e.isAfter(until))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    @Property(tries = 300)
    void whatWasForetoldIsWhatHappens(@ForAll long seed) {
        Ground now = opened(seed);
        Instant then = NOW.plusSeconds(new Random(seed).nextInt(6) * 1800L);
        Ground later = waited(now, then);
        var foretold = now.seats(then).allocations();
        var happened = later.seats(then).allocations();
        for (int i = 0; i < foretold.size(); i++) {
            assertThat(foretold.get(i).seatedInOrder())
                    .isEqualTo(happened.get(i).seatedInOrder());
            assertThat(foretold.get(i).waiting()).isEqualTo(happened.get(i).waiting());
        }
    }

    @Property(tries = 400)
    void afterSeatsPassedOnTheAllocationIsAsIfEverythingWereAllocatedAnew(@ForAll long seed) {
        Ground ground = waited(opened(seed), NOW);
        Step step = edited(ground, new Random(seed), NOW.plusSeconds(1), false);
        Ground edited = step.book().after();
        var ripple = new Ripple(step.book(), edited, leanladder.resolve.Question.at(NOW.plusSeconds(1)));
        Ledger.Moved moved = ripple.seatsPassedOn(NOW.plusSeconds(1));
        Set<String> passed = moved.moves().stream().map(Ledger.Move::plan).collect(Collectors.toSet());
        var told = ripple.seatsAfter().after(moved.ledger(), passed);
        var anew = edited.withLedger(moved.ledger()).seats(NOW.plusSeconds(1));
        for (Allocation fresh : anew.allocations()) {
            Allocation kept = told.allocation(fresh.plan().id()).orElseThrow();
            assertThat(kept.seatedInOrder()).isEqualTo(fresh.seatedInOrder());
            assertThat(kept.waiting()).isEqualTo(fresh.waiting());
            assertThat(kept.released()).isEqualTo(fresh.released());
            for (String id : fresh.waiting())
                assertThat(kept.placeInLine(edited.directory().number(id)))
                        .isEqualTo(fresh.placeInLine(edited.directory().number(id)));
            for (String component : fresh.plan().components())
                assertThat(told.holding(component)).isEqualTo(anew.holding(component));
        }
    }

    @Property(tries = 300)
    void whatOneAccountUsesIsTheSameWhereNobodyElseIsLookedAt(@ForAll long seed) {
        Random random = new Random(seed);
        Instant at = NOW.plusSeconds(random.nextInt(7200));
        Ground ground = waited(opened(seed), at);
        for (Ground one : List.of(ground, edited(ground, random, at, false).after())) {
            var all = one.seats(at);
            one.directory().active().forEach((int n) -> {
                var alone = one.seatsOf(one.directory().account(n), at);
                for (Plan plan : one.estate().plans())
                    for (String component : plan.components())
                        assertThat(alone.holding(component).contains(n))
                                .isEqualTo(all.holding(component).contains(n));
            });
        }
    }

    @Property(tries = 300)
    void editsOfPoliciesMoveNobodysSeat(@ForAll long seed) {
        Ground ground = waited(opened(seed), NOW);
        if (ground.estate().policies().isEmpty()) return;
        Step step = edited(ground, new Random(seed), NOW.plusSeconds(1), true);
        assertThat(told(step.after())).isEqualTo(told(ground));
    }

    @Property(tries = 300)
    void oneMoreSeatUnseatsNobody(@ForAll long seed) {
        Ground ground = waited(opened(seed), NOW);
        for (Plan plan : ground.estate().plans()) {
            Book book = new Book(ground, NONE);
            String edit = "{\"kind\":\"buy-seats\",\"plan\":\"" + plan.id() + "\",\"purchase\":{\"seats\":1}}";
            assertThat(book.apply(new Place(Json.read(edit), "", new Defects())))
                    .isPresent();
            Ground after = new Step(ground, book, NOW.plusSeconds(1)).after();
            var page = after.ledger().page(plan.id());
            assertThat(page.holders().contains(ground.ledger().page(plan.id()).holders()))
                    .isTrue();
        }
    }

    @Test
    void aPlanThatIsTakenAwayLosesItsPage() {
        Ground ground = LongStream.range(0, 100)
                .mapToObj(LedgerTest::opened)
                .map(g -> waited(g, NOW))
                .filter(g -> g.estate().plans().stream()
                        .anyMatch(p -> !g.ledger().page(p.id()).holders().isEmpty()))
                .findFirst()
                .orElseThrow();
        for (Plan plan : ground.estate().plans()) {
            Book book = new Book(ground, NONE);
            book.apply(new Place(
                    Json.read("{\"kind\":\"remove-plan\",\"plan\":\"" + plan.id() + "\"}"), "", new Defects()));
            var moved = Ripple.seatsPassedOn(book, book.after(), NOW);
            assertThat(moved.ledger().page(plan.id()).holders().isEmpty()).isTrue();
            int held = ground.ledger().page(plan.id()).holders().getCardinality();
            assertThat(moved.moves().stream()
                            .mapToInt(m -> m.returned().getCardinality())
                            .sum())
                    .isEqualTo(held);
        }
    }
}
