package leanladder.server.http;

import io.javalin.http.Context;
import java.time.Duration;
import java.util.UUID;
import leanladder.store.db.RequestTimings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.slf4j.MDC;

/**
 * Gives each request an id, which appears in the log, in the header {@code X-Request-Id} of the response, and in problems. Slow requests are logged.
 */
public final class RequestTracing {
    private static final Logger LOG = LoggerFactory.getLogger(RequestTracing.class);
    private static final Duration SLOW = Duration.ofSeconds(2);
    private static final String ID = RequestTracing.class.getName() + ".id";
    private static final String BEGUN = RequestTracing.class.getName() + ".begun";
    private static final String REQUEST = "request";

    private RequestTracing() {}

    /** Begins. An id that the caller sends, of letters, digits and hyphens, is taken over. */
    public static void begin(Context ctx) {
        String sent = ctx.header("X-Request-Id");
        String id = sent != null && sent.matches("[A-Za-z0-9-]{1,64}")
                ? sent
                : UUID.randomUUID().toString().substring(0, 13);
        ctx.attribute(ID, id);
        ctx.attribute(BEGUN, System.nanoTime());
        ctx.header("X-Request-Id", id);
        MDC.put(REQUEST, id);
        RequestTimings.told();
    }

    /** The route of a request as it is described, such as {@code /api/v1/changes/{number}}; what stands for anything may be a secret. */
    public static String route(Context ctx) {
        var endpoint = ctx.endpoints().lastHttpEndpoint();
        return endpoint == null ? "none" : endpoint.path;
    }

    /** Its id. */
    public static String id(Context ctx) {
        String id = ctx.attribute(ID);
        return id == null ? "" : id;
    }

    /** Ends, and gives how long it took. */
    public static Duration end(Context ctx) {
        Long begun = ctx.attribute(BEGUN);
        Duration took = begun == null ? Duration.ZERO : Duration.ofNanos(System.nanoTime() - begun);
        String spent = RequestTimings.told();
        if (took.compareTo(SLOW) > 0)
            LOG.warn(
                    "{} {} took {} ms{}, and was answered with {}",
                    ctx.method(),
                    route(ctx),
                    took.toMillis(),
                    spent.isEmpty() ? "" : ", " + spent,
                    ctx.status().getCode());
        MDC.remove(REQUEST);
        return took;
    }
}
