package leanladder.server.state;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.server.TestClock;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.db.WriteRequest;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(value = 2, unit = TimeUnit.MINUTES)
class BackgroundSchedulerTest {
    private final TestClock clock = new TestClock();
    private Store store;
    private BackgroundScheduler scheduler;

    @BeforeEach
    void start() throws Exception {
        store = ThrowAwayPostgres.get().newStore("scheduler_test");
        Timeline timeline = new Timeline(store, clock);
        Publisher publisher = new Publisher(store, timeline);
        publisher.replace(
                WriteRequest.by("Ivo Tarn", clock.instant()),
                new ByteArrayInputStream(Json.write(RandomEstate.json(7)).getBytes(StandardCharsets.UTF_8)),
                Optional.empty(),
                "");
        scheduler = new BackgroundScheduler(store, timeline, publisher, new ChangeEventPublisher(timeline));
    }

    @AfterEach
    void stop() {
        scheduler.close();
        store.close();
    }

    private BackgroundScheduler.TaskState state(String name) {
        return scheduler.states().stream()
                .filter(s -> s.name().equals(name))
                .findFirst()
                .orElseThrow();
    }

    private static void until(java.util.concurrent.Callable<Boolean> holds) {
        await().atMost(Duration.ofSeconds(30)).until(holds);
    }

    @Test
    void aTaskThatFailsOrHangsDelaysNoOther() {
        AtomicInteger runs = new AtomicInteger();
        CountDownLatch never = new CountDownLatch(1);
        scheduler.everyTickOnLeader("fails", () -> {
            throw new IllegalStateException("A defect of ours");
        });
        scheduler.everyTickOnLeader("breaks", () -> {
            throw new StackOverflowError();
        });
        scheduler.everyTickOnLeader("hangs", () -> {
            try {
                never.await();
            } catch (InterruptedException ended) {
                Thread.currentThread().interrupt();
            }
        });
        scheduler.everyTickOnLeader("counts", runs::incrementAndGet);
        scheduler.start();
        until(() -> runs.get() > 3
                && state("fails").failures() > 0
                && state("breaks").failures() > 0);
        assertThat(state("fails").trouble()).isEqualTo("A defect of ours");
        assertThat(state("counts").failures()).isZero();
    }

    @Test
    void aTaskThatFailsIsTriedAgainAfterAPauseAndIsWellOnceItSucceeds() {
        AtomicInteger runs = new AtomicInteger();
        scheduler.everyTickOnLeader("fails twice", () -> {
            if (runs.incrementAndGet() <= 2) throw new IllegalStateException("Not yet");
        });
        scheduler.start();
        until(() -> runs.get() == 1);
        until(() -> state("fails twice").nextMillis() > 0);
        until(() -> runs.get() > 3);
        assertThat(state("fails twice").failures()).isZero();
        assertThat(state("fails twice").allFailures()).isEqualTo(2);
    }

    @Test
    void workThatIsAskedForWhileItRunsRunsOnceMore() throws Exception {
        AtomicInteger runs = new AtomicInteger();
        CountDownLatch first = new CountDownLatch(1);
        CountDownLatch asked = new CountDownLatch(1);
        BackgroundScheduler.Task task = scheduler.onRequest("asked for", () -> {
            if (runs.incrementAndGet() > 1) return;
            first.countDown();
            try {
                asked.await();
            } catch (InterruptedException ended) {
                Thread.currentThread().interrupt();
            }
        });
        scheduler.start();
        task.request();
        first.await();
        for (int i = 0; i < 5; i++) task.request();
        asked.countDown();
        until(() -> runs.get() == 2);
        until(() -> state("asked for").runs() == 2);
    }
}
