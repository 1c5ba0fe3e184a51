package leanladder.advise;

import static leanladder.RandomEstate.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import leanladder.RandomEstate;
import leanladder.estate.Plan;
import leanladder.resolve.CompiledEstate;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

/** What is said to be worth looking at is so, account by account. */
class SeatFindingTest {
    /** The components that an account has through its seats of all plans but one. */
    private static Set<String> without(Plan plan, Entitlements seats, int account) {
        Set<String> has = new HashSet<>();
        for (Allocation allocation : seats.allocations())
            if (allocation.plan() != plan)
                for (String component : allocation.plan().components())
                    if (allocation.carries(component, account)) has.add(component);
        return has;
    }

    /** How many have a seat of both, of which the first carries nothing that the second does not, account by account. */
    private static long doubled(Allocation own, Allocation other) {
        return own.seated().stream()
                .filter(n -> other.seated().contains(n))
                .filter(n -> own.plan().components().stream().noneMatch(c -> own.carries(c, n) && !other.carries(c, n)))
                .count();
    }

    @Property(tries = 300)
    void noDoubledSeatIsOverlookedAndTermsAreToldAloneAsAmongAll(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Entitlements seats = compiledEstate.seats(NOW);
        List<SeatFinding> findings = SeatFinding.findAll(seats, compiledEstate.directory(), NOW);
        assertThat(SeatFinding.ofTerms(seats, NOW))
                .isEqualTo(findings.stream()
                        .filter(f -> f instanceof SeatFinding.EndOfTerm || f instanceof SeatFinding.PastTerm)
                        .toList());
        for (Allocation own : seats.allocations()) {
            if (!own.isInTerm() || own.plan().components().isEmpty()) continue;
            long most = seats.allocations().stream()
                    .filter(o -> o != own && o.isInTerm())
                    .mapToLong(o -> doubled(own, o))
                    .max()
                    .orElse(0);
            Optional<SeatFinding.RedundantSeat> told = findings.stream()
                    .flatMap(f -> f instanceof SeatFinding.RedundantSeat d ? Stream.of(d) : Stream.empty())
                    .filter(d -> d.plan() == own.plan())
                    .findFirst();
            boolean toldOfAnother = findings.stream()
                    .anyMatch(f -> f instanceof SeatFinding.RedundantSeat d && d.other() == own.plan());
            if (!toldOfAnother)
                assertThat(told.map(d -> (long) d.accounts().getCardinality()).orElse(0L))
                        .isEqualTo(most);
        }
    }

    @Property(tries = 300)
    void whoHoldsASeatForLongAndUsedNothingOfItIsFoundWhereUsageIsKnown(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Entitlements seats = compiledEstate.seats(NOW);
        RoaringBitmap users = new RoaringBitmap();
        compiledEstate.directory().active().forEach((int n) -> {
            if (n % 2 == 0) users.add(n);
        });
        List<SeatFinding> findings =
                SeatFinding.findAll(seats, compiledEstate.directory(), NOW, plan -> Optional.of(users));
        assertThat(findings).noneMatch(SeatFinding.IdleSeats.class::isInstance);
        for (Allocation own : seats.allocations()) {
            RoaringBitmap found = findings.stream()
                    .flatMap(f -> f instanceof SeatFinding.UnusedSeats u ? Stream.of(u) : Stream.empty())
                    .filter(u -> u.plan() == own.plan())
                    .map(SeatFinding.UnusedSeats::accounts)
                    .findFirst()
                    .orElseGet(RoaringBitmap::new);
            Instant since = NOW.minus(SeatFinding.LATELY);
            compiledEstate
                    .directory()
                    .active()
                    .forEach((int n) -> assertThat(found.contains(n))
                            .isEqualTo(own.isInTerm()
                                    && own.seated().contains(n)
                                    && n % 2 == 1
                                    && own.granted(n)
                                            .filter(at -> !at.isAfter(since))
                                            .isPresent()));
        }
    }

    @Property(tries = 300)
    void nobodyLosesByGivingADoubledSeatBackAndEverybodyByAnEndThatSaysSo(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Entitlements seats = compiledEstate.seats(NOW);
        List<SeatFinding> findings = SeatFinding.findAll(seats, compiledEstate.directory(), NOW);
        for (SeatFinding finding : findings) {
            Plan plan = finding.plan();
            Allocation own = seats.allocation(plan.id()).orElseThrow();
            if (finding instanceof SeatFinding.RedundantSeat doubled) {
                assertThat(doubled.accounts().isEmpty()).isFalse();
                doubled.accounts().forEach((int n) -> {
                    assertThat(own.seated().contains(n)).isTrue();
                    for (String component : plan.components())
                        if (own.carries(component, n))
                            assertThat(without(plan, seats, n)).contains(component);
                });
            }
            if (finding instanceof SeatFinding.EndOfTerm endOfTerm)
                compiledEstate
                        .directory()
                        .active()
                        .forEach((int n) -> assertThat(endOfTerm.losing().contains(n))
                                .isEqualTo(plan.components().stream()
                                        .anyMatch(c -> own.carries(c, n)
                                                && !without(plan, seats, n).contains(c))));
            if (finding instanceof SeatFinding.IdleSeats idleSeats) {
                String since = NOW.minus(SeatFinding.LONG).toString();
                compiledEstate
                        .directory()
                        .active()
                        .forEach((int n) -> assertThat(idleSeats.accounts().contains(n))
                                .isEqualTo(own.seated().contains(n)
                                        && compiledEstate
                                                .directory()
                                                .account(n)
                                                .lastSeen()
                                                .filter(day -> day.toString().compareTo(since.substring(0, 10)) < 0)
                                                .isPresent()));
            }
            if (finding instanceof SeatFinding.IdleRule idle)
                assertThat(own.claimants().stream()
                                .filter(n -> compiledEstate
                                        .directory()
                                        .holds(
                                                plan.rules()
                                                        .get(idle.rule() - 1)
                                                        .assignment()
                                                        .target(),
                                                n)))
                        .isEmpty();
        }
        assertThat(findings.stream()
                        .filter(f -> f instanceof SeatFinding.RedundantSeat)
                        .map(SeatFinding::plan))
                .doesNotHaveDuplicates();
    }
}
