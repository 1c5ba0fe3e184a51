package leanladder.server.http.protection;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import io.javalin.http.Context;
import java.time.Duration;
import java.util.function.LongSupplier;
import leanladder.server.http.ProblemException;

/** How many requests one client may make: generously many, by a bucket that fills again at a steady rate. */
public final class RateLimiter {
    private static final long SECOND = Duration.ofSeconds(1).toNanos();
    private static final int CLIENTS_KNOWN = 10_000;

    private final int aSecond;
    private final int atOnce;
    private final LongSupplier nanos;
    private final Cache<String, Bucket> buckets =
            Caffeine.newBuilder().maximumSize(CLIENTS_KNOWN).build();

    /**
     * Rates by a clock.
     *
     * @param aSecond how many requests a client may make each second for as long as it likes
     * @param atOnce how many it may make at once after a rest
     * @param nanos a clock that only goes forward
     */
    public RateLimiter(int aSecond, int atOnce, LongSupplier nanos) {
        this.aSecond = aSecond;
        this.atOnce = atOnce;
        this.nanos = nanos;
    }

    /** So many each second, and twice as many at once after a rest. */
    public static RateLimiter of(int aSecond) {
        return new RateLimiter(aSecond, 2 * aSecond, System::nanoTime);
    }

    private static final class Bucket {
        double left;
        long at;
    }

    /** Counts a request, and refuses it when there were too many. */
    public void check(Context ctx) {
        if (take(ctx.ip())) return;
        throw ProblemException.refused(
                429,
                "Too many",
                "More than " + aSecond + " requests a second came from here for a while; wait a second and go on.");
    }

    /** Whether a client may make another request now, which is counted. */
    boolean take(String client) {
        Bucket bucket = buckets.get(client, c -> {
            Bucket fresh = new Bucket();
            fresh.left = atOnce;
            fresh.at = nanos.getAsLong();
            return fresh;
        });
        synchronized (bucket) {
            long now = nanos.getAsLong();
            bucket.left = Math.min(atOnce, bucket.left + (double) (now - bucket.at) / SECOND * aSecond);
            bucket.at = now;
            if (bucket.left < 1) return false;
            bucket.left--;
            return true;
        }
    }
}
