package leanladder.server.http.protection;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.LocalConnector;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.util.Callback;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(value = 1, unit = TimeUnit.MINUTES)
class FairConcurrencyHandlerTest {
    private static final int PLACES = 12;
    /** Half as many as they leave free: 4 of 12. */
    private static final int SHARE = 4;

    private static final Duration SOON = Duration.ofSeconds(20);

    private final Server server = new Server();
    private final LocalConnector connector = new LocalConnector(server);
    private final ExecutorService clients = Executors.newCachedThreadPool();
    private final CountDownLatch released = new CountDownLatch(1);
    private final Map<String, AtomicInteger> workedOn = new ConcurrentHashMap<>();
    private final ConcurrentLinkedQueue<Integer> most = new ConcurrentLinkedQueue<>();

    /** Answers what is costly once it is released, fails at what is broken, and answers all else at once. */
    private final class Work extends Handler.Abstract {
        @Override
        public boolean handle(Request request, Response response, Callback callback) throws Exception {
            String path = Request.getPathInContext(request);
            AtomicInteger alike = workedOn.computeIfAbsent(path.split("/")[3], p -> new AtomicInteger());
            most.add(alike.incrementAndGet());
            try {
                if (path.contains("costly")) released.await();
                if (path.contains("broken")) throw new IllegalStateException("broken");
            } finally {
                alike.decrementAndGet();
            }
            callback.succeeded();
            return true;
        }
    }

    private void start(int mostWaiting, Duration patience) throws Exception {
        FairConcurrencyHandler fairConcurrencyHandler = new FairConcurrencyHandler(PLACES, mostWaiting, patience);
        fairConcurrencyHandler.excludePath("/api/v1/costly-but-free");
        server.addConnector(connector);
        server.setHandler(fairConcurrencyHandler);
        fairConcurrencyHandler.setHandler(new Work());
        server.start();
    }

    @AfterEach
    void stop() throws Exception {
        released.countDown();
        clients.shutdown();
        server.stop();
    }

    private int asked(String path) throws Exception {
        String answer = connector.getResponse(
                "GET " + path + " HTTP/1.1\r\nHost: here\r\nConnection: close\r\n\r\n", 1, TimeUnit.MINUTES);
        return Integer.parseInt(answer.substring("HTTP/1.1 ".length()).substring(0, 3));
    }

    private List<Future<Integer>> asked(String path, int times) {
        List<Future<Integer>> answers = new ArrayList<>();
        for (int i = 0; i < times; i++) answers.add(clients.submit(() -> asked(path)));
        return answers;
    }

    private int workedOn(String kind) {
        return workedOn.getOrDefault(kind, new AtomicInteger()).get();
    }

    @Test
    void manyThatAreCostlyLeaveRoomForOthersAndAreAnsweredInTheirTurn() throws Exception {
        start(100, Duration.ofMinutes(1));
        List<Future<Integer>> costly = asked("/api/v1/costly/1", 10);
        await().atMost(SOON).until(() -> workedOn("costly") == SHARE);
        assertThat(asked("/api/v1/cheap")).isEqualTo(200);
        List<Future<Integer>> free = asked("/api/v1/costly-but-free", 10);
        await().atMost(SOON).until(() -> workedOn("costly-but-free") == 10);
        assertThat(workedOn("costly")).isEqualTo(SHARE);
        released.countDown();
        for (Future<Integer> one : costly) assertThat(one.get()).isEqualTo(200);
        for (Future<Integer> one : free) assertThat(one.get()).isEqualTo(200);
        assertThat(most.stream().filter(n -> n > SHARE).count())
                .as("only those that are not shared out")
                .isEqualTo(10 - SHARE);
    }

    @Test
    void eachFurtherThingThatIsAskedAboutFindsRoom() throws Exception {
        start(100, Duration.ofMinutes(1));
        List<Future<Integer>> costly = new ArrayList<>();
        List<Integer> shares = List.of(4, 3, 2, 1, 1);
        for (int i = 0; i < shares.size(); i++) {
            String kind = "costly-" + i;
            int share = shares.get(i);
            costly.addAll(asked("/api/v1/" + kind, 10));
            await().atMost(SOON).until(() -> workedOn(kind) == share);
            assertThat(asked("/api/v1/cheap")).isEqualTo(200);
        }
        assertThat(workedOn("costly-0")).isEqualTo(4);
        released.countDown();
        for (Future<Integer> one : costly) assertThat(one.get()).isEqualTo(200);
    }

    @Test
    void onesThatFailGiveTheirPlacesBack() throws Exception {
        start(100, Duration.ofMinutes(1));
        for (Future<Integer> one : asked("/api/v1/broken", 20))
            assertThat(one.get()).isEqualTo(500);
        assertThat(asked("/api/v1/broken/again")).isEqualTo(500);
    }

    @Test
    void whoWaitsTooLongIsToldAndTakesNoTurn() throws Exception {
        start(100, Duration.ofMillis(50));
        List<Future<Integer>> first = asked("/api/v1/costly", SHARE);
        await().atMost(SOON).until(() -> workedOn("costly") == SHARE);
        for (Future<Integer> late : asked("/api/v1/costly", 5))
            assertThat(late.get()).isEqualTo(503);
        released.countDown();
        for (Future<Integer> one : first) assertThat(one.get()).isEqualTo(200);
        assertThat(most).hasSize(SHARE);
        assertThat(asked("/api/v1/costly")).isEqualTo(200);
    }

    @Test
    void whereTooManyWaitTheNextOnesAreToldAtOnce() throws Exception {
        start(3, Duration.ofMinutes(1));
        List<Future<Integer>> costly = asked("/api/v1/costly", 20);
        await().atMost(SOON).until(() -> costly.stream().filter(Future::isDone).count() == 20 - SHARE - 3);
        released.countDown();
        int answered = 0;
        for (Future<Integer> one : costly) if (one.get() == 200) answered++;
        assertThat(answered).isEqualTo(SHARE + 3);
    }
}
