package leanladder.server.state;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import java.nio.file.Path;
import java.sql.Connection;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import leanladder.RandomEstate;
import leanladder.edit.session.RandomEdits;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.json.Json;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.RunningServer;
import leanladder.server.TestClock;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.journal.Change;
import leanladder.workingcopy.WriteSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** Estates of the past are put together from one that is at hand, and are what reading them whole gives. */
@Timeout(value = 3, unit = TimeUnit.MINUTES)
class PastTest {
    private static final int CHANGES = 8;

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 5, 8})
    void whatIsPutTogetherFromWhatDiffersIsWhatIsReadWhole(long seed) throws Exception {
        TestClock clock = TestClock.standing(RandomEstate.NOW.toString());
        Random random = new Random(seed);
        try (RunningServer server = RunningServer.start(
                ThrowAwayPostgres.get(), "past_test", Path.of("no-web"), Json.write(RandomEstate.json(seed)), clock)) {
            publish(server, clock, random);
            long last = server.store().journal().latest();
            assertThat(last).isGreaterThan(CHANGES / 2);
            Timeline timeline = new Timeline(server.store(), clock);
            List<Long> numbers = new ArrayList<>();
            for (long number = 1; number < last; number++) numbers.add(number);
            // In any order: the nearest one at hand is sometimes earlier and sometimes later.
            Collections.shuffle(numbers, random);
            for (long number : numbers) {
                Snapshot restored = timeline.snapshotAfter(number);
                Snapshot read = timeline.loaded(number);
                assertThat(restored.at()).isEqualTo(read.at());
                assertSame(restored.estate(), read.estate());
                assertThat(holders(restored)).as("holders after " + number).isEqualTo(holders(read));
                for (Duration later : List.of(Duration.ZERO, Duration.ofHours(2))) {
                    EvaluationContext evaluationContext =
                            EvaluationContext.at(read.at().plus(later));
                    assertThat(outcomes(restored, evaluationContext))
                            .as("outcomes after " + number + " at " + evaluationContext.at())
                            .isEqualTo(outcomes(read, evaluationContext));
                }
            }
        }
    }

    @Test
    void whoeverPublishesDoesNotWaitForAnEstateOfThePastThatIsBeingRead() throws Exception {
        try (RunningServer server = RunningServer.start(
                ThrowAwayPostgres.get(), "past_wait_test", Path.of("no-web"), Json.write(RandomEstate.json(1)))) {
            // So many that the newest and the first lie where a table of sixteen places would keep them together.
            for (int i = 1; i <= 16; i++)
                server.post("{\"base\":" + i + ",\"edits\":[{\"kind\":\"add-group\",\"group\":{\"id\":\"crew-" + i
                        + "\",\"name\":\"Crew " + i + "\",\"purpose\":\"access\"}}]}");
            Timeline timeline = new Timeline(server.store(), new TestClock());
            Change newest = server.store().journal().change(17).orElseThrow();
            WriteSet nothing = timeline.editSession(timeline.present()).writeSet();
            try (Connection beside = server.store().database().connect()) {
                beside.setAutoCommit(false);
                beside.createStatement().execute("lock table carried in access exclusive mode");
                CompletableFuture<Snapshot> first = CompletableFuture.supplyAsync(() -> timeline.snapshotAfter(1));
                await().until(() -> server.store().database().connections().active() > 0);
                timeline.step(new Timeline.Step(
                        newest, timeline.present(), Optional.of(nothing), () -> Optional.of(new RoaringBitmap())));
                assertThat(first.isDone()).isFalse();
                beside.rollback();
                assertThat(first.join().change()).isEqualTo(1);
            }
        }
    }

    @Test
    void ofEstatesThatAreReadWholeOneIsReadAtATimeAndFewWait() throws Exception {
        BoundedMutex whole = new BoundedMutex("Several are read at once.");
        AtomicInteger together = new AtomicInteger();
        CountDownLatch released = new CountDownLatch(1);
        List<CompletableFuture<Integer>> asked = new ArrayList<>();
        ExecutorService threads = Executors.newCachedThreadPool();
        try {
            for (int i = 0; i < 20; i++)
                asked.add(CompletableFuture.supplyAsync(
                        () -> whole.run(() -> whole.run(() -> {
                            int now = together.incrementAndGet();
                            waitFor(released);
                            together.decrementAndGet();
                            return now;
                        })),
                        threads));
            await().until(() -> asked.stream().filter(CompletableFuture::isDone).count() == 20 - 1 - 8);
            assertThat(asked.stream().filter(CompletableFuture::isDone))
                    .allSatisfy(told -> assertThatThrownBy(told::join)
                            .hasRootCauseInstanceOf(StateException.class)
                            .hasMessageContaining("Several are read at once. Try again in a moment."));
            released.countDown();
            for (CompletableFuture<Integer> one : asked)
                if (!one.isCompletedExceptionally()) assertThat(one.join()).isEqualTo(1);
            assertThat(asked.stream().filter(CompletableFuture::isCompletedExceptionally))
                    .hasSize(11);
        } finally {
            released.countDown();
            threads.shutdown();
        }
    }

    private static void waitFor(CountDownLatch latch) {
        try {
            latch.await();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void publish(RunningServer server, TestClock clock, Random random) {
        for (int i = 0; i < CHANGES; i++) {
            Timeline timeline = new Timeline(server.store(), clock);
            for (String edit : RandomEdits.all(timeline.present().compiledEstate(), random, 3)) {
                long base = server.store().journal().latest();
                server.post("{\"base\":" + base + ",\"edits\":[" + edit + "]}");
            }
            clock.step(Duration.ofMinutes(20));
        }
    }

    private static void assertSame(Estate restored, Estate read) {
        assertThat(restored.units()).isEqualTo(read.units());
        assertThat(restored.accounts()).isEqualTo(read.accounts());
        assertThat(unordered(restored.groups())).isEqualTo(unordered(read.groups()));
        assertThat(restored.workspaces()).isEqualTo(read.workspaces());
        assertThat(RandomEdits.read(restored.plans())).isEqualTo(RandomEdits.read(read.plans()));
        assertThat(restored.rings()).isEqualTo(read.rings());
        assertThat(Set.copyOf(restored.feedback())).isEqualTo(Set.copyOf(read.feedback()));
        assertThat(restored.policies().stream().map(Policy::id).toList())
                .isEqualTo(read.policies().stream().map(Policy::id).toList());
        assertThat(restored.policies().stream().map(p -> Json.write(p.source())).toList())
                .isEqualTo(read.policies().stream()
                        .map(p -> Json.write(p.source()))
                        .toList());
    }

    private static List<Object> unordered(List<Group> groups) {
        List<Object> all = new ArrayList<>();
        for (Group group : groups)
            all.add(List.of(
                    group.id(),
                    group.name(),
                    group.access(),
                    Set.copyOf(group.owners()),
                    new HashSet<>(group.members().texts().toList())));
        return all;
    }

    private static Map<String, Map<String, Instant>> holders(Snapshot snapshot) {
        Map<String, Map<String, Instant>> holders = new TreeMap<>();
        for (Plan plan : snapshot.estate().plans()) {
            Map<String, Instant> page = holders.computeIfAbsent(plan.id(), p -> new TreeMap<>());
            var held = snapshot.compiledEstate().seatLedger().page(plan.id());
            for (int number : held.holders())
                page.put(
                        snapshot.directory().account(number).id(),
                        held.granted(number).orElseThrow());
        }
        return holders;
    }

    private static Map<String, Map<Outcome, Set<String>>> outcomes(
            Snapshot snapshot, EvaluationContext evaluationContext) {
        Map<String, Map<Outcome, Set<String>>> outcomes = new HashMap<>();
        for (String key : snapshot.estate().catalogue().settings().keySet()) {
            Map<Outcome, Set<String>> shares = outcomes.computeIfAbsent(key, k -> new HashMap<>());
            for (Segment<Outcome> segment : snapshot.resolutionAt(evaluationContext)
                    .columnResolver()
                    .column(key)
                    .shares())
                shares.computeIfAbsent(segment.what(), w -> new TreeSet<>()).addAll(ids(snapshot, segment.accounts()));
        }
        return outcomes;
    }

    private static Set<String> ids(Snapshot snapshot, RoaringBitmap accounts) {
        Set<String> ids = new TreeSet<>();
        accounts.forEach((int n) -> ids.add(snapshot.directory().account(n).id()));
        return ids;
    }
}
