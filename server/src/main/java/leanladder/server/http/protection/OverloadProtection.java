package leanladder.server.http.protection;

import io.javalin.config.JavalinConfig;
import java.time.Duration;
import java.util.List;
import leanladder.server.http.RouteRegistry;
import org.eclipse.jetty.server.Connector;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.NetworkConnectionLimit;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.handler.MinimumDataRateHandler;
import org.eclipse.jetty.util.component.LifeCycle;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/**
 * Configures how requests are accepted, so that no client can keep others waiting. Small bodies are read without a thread ({@link
 * BufferedBodyHandler}). Larger bodies use a limited number of upload slots ({@link UploadSlots}) and fail below a minimum rate ({@link
 * MinimumRateInputStream}). Idle connections are closed when others need them ({@link ConnectionEvictionHandler}). The number of requests in progress
 * is bounded, with a share for each path prefix ({@link FairConcurrencyHandler}). Event streams do not count, since they hold no thread.
 */
public final class OverloadProtection {
    private static final int THREADS = 120;
    private static final int AT_ONCE = 96;
    private static final int WAITING = 1000;
    private static final Duration PATIENCE = Duration.ofSeconds(5);
    private static final int CONNECTIONS = 4000;
    private static final long BYTES_A_SECOND = 50;
    private static final List<String> NEVER_WAIT =
            List.of(RouteRegistry.ROOT + "/events", RouteRegistry.ROOT + "/suite/changes", "/health/*", "/metrics");

    private OverloadProtection() {}

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
            server.setErrorHandler(new ErrorPageHandler());
            server.addBean(new NetworkConnectionLimit(2 * connections(), server));
            Handler.Singleton small = new BufferedBodyHandler();
            Handler.Singleton rate = new MinimumDataRateHandler(BYTES_A_SECOND, 0);
            FairConcurrencyHandler fairConcurrencyHandler = new FairConcurrencyHandler(AT_ONCE, WAITING, PATIENCE);
            NEVER_WAIT.forEach(fairConcurrencyHandler::excludePath);
            ConnectionEvictionHandler connectionEvictionHandler = new ConnectionEvictionHandler(connections());
            UploadSlots large = new UploadSlots(connectionEvictionHandler);
            server.setHandler(rate);
            rate.setHandler(large);
            large.setHandler(small);
            small.setHandler(connectionEvictionHandler);
            connectionEvictionHandler.setHandler(fairConcurrencyHandler);
            server.addEventListener(new LifeCycle.Listener() {
                @Override
                public void lifeCycleStarting(LifeCycle starting) {
                    for (Connector connector : server.getConnectors())
                        if (connector instanceof ServerConnector listening) connectionEvictionHandler.watch(listening);
                }
            });
        });
    }
}
