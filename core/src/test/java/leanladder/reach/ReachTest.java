package leanladder.reach;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.resolve.CompiledEstate;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class ReachTest {
    @Property(tries = 400)
    void setsAndSingleAccountsAreReachedOnTheSameRung(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        List<Optional<String>> workspaces = new ArrayList<>(List.of(Optional.empty()));
        compiledEstate.estate().workspaces().forEach(w -> workspaces.add(Optional.of(w.id())));
        for (Policy policy : compiledEstate.estate().policies()) {
            List<Assignment> holding = policy.assignments().stream()
                    .filter(a -> a.window().holds(RandomEstate.NOW))
                    .toList();
            for (Optional<String> workspace : workspaces) {
                PolicyReach sets = PolicyReach.compute(
                        holding, compiledEstate.directory(), Places.of(compiledEstate.estate(), workspace));
                for (Account account : compiledEstate.estate().accounts()) {
                    int number = compiledEstate.directory().number(account.id());
                    List<Rung> rungs = sets.byRung().entrySet().stream()
                            .filter(e -> e.getValue().contains(number))
                            .map(java.util.Map.Entry::getKey)
                            .toList();
                    Optional<MatchPath> way = account.active()
                            ? new AccountReach(compiledEstate.directory(), account)
                                    .reach(
                                            policy.assignments(),
                                            Places.of(compiledEstate.estate(), workspace),
                                            a -> a.window().holds(RandomEstate.NOW))
                            : Optional.empty();
                    assertThat(rungs)
                            .isEqualTo(way.map(MatchPath::rung).stream().toList());
                }
            }
        }
    }

    @Property(tries = 200)
    void theWayThroughGroupsLeadsFromTheTargetToTheAccount(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Directory directory = compiledEstate.directory();
        for (Account account : compiledEstate.estate().accounts()) {
            AccountReach accountReach = new AccountReach(directory, account);
            accountReach.groups().forEach((group, path) -> {
                assertThat(path.get(0)).isEqualTo("group:" + group);
                for (int i = 0; i + 1 < path.size(); i++)
                    assertThat(directory.groupsAround(path.get(i + 1).substring(6)))
                            .contains(path.get(i).substring(6));
                String innermost = path.get(path.size() - 1).substring(6);
                assertThat(directory.groupsOf(account.id()).contains(innermost)
                                || directory.fitting(innermost).contains(directory.number(account.id())))
                        .isTrue();
            });
            compiledEstate
                    .estate()
                    .groups()
                    .forEach(g -> assertThat(directory.members(g.id()).contains(directory.number(account.id())))
                            .isEqualTo(accountReach.groups().containsKey(g.id())));
        }
    }

    @Test
    void rungsSortThemselvesFromLowToHigh() {
        List<Rung> order = List.of(
                Rung.BUILTIN,
                Rung.ORGANISATION,
                Rung.ofUnit(1),
                Rung.ofUnit(2),
                Rung.ofUnit(40),
                Rung.GROUP,
                Rung.WORKSPACE,
                Rung.PERSON);
        List<Rung> shuffled = new ArrayList<>(order);
        java.util.Collections.shuffle(shuffled, new java.util.Random(1));
        assertThat(shuffled.stream().sorted().toList()).isEqualTo(order);
        assertThat(Rung.ofUnit(0)).isEqualTo(Rung.ORGANISATION);
    }
}
