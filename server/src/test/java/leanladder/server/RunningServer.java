package leanladder.server;

import io.javalin.Javalin;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;

/** A real server over a real database, on a free port of loopback, for tests. */
public final class RunningServer implements AutoCloseable {
    private static final HttpClient CLIENT = HttpClient.newHttpClient();

    private final Store store;
    private final Javalin server;
    private final int port;

    private RunningServer(Store store, Javalin server, int port) {
        this.store = store;
        this.server = server;
        this.port = port;
    }

    /** Starts over a new database that holds this estate. */
    public static RunningServer start(ThrowAwayPostgres postgres, String database, Path web, String estate)
            throws Exception {
        Store store = postgres.newStore(database);
        Estates estates = new Estates(store, "Ivo Tarn", Clock.systemUTC());
        if (!estate.isEmpty())
            estates.replace(
                    new ByteArrayInputStream(estate.getBytes(StandardCharsets.UTF_8)),
                    Optional.empty(),
                    "Loaded when Lean Ladder was started for the first time");
        int port = freePort();
        return new RunningServer(store, new Server(estates, Optional.of(web), port).start(), port);
    }

    private static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    public String address() {
        return "http://127.0.0.1:" + port;
    }

    /** Another server over what this one has stored. */
    Estates readAgain() throws IOException {
        return new Estates(store, "Somebody else", Clock.systemUTC());
    }

    @Override
    public void close() {
        server.stop();
        store.close();
    }

    /** Sends a change. */
    public HttpResponse<String> post(String change) throws Exception {
        return send("POST", "/api/v1/changes", change);
    }

    public HttpResponse<String> get(String path) throws Exception {
        return send("GET", path, "");
    }

    public HttpResponse<String> send(String method, String path, String body, String... headers) throws Exception {
        var request = HttpRequest.newBuilder(URI.create(address() + path))
                .method(method, HttpRequest.BodyPublishers.ofString(body));
        if (headers.length > 0) request.headers(headers);
        return CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofString());
    }
}
