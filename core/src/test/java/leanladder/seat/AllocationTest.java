package leanladder.seat;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.RandomEstate;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.reach.AccountReach;
import leanladder.reach.MatchPath;
import leanladder.reach.Places;
import leanladder.reach.Rung;
import leanladder.resolve.CompiledEstate;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

class AllocationTest {
    /** Account by account, as resolution.md, section 6, is written: slow, and without a set. */
    @Property(tries = 500)
    void seatsAgreeWithAReckoningAccountByAccount(@ForAll long seed) {
        Estate estate = RandomEstate.read(RandomEstate.json(seed));
        CompiledEstate compiledEstate = new CompiledEstate(estate);
        for (Allocation allocation : compiledEstate.seats(RandomEstate.NOW).allocations()) {
            Plan plan = allocation.plan();
            List<Plan.Holder> holders = estate.holders().getOrDefault(plan.id(), List.of());
            List<String> claims = claims(compiledEstate, plan, holders);
            int seats = Math.min(plan.seats(RandomEstate.NOW), claims.size());
            assertThat(allocation.seatedInOrder()).isEqualTo(claims.subList(0, seats));
            assertThat(allocation.waiting()).isEqualTo(claims.subList(seats, claims.size()));
            Set<String> seated = new HashSet<>();
            allocation
                    .seated()
                    .forEach((int n) ->
                            seated.add(compiledEstate.directory().account(n).id()));
            assertThat(seated).isEqualTo(new HashSet<>(claims.subList(0, seats)));
            assertThat(allocation.released())
                    .isEqualTo(holders.stream()
                            .map(Plan.Holder::account)
                            .filter(a -> !claims.contains(a))
                            .sorted()
                            .toList());
            checkComponents(compiledEstate, allocation, seated);
        }
    }

    private static void checkComponents(CompiledEstate compiledEstate, Allocation allocation, Set<String> seated) {
        Plan plan = allocation.plan();
        for (String component : plan.components()) {
            for (Account account : compiledEstate.estate().accounts()) {
                AccountReach accountReach = new AccountReach(compiledEstate.directory(), account);
                boolean carried = seated.contains(account.id())
                        && plan.term().holds(RandomEstate.NOW)
                        && plan.rules().stream()
                                .filter(r -> r.assignment().include()
                                        && r.assignment().window().holds(RandomEstate.NOW))
                                .filter(r ->
                                        accountReach.isHeldBy(r.assignment().target()))
                                .anyMatch(r -> !r.off().contains(component));
                assertThat(allocation
                                .carrying(component)
                                .contains(compiledEstate.directory().number(account.id())))
                        .isEqualTo(carried);
            }
        }
    }

    private static List<String> claims(CompiledEstate compiledEstate, Plan plan, List<Plan.Holder> listed) {
        record Claim(String account, Optional<Plan.Holder> holder, boolean named, int rule, LocalDate started) {}
        List<Claim> claims = new ArrayList<>();
        for (Account account : compiledEstate.estate().accounts()) {
            if (!account.active() || !plan.kinds().contains(account.kind())) continue;
            AccountReach accountReach = new AccountReach(compiledEstate.directory(), account);
            Optional<MatchPath> way = accountReach.reach(
                    plan.assignments(), Places.NONE, a -> a.window().holds(RandomEstate.NOW));
            if (way.isEmpty()) continue;
            int rule = 0;
            while (!plan.assignments().get(rule).include()
                    || !plan.assignments().get(rule).window().holds(RandomEstate.NOW)
                    || !accountReach.isHeldBy(plan.assignments().get(rule).target())) rule++;
            claims.add(new Claim(
                    account.id(),
                    listed.stream()
                            .filter(h -> h.account().equals(account.id()))
                            .findFirst(),
                    way.get().rung().equals(Rung.PERSON),
                    rule,
                    account.started().orElse(LocalDate.MAX)));
        }
        Comparator<Claim> others = Comparator.comparing(Claim::named)
                .reversed()
                .thenComparing(Claim::rule)
                .thenComparing(Claim::started)
                .thenComparing(Claim::account);
        Comparator<Claim> holders = Comparator.comparing(
                        (Claim c) -> c.holder().orElseThrow().granted())
                .thenComparing(others);
        List<String> order = new ArrayList<>();
        claims.stream().filter(c -> c.holder().isPresent()).sorted(holders).forEach(c -> order.add(c.account()));
        claims.stream().filter(c -> c.holder().isEmpty()).sorted(others).forEach(c -> order.add(c.account()));
        return order;
    }
}
