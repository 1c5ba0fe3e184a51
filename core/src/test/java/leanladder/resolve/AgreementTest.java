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
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.reach.Rung;
import leanladder.seat.Entitlements;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

class AgreementTest {
    @Property(tries = 500)
    void climbAndSolutionAgreeOnEveryCell(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Random random = new Random(seed);
        // Half of them at each try: which, is another matter of chance.
        for (Instant at : instants(compiledEstate.estate()))
            for (Optional<String> workspace : workspaces(compiledEstate.estate()))
                if (random.nextBoolean()) compare(compiledEstate, new EvaluationContext(at, workspace));
    }

    @Property(tries = 300)
    void theColumnsOfSomeAreTheSameClimbedOrSolved(@ForAll long seed) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(RandomEstate.json(seed)));
        Random random = new Random(seed);
        RoaringBitmap some = new RoaringBitmap();
        compiledEstate.directory().active().forEach((int account) -> {
            if (random.nextBoolean()) some.add(account);
        });
        for (Optional<String> workspace : workspaces(compiledEstate.estate())) {
            EvaluationContext evaluationContext = new EvaluationContext(RandomEstate.NOW, workspace);
            ColumnResolver solved = ColumnResolver.among(
                    some, compiledEstate, evaluationContext, compiledEstate.seats(evaluationContext.at()));
            PerAccountColumns climbed = new PerAccountColumns(
                    some, compiledEstate, evaluationContext, compiledEstate.seats(evaluationContext.at()));
            for (String key : compiledEstate.estate().catalogue().settings().keySet())
                assertThat(shares(climbed.column(key, some)))
                        .as("%s at %s", key, evaluationContext)
                        .isEqualTo(shares(solved.column(key)));
        }
    }

    private static Map<Outcome, RoaringBitmap> shares(Column column) {
        Map<Outcome, RoaringBitmap> shares = new HashMap<>();
        for (Segment<Outcome> segment : column.shares()) {
            assertThat(segment.accounts().isEmpty()).isFalse();
            assertThat(shares.put(segment.what(), segment.accounts())).isNull();
        }
        return shares;
    }

    private static void compare(CompiledEstate compiledEstate, EvaluationContext evaluationContext) {
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, evaluationContext);
        Entitlements entitlements = compiledEstate.seats(evaluationContext.at());
        for (Account account : compiledEstate.estate().accounts()) {
            if (!account.active()) continue;
            AccountResolver accountResolver =
                    new AccountResolver(compiledEstate, evaluationContext, entitlements, account);
            int number = compiledEstate.directory().number(account.id());
            for (Setting setting :
                    compiledEstate.estate().catalogue().settings().values()) {
                Climb climb = accountResolver.climb(setting);
                Outcome solved = columnResolver.column(setting.key()).of(number);
                if (!solved.equals(climb.outcome()))
                    assertThat(solved)
                            .as("%s for %s at %s", setting.key(), account.id(), evaluationContext)
                            .isEqualTo(climb.outcome());
                holdsTogether(climb);
            }
        }
        for (Setting setting : compiledEstate.estate().catalogue().settings().values()) {
            long covered = columnResolver.column(setting.key()).shares().stream()
                    .mapToLong(s -> s.accounts().getCardinality())
                    .sum();
            assertThat(covered).isEqualTo(compiledEstate.directory().active().getCardinality());
        }
    }

    /** The verdicts of a climb tell the same story as its outcome, and it can be told. */
    private static void holdsTogether(Climb climb) {
        same(policies(climb, Verdict.DECIDES), climb.outcome().policy().stream().toList(), climb);
        same(policies(climb, Verdict.BINDS), climb.outcome().cappedBy().stream().toList(), climb);
        List<Need> unmet = new ArrayList<>();
        for (Climb.Gate gate : climb.gates()) if (!gate.met()) unmet.add(gate.need());
        same(unmet, climb.outcome().blockedBy(), climb);
        List<Rung> rungs = new ArrayList<>();
        for (Climb.Entry entry : climb.entries()) rungs.add(entry.matchPath().rung());
        same(rungs, rungs.stream().sorted().toList(), climb);
    }

    private static List<String> policies(Climb climb, Verdict verdict) {
        List<String> policies = new ArrayList<>();
        for (Climb.Entry entry : climb.entries())
            if (entry.verdict() == verdict)
                policies.add(entry.rankedStatement().policy().id());
        return policies;
    }

    /** Asserts what is told of a climb; of millions of cells only one that is wrong is described. */
    private static void same(List<?> told, List<?> wanted, Climb climb) {
        if (!told.equals(wanted)) assertThat(told).as("%s", climb).isEqualTo(wanted);
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
