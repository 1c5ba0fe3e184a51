package leanladder.server.http;

import io.javalin.config.JavalinConfig;
import java.time.Duration;
import java.util.List;
import org.eclipse.jetty.server.Connector;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.NetworkConnectionLimit;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.handler.MinimumDataRateHandler;
import org.eclipse.jetty.util.component.LifeCycle;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/**
 * How requests come in, so that no client keeps others waiting. Small bodies are read without a thread, however slowly they come
 * ({@link SmallBodies}); others come by few places ({@link LargePlaces}); one that comes more slowly than a bound is given up, and whoever
 * sends nothing makes room for others ({@link Connections}). So many requests are worked on at once, of those that ask about one thing a
 * share; some more wait their turn, and the rest are told at once that the server is busy ({@link Shares}). Event streams are not counted, for
 * they hold no thread.
 */
public final class FrontDoor {
    private static final int THREADS = 120;
    private static final int AT_ONCE = 96;
    private static final int WAITING = 1000;
    private static final Duration PATIENCE = Duration.ofSeconds(5);
    private static final int CONNECTIONS = 4000;
    private static final long BYTES_A_SECOND = 50;
    private static final List<String> NEVER_WAIT =
            List.of(Api.ROOT + "/events", Api.ROOT + "/suite/changes", "/health/*", "/metrics");

    private FrontDoor() {}

    /** So many connections may be open before those that send nothing are closed for others; twice as many are never open. */
    public static int connections() {
        return Integer.getInteger("ladder.connections", CONNECTIONS);
    }

    /** Sets it up. */
    public static void open(JavalinConfig config) {
        QueuedThreadPool threads = new QueuedThreadPool(THREADS);
        threads.setName("requests");
        config.jetty.threadPool = threads;
        config.jetty.modifyHttpConfiguration(http -> http.setSendServerVersion(false));
        config.jetty.modifyServer(server -> {
            server.setErrorHandler(new Unanswered());
            server.addBean(new NetworkConnectionLimit(2 * connections(), server));
            Handler.Singleton small = new SmallBodies();
            Handler.Singleton rate = new MinimumDataRateHandler(BYTES_A_SECOND, 0);
            Shares shares = new Shares(AT_ONCE, WAITING, PATIENCE);
            NEVER_WAIT.forEach(shares::excludePath);
            Connections connections = new Connections(connections());
            LargePlaces large = new LargePlaces(connections);
            server.setHandler(rate);
            rate.setHandler(large);
            large.setHandler(small);
            small.setHandler(connections);
            connections.setHandler(shares);
            server.addEventListener(new LifeCycle.Listener() {
                @Override
                public void lifeCycleStarting(LifeCycle starting) {
                    for (Connector connector : server.getConnectors())
                        if (connector instanceof ServerConnector listening) connections.watch(listening);
                }
            });
        });
    }
}
