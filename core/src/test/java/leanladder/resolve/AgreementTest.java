package leanladder.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeSet;
import java.util.stream.Stream;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

class AgreementTest {
    @Property(tries = 1000)
    void climbAndSolutionAgreeOnEveryCell(@ForAll long seed) {
        Ground ground = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        for (Instant at : instants(ground.estate()))
            for (Optional<String> workspace : workspaces(ground.estate())) compare(ground, new Question(at, workspace));
    }

    @Property(tries = 300)
    void theColumnsOfSomeAreTheSameClimbedOrSolved(@ForAll long seed) {
        Ground ground = new Ground(RandomEstate.read(RandomEstate.json(seed)));
        Random random = new Random(seed);
        RoaringBitmap some = new RoaringBitmap();
        ground.directory().active().forEach((int account) -> {
            if (random.nextBoolean()) some.add(account);
        });
        for (Optional<String> workspace : workspaces(ground.estate())) {
            Question question = new Question(RandomEstate.NOW, workspace);
            Solution solved = Solution.among(some, ground, question, ground.seats(question.at()));
            ClimbedColumns climbed = new ClimbedColumns(some, ground, question, ground.seats(question.at()));
            for (String key : ground.estate().catalogue().settings().keySet())
                assertThat(shares(climbed.column(key, some)))
                        .as("%s at %s", key, question)
                        .isEqualTo(shares(solved.column(key)));
        }
    }

    private static Map<Outcome, RoaringBitmap> shares(Column column) {
        Map<Outcome, RoaringBitmap> shares = new HashMap<>();
        for (Share<Outcome> share : column.shares()) {
            assertThat(share.accounts().isEmpty()).isFalse();
            assertThat(shares.put(share.what(), share.accounts())).isNull();
        }
        return shares;
    }

    private static void compare(Ground ground, Question question) {
        Solution solution = new Solution(ground, question);
        Entitlements entitlements = ground.seats(question.at());
        for (Account account : ground.estate().accounts()) {
            if (!account.active()) continue;
            Climber climber = new Climber(ground, question, entitlements, account);
            int number = ground.directory().number(account.id());
            for (Setting setting : ground.estate().catalogue().settings().values()) {
                Climb climb = climber.climb(setting);
                assertThat(solution.column(setting.key()).of(number))
                        .as("%s for %s at %s", setting.key(), account.id(), question)
                        .isEqualTo(climb.outcome());
                holdsTogether(climb);
            }
        }
        for (Setting setting : ground.estate().catalogue().settings().values()) {
            long covered = solution.column(setting.key()).shares().stream()
                    .mapToLong(s -> s.accounts().getCardinality())
                    .sum();
            assertThat(covered).isEqualTo(ground.directory().active().getCardinality());
        }
    }

    /** The verdicts of a climb tell the same story as its outcome, and it can be told. */
    private static void holdsTogether(Climb climb) {
        List<Climb.Weighed> deciding = climb.weighed().stream()
                .filter(w -> w.verdict() == Verdict.DECIDES)
                .toList();
        assertThat(deciding.stream().map(w -> w.spoken().policy().id()).toList())
                .isEqualTo(climb.outcome().policy().stream().toList());
        assertThat(climb.weighed().stream()
                        .filter(w -> w.verdict() == Verdict.BINDS)
                        .map(w -> w.spoken().policy().id())
                        .toList())
                .isEqualTo(climb.outcome().cappedBy().stream().toList());
        assertThat(climb.gates().stream()
                        .filter(g -> !g.met())
                        .map(Climb.Gate::need)
                        .toList())
                .isEqualTo(climb.outcome().blockedBy());
        assertThat(climb.weighed())
                .isSortedAccordingTo(java.util.Comparator.comparing(w -> w.way().rung()));
    }

    /** Before, at and after every window edge, opening, consent, term and early opening. */
    static List<Instant> instants(Estate estate) {
        TreeSet<Instant> edges = new TreeSet<>();
        edges.add(RandomEstate.NOW);
        estate.policies()
                .forEach(p -> p.assignments().forEach(a -> a.window().edges().forEach(edges::add)));
        estate.plans().forEach(p -> p.term().edges().forEach(edges::add));
        estate.plans()
                .forEach(p -> p.assignments().forEach(a -> a.window().edges().forEach(edges::add)));
        estate.accounts().forEach(a -> a.consents().forEach(c -> c.edges().forEach(edges::add)));
        estate.catalogue()
                .settings()
                .keySet()
                .forEach(k -> estate.release(k).ifPresent(r -> {
                    r.edges().forEach(edges::add);
                }));
        List<Instant> around = new ArrayList<>();
        edges.forEach(e -> around.addAll(List.of(e.minusNanos(1), e, e.plusSeconds(1))));
        return around;
    }

    static List<Optional<String>> workspaces(Estate estate) {
        return Stream.concat(
                        Stream.of(Optional.<String>empty()),
                        estate.workspaces().stream().map(w -> Optional.of(w.id())))
                .toList();
    }
}
