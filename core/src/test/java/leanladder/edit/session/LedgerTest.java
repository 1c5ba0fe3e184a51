package leanladder.edit.session;

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
import leanladder.estate.Plan;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.ripple.Ripple;
import leanladder.seat.Allocation;
import leanladder.seat.SeatLedger;
import leanladder.workingcopy.EntityStore;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** How the ledger moves by itself (resolution.md, section 6), over random histories. */
class LedgerTest {
    private static final EntityStore NONE = (section, key) -> Json.NODES.objectNode();

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
        void move(CompiledEstate compiledEstate, Instant at) {
            Map<String, List<Plan.Holder>> file = new TreeMap<>();
            holders.forEach((plan, page) -> file.put(
                    plan,
                    page.entrySet().stream()
                            .filter(h ->
                                    compiledEstate.estate().account(h.getKey()).isPresent())
                            .map(h -> new Plan.Holder(h.getKey(), h.getValue(), Optional.empty()))
                            .toList()));
            CompiledEstate fresh = new CompiledEstate(compiledEstate.estate().withHolders(file));
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

    private static Map<String, TreeMap<String, Instant>> told(CompiledEstate compiledEstate) {
        Map<String, TreeMap<String, Instant>> told = new TreeMap<>();
        for (Plan plan : compiledEstate.estate().plans()) {
            var planLedger = compiledEstate.seatLedger().page(plan.id());
            TreeMap<String, Instant> here = new TreeMap<>();
            planLedger
                    .holders()
                    .forEach((int n) -> here.put(
                            compiledEstate.directory().account(n).id(),
                            planLedger.granted(n).orElseThrow()));
            told.put(plan.id(), here);
        }
        return told;
    }

    private static CompiledEstate opened(long seed) {
        return new CompiledEstate(RandomEstate.read(RandomEstate.json(seed))).withSeatsGiven(NOW.minusSeconds(7200));
    }

    /** Carries the ledger through the edges up to an instant, as the clock does: one after the other. */
    private static CompiledEstate waited(CompiledEstate compiledEstate, Instant until) {
        CompiledEstate now = compiledEstate;
        Instant passed = compiledEstate.seatLedger().asOf().orElseThrow();
        while (true) {
            Optional<Instant> edge = SeatLedger.nextEdge(now.estate(), passed, until);
            if (edge.isEmpty()) return now;
            now = now.withLedger(now.seatLedger().advanceTo(now.estate().plans(), now.directory(), edge.get()));
            passed = edge.get();
        }
    }

    private record Step(CompiledEstate before, EditSession editSession, Instant at) {
        CompiledEstate after() {
            CompiledEstate edited = editSession.compile();
            return edited.withLedger(
                    Ripple.seatsPassedOn(editSession, edited, at).ledger());
        }
    }

    private static Step edited(CompiledEstate compiledEstate, Random random, Instant at, boolean policies) {
        EditSession editSession = new EditSession(compiledEstate, NONE);
        List<String> edits = new ArrayList<>(RandomEdits.ofDirectory(compiledEstate, random, 2));
        edits.addAll(RandomEdits.ofPlans(compiledEstate, random, 2));
        if (policies) edits = RandomEdits.ofPolicies(compiledEstate, random, 3);
        for (String edit : edits)
            if (!edit.contains("remove-")) editSession.apply(new JsonCursor(Json.read(edit), "", new Defects()));
        return new Step(compiledEstate, editSession, at);
    }

    @Property(tries = 400)
    void theLedgerIsThatOfAPlainListOverHistoriesOfChangesAndEdges(@ForAll long seed) {
        Random random = new Random(seed);
        ObjectNode file = RandomEstate.json(seed);
        PlainLedger plain = new PlainLedger(RandomEstate.read(file).holders());
        CompiledEstate compiledEstate = opened(seed);
        plain.move(compiledEstate, NOW.minusSeconds(7200));
        assertThat(told(compiledEstate)).isEqualTo(plain.holders);
        for (int i = 0; i < 5; i++) {
            Instant at = NOW.plusSeconds(3600L * i - 5400 + random.nextInt(3000));
            Instant passed = compiledEstate.seatLedger().asOf().orElseThrow();
            for (Instant edge : edges(compiledEstate, passed, at)) plain.move(compiledEstate, edge);
            compiledEstate = waited(compiledEstate, at);
            assertThat(told(compiledEstate)).isEqualTo(plain.holders);
            compiledEstate = edited(compiledEstate, random, at, false).after();
            plain.move(compiledEstate, at);
            assertThat(told(compiledEstate)).isEqualTo(plain.holders);
        }
    }

    private static Set<Instant> edges(CompiledEstate compiledEstate, Instant after, Instant until) {
        return compiledEstate.estate().plans().stream()
                .flatMap(Plan::edges)
                .filter(e -> e.isAfter(after) && !e.isAfter(until))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    @Property(tries = 300)
    void whatWasForetoldIsWhatHappens(@ForAll long seed) {
        CompiledEstate now = opened(seed);
        Instant then = NOW.plusSeconds(new Random(seed).nextInt(6) * 1800L);
        CompiledEstate later = waited(now, then);
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
        CompiledEstate compiledEstate = waited(opened(seed), NOW);
        Step step = edited(compiledEstate, new Random(seed), NOW.plusSeconds(1), false);
        CompiledEstate edited = step.editSession().compile();
        var ripple =
                new Ripple(step.editSession(), edited, leanladder.resolve.EvaluationContext.at(NOW.plusSeconds(1)));
        SeatLedger.Moved moved = ripple.seatsPassedOn(NOW.plusSeconds(1));
        Set<String> passed = moved.moves().stream().map(SeatLedger.Move::plan).collect(Collectors.toSet());
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
        CompiledEstate compiledEstate = waited(opened(seed), at);
        for (CompiledEstate one : List.of(
                compiledEstate, edited(compiledEstate, random, at, false).after())) {
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
        CompiledEstate compiledEstate = waited(opened(seed), NOW);
        if (compiledEstate.estate().policies().isEmpty()) return;
        Step step = edited(compiledEstate, new Random(seed), NOW.plusSeconds(1), true);
        assertThat(told(step.after())).isEqualTo(told(compiledEstate));
    }

    @Property(tries = 300)
    void oneMoreSeatUnseatsNobody(@ForAll long seed) {
        CompiledEstate compiledEstate = waited(opened(seed), NOW);
        for (Plan plan : compiledEstate.estate().plans()) {
            EditSession editSession = new EditSession(compiledEstate, NONE);
            String edit = "{\"kind\":\"buy-seats\",\"plan\":\"" + plan.id() + "\",\"purchase\":{\"seats\":1}}";
            assertThat(editSession.apply(new JsonCursor(Json.read(edit), "", new Defects())))
                    .isPresent();
            CompiledEstate after = new Step(compiledEstate, editSession, NOW.plusSeconds(1)).after();
            var planLedger = after.seatLedger().page(plan.id());
            assertThat(planLedger
                            .holders()
                            .contains(
                                    compiledEstate.seatLedger().page(plan.id()).holders()))
                    .isTrue();
        }
    }

    @Test
    void aPlanThatIsTakenAwayLosesItsPage() {
        CompiledEstate compiledEstate = LongStream.range(0, 100)
                .mapToObj(LedgerTest::opened)
                .map(g -> waited(g, NOW))
                .filter(g -> g.estate().plans().stream()
                        .anyMatch(p -> !g.seatLedger().page(p.id()).holders().isEmpty()))
                .findFirst()
                .orElseThrow();
        for (Plan plan : compiledEstate.estate().plans()) {
            EditSession editSession = new EditSession(compiledEstate, NONE);
            editSession.apply(new JsonCursor(
                    Json.read("{\"kind\":\"remove-plan\",\"plan\":\"" + plan.id() + "\"}"), "", new Defects()));
            var moved = Ripple.seatsPassedOn(editSession, editSession.compile(), NOW);
            assertThat(moved.ledger().page(plan.id()).holders().isEmpty()).isTrue();
            int held = compiledEstate.seatLedger().page(plan.id()).holders().getCardinality();
            assertThat(moved.moves().stream()
                            .mapToInt(m -> m.returned().getCardinality())
                            .sum())
                    .isEqualTo(held);
        }
    }
}
