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
    private final Path web;
    private final int port;

    private RunningServer(Store store, Javalin server, Path web, int port) {
        this.store = store;
        this.server = server;
        this.web = web;
        this.port = port;
    }

    /** Starts over a new database that holds this estate. */
    public static RunningServer start(ThrowAwayPostgres postgres, String database, Path web, String estate)
            throws Exception {
        return start(postgres, database, web, estate, Clock.systemUTC());
    }

    /** The same by another clock. */
    static RunningServer start(ThrowAwayPostgres postgres, String database, Path web, String estate, Clock clock)
            throws Exception {
        Store store = postgres.newStore(database);
        Estates estates = new Estates(store, "Ivo Tarn", clock);
        if (!estate.isEmpty())
            estates.replace(
                    new ByteArrayInputStream(estate.getBytes(StandardCharsets.UTF_8)),
                    Optional.empty(),
                    "Loaded when Lean Ladder was started for the first time");
        int port = freePort();
        return new RunningServer(store, new Server(estates, Optional.of(web), port).start(), web, port);
    }

    /** Starts over what is stored already; the store is closed with it. */
    public static RunningServer over(Store store, Path web) throws IOException {
        Estates estates = new Estates(store, "Ivo Tarn", Clock.systemUTC());
        int port = freePort();
        return new RunningServer(store, new Server(estates, Optional.of(web), port).start(), web, port);
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

    /** Stops, and starts again at the same address over what is stored. */
    public RunningServer restarted() throws IOException {
        server.stop();
        Estates again = new Estates(store, "Ivo Tarn", Clock.systemUTC());
        return new RunningServer(store, new Server(again, Optional.of(web), port).start(), web, port);
    }

    /** Stages an edit on the one draft there is, as somebody else who shares it would. */
    public void draft(String edit) {
        var draft = leanladder.document.Json.read(get("/api/v1/drafts").body()).at("/drafts/0");
        send(
                "POST",
                "/api/v1/drafts/" + draft.get("id") + "/edits",
                "{\"version\":" + draft.get("version") + ",\"edits\":[" + edit + "]}");
    }

    @Override
    public void close() {
        server.stop();
        store.close();
    }

    /** Sends a change. */
    public HttpResponse<String> post(String change) {
        return send("POST", "/api/v1/changes", change);
    }

    public HttpResponse<String> get(String path) {
        return send("GET", path, "");
    }

    public HttpResponse<String> send(String method, String path, String body, String... headers) {
        var request = HttpRequest.newBuilder(URI.create(address() + path))
                .method(method, HttpRequest.BodyPublishers.ofString(body));
        if (headers.length > 0) request.headers(headers);
        try {
            return CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofString());
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
