package leanladder.server.http;

import io.javalin.config.JavalinConfig;
import java.time.Duration;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.NetworkConnectionLimit;
import org.eclipse.jetty.server.handler.EagerContentHandler;
import org.eclipse.jetty.server.handler.MinimumDataRateHandler;
import org.eclipse.jetty.server.handler.QoSHandler;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/**
 * How requests come in, so that no client keeps others waiting. Ordinary bodies are read without a thread, however slowly they come;
 * one that comes more slowly than a bound is given up. So many requests are worked on at once; some more wait their turn, and the
 * rest are told at once that the server is busy. Event streams are not counted, for they hold no thread.
 */
public final class FrontDoor {
    private static final int THREADS = 120;
    private static final int AT_ONCE = 96;
    private static final int WAITING = 1000;
    private static final Duration PATIENCE = Duration.ofSeconds(5);
    private static final int CONNECTIONS = 8000;
    private static final int FRAMING = 64;
    private static final long BYTES_A_SECOND = 50;

    private FrontDoor() {}

    /** Sets it up. */
    public static void open(JavalinConfig config) {
        QueuedThreadPool threads = new QueuedThreadPool(THREADS);
        threads.setName("requests");
        config.jetty.threadPool = threads;
        config.jetty.modifyHttpConfiguration(http -> http.setSendServerVersion(false));
        config.jetty.modifyServer(server -> {
            server.setErrorHandler(new Unanswered());
            server.addBean(new NetworkConnectionLimit(CONNECTIONS, server));
            Handler.Singleton whole = new EagerContentHandler(
                    new EagerContentHandler.RetainedContentLoaderFactory(Limits.BODY, FRAMING, false));
            Handler.Singleton rate = new MinimumDataRateHandler(BYTES_A_SECOND, 0);
            QoSHandler turns = new QoSHandler();
            turns.setMaxRequestCount(AT_ONCE);
            turns.setMaxSuspendedRequestCount(WAITING);
            turns.setMaxSuspend(PATIENCE);
            turns.excludePath(Api.ROOT + "/events");
            turns.excludePath("/health/*");
            server.setHandler(rate);
            rate.setHandler(whole);
            whole.setHandler(turns);
        });
    }
}
