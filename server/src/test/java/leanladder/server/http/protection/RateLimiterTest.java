package leanladder.server.http.protection;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

class RateLimiterTest {
    private final AtomicLong nanos = new AtomicLong();
    private final RateLimiter rateLimiter = new RateLimiter(10, 20, nanos::get);

    private int taken(String client, int tries) {
        int taken = 0;
        for (int i = 0; i < tries; i++) if (rateLimiter.take(client)) taken++;
        return taken;
    }

    @Test
    void aClientMayBurstAndThenGoesOnAtItsRate() {
        assertThat(taken("a", 100)).isEqualTo(20);
        nanos.addAndGet(TimeUnit.MILLISECONDS.toNanos(500));
        assertThat(taken("a", 100)).isEqualTo(5);
        nanos.addAndGet(TimeUnit.MINUTES.toNanos(5));
        assertThat(taken("a", 100)).isEqualTo(20);
    }

    @Test
    void oneClientTakesNothingFromAnother() {
        taken("a", 100);
        assertThat(taken("b", 100)).isEqualTo(20);
    }
}
