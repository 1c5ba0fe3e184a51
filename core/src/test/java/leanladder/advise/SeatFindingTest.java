package leanladder.advise;

import static leanladder.RandomEstate.NOW;
import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.estate.Plan;
import leanladder.resolve.Ground;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

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

    @Property(tries = 300)
    void nobodyLosesByGivingADoubledSeatBackAndEverybodyByAnEndThatSaysSo(@ForAll long seed) {
        Ground ground = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        Entitlements seats = ground.seats(NOW);
        List<SeatFinding> findings = SeatFinding.of(seats, ground.directory(), NOW);
        for (SeatFinding finding : findings) {
            Plan plan = finding.plan();
            Allocation own = seats.allocation(plan.id()).orElseThrow();
            if (finding instanceof SeatFinding.Double doubled) {
                assertThat(doubled.accounts().isEmpty()).isFalse();
                doubled.accounts().forEach((int n) -> {
                    assertThat(own.seated().contains(n)).isTrue();
                    for (String component : plan.components())
                        if (own.carries(component, n))
                            assertThat(without(plan, seats, n)).contains(component);
                });
            }
            if (finding instanceof SeatFinding.Ending ending)
                ground.directory()
                        .active()
                        .forEach((int n) -> assertThat(ending.losing().contains(n))
                                .isEqualTo(plan.components().stream()
                                        .anyMatch(c -> own.carries(c, n)
                                                && !without(plan, seats, n).contains(c))));
            if (finding instanceof SeatFinding.Unused unused) {
                String since = NOW.minus(SeatFinding.LONG).toString();
                ground.directory()
                        .active()
                        .forEach((int n) -> assertThat(unused.accounts().contains(n))
                                .isEqualTo(own.seated().contains(n)
                                        && ground.directory()
                                                .account(n)
                                                .lastSeen()
                                                .filter(day -> day.toString().compareTo(since.substring(0, 10)) < 0)
                                                .isPresent()));
            }
            if (finding instanceof SeatFinding.IdleRule idle)
                assertThat(own.claimants().stream()
                                .filter(n -> ground.directory()
                                        .holds(
                                                plan.rules()
                                                        .get(idle.rule() - 1)
                                                        .assignment()
                                                        .target(),
                                                n)))
                        .isEmpty();
        }
        assertThat(findings.stream()
                        .filter(f -> f instanceof SeatFinding.Double)
                        .map(SeatFinding::plan))
                .doesNotHaveDuplicates();
    }
}
