package leanladder.server.http.protection;

import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.Set;
import org.eclipse.jetty.io.Connection;
import org.eclipse.jetty.io.EofException;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.util.Callback;

/**
 * Bounds the number of open connections. A connection is idle while it has sent no complete request. When a new connection exceeds the bound, the
 * connection that has been idle longest is closed, so that idle connections cannot keep active clients out. A connection with a request in progress
 * is never closed.
 */
final class ConnectionEvictionHandler extends Handler.Wrapper implements Connection.Listener {
    /** So many that the operating system has connected wait here; whom it has to turn away tries again after whole seconds. */
    private static final int QUEUE = 1024;

    private final int most;
    private final Set<Connection> open = new HashSet<>();
    private final Set<Connection> waiting = new LinkedHashSet<>();

    /** @param most so many are open before one is closed for another */
    ConnectionEvictionHandler(int most) {
        this.most = most;
    }

    /** Watches what comes in by a connector that has not started yet. */
    void watch(ServerConnector connector) {
        connector.setAcceptQueueSize(QUEUE);
        connector.addBean(this, false);
    }

    @Override
    public void onOpened(Connection connection) {
        Connection longest = null;
        synchronized (this) {
            open.add(connection);
            if (open.size() > most && !waiting.isEmpty()) {
                longest = waiting.iterator().next();
                onClosed(longest);
            }
            waiting.add(connection);
        }
        if (longest != null) longest.close();
    }

    @Override
    public synchronized void onClosed(Connection connection) {
        open.remove(connection);
        waiting.remove(connection);
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) throws Exception {
        Connection connection = request.getConnectionMetaData().getConnection();
        boolean isOpen;
        synchronized (this) {
            isOpen = open.contains(connection);
            waiting.remove(connection);
        }
        if (!isOpen) {
            // Half a request, whose connection was closed before it had come whole, goes no further.
            callback.failed(new EofException());
            return true;
        }
        Request.addCompletionListener(request, failure -> markIdle(connection));
        return super.handle(request, response, callback);
    }

    private synchronized void markIdle(Connection connection) {
        if (open.contains(connection)) waiting.add(connection);
    }
}
