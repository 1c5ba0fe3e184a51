package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
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
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Optional;
import leanladder.demo.DemoEstate;
import leanladder.estate.Estate;
import leanladder.json.Json;
import leanladder.server.access.ClientSecret;
import leanladder.server.access.Identity;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.ThrowAwayPostgres;
import leanladder.store.db.WriteRequest;

/** A real server over a real database, on a free port of loopback, for tests. */
public final class RunningServer implements AutoCloseable {
    /** What clients send that speak for people. */
    public static final String SECRET = "made-up-for-tests";

    /** What the clock shows where the demo runs. */
    public static final Instant DEMO_NOW = Instant.parse("2026-11-25T12:00:00Z");

    private static final Identity ACTORS = new Identity("Ivo Tarn", new ClientSecret(Optional.of(SECRET)));
    private static final HttpClient CLIENT = HttpClient.newHttpClient();

    private final Store store;
    private final Server server;
    private final Path web;
    private final int port;
    private boolean checked = true;

    private RunningServer(Store store, Server server, Path web, int port) {
        this.store = store;
        this.server = server;
        this.web = web;
        this.port = port;
    }

    /** Starts over a new database that holds this estate. */
    public static RunningServer start(ThrowAwayPostgres postgres, String database, Path web, String estate)
            throws Exception {
        return start(postgres, database, web, estate, new TestClock());
    }

    /** The same by another clock. */
    public static RunningServer start(ThrowAwayPostgres postgres, String database, Path web, String estate, Clock clock)
            throws Exception {
        return start(postgres, database, estate, clock, places(web));
    }

    /** The same with a suite beside it. */
    public static RunningServer start(
            ThrowAwayPostgres postgres, String database, String estate, Clock clock, Server.Endpoints endpoints)
            throws Exception {
        Store store = postgres.newStore(database);
        Server server = new Server(store, ACTORS, clock, endpoints, freePort());
        if (!estate.isEmpty())
            server.publisher()
                    .replace(
                            WriteRequest.by("Ivo Tarn", clock.instant()),
                            new ByteArrayInputStream(estate.getBytes(StandardCharsets.UTF_8)),
                            Optional.empty(),
                            "Loaded when Lean Ladder was started for the first time");
        return started(store, server, endpoints.web().orElseThrow());
    }

    /** Starts over a new database that holds the demo, at {@link #DEMO_NOW}. */
    public static RunningServer startDemo(String database) throws Exception {
        return start(
                ThrowAwayPostgres.get(),
                database,
                Path.of("no-web"),
                Json.write(new DemoEstate().build()),
                Clock.fixed(DEMO_NOW, ZoneOffset.UTC));
    }

    /** Starts over what is stored already; the store is closed with it. */
    public static RunningServer over(Store store, Path web) throws IOException {
        return started(store, new Server(store, ACTORS, new TestClock(), places(web), freePort()), web);
    }

    /** Starts another one over the database of this one. */
    public RunningServer joined(ThrowAwayPostgres postgres, String url) throws IOException {
        return over(new Store(url, postgres.user(), postgres.password()), web);
    }

    /** The same by another clock, with what is elsewhere. */
    public RunningServer joined(ThrowAwayPostgres postgres, String url, Clock clock, Server.Endpoints endpoints)
            throws IOException {
        Store another = new Store(url, postgres.user(), postgres.password());
        return started(another, new Server(another, ACTORS, clock, endpoints, freePort()), web);
    }

    private static RunningServer started(Store store, Server server, Path web) {
        server.start();
        return new RunningServer(store, server, web, server.port());
    }

    /** A port on loopback that nobody listens on. */
    public static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    public String address() {
        return "http://127.0.0.1:" + port;
    }

    /** The estate as it is read afresh from what this one has stored. */
    Estate readAgain() {
        return new Timeline(store, new TestClock()).present().estate();
    }

    /** Runs something while nobody else can publish here, or follow what others publish. */
    void whileNobodyFollows(Runnable doing) {
        server.publisher().exclusively(() -> {
            doing.run();
            return "";
        });
    }

    /** What is kept, to be looked at beside the server. */
    public Store store() {
        return store;
    }

    /** No longer holds answers against the description: where time is measured. */
    public RunningServer unchecked() {
        checked = false;
        return this;
    }

    /** Stops, and starts again at the same address over what is stored. */
    public RunningServer restarted() {
        server.close();
        return started(store, new Server(store, ACTORS, new TestClock(), places(web), port), web);
    }

    /** Stages an edit on the one draft there is, as somebody else who shares it would. */
    public void draft(String edit) {
        var draft = Json.read(get("/api/v1/drafts").body()).at("/drafts/0");
        send(
                "POST",
                "/api/v1/drafts/" + draft.get("id") + "/edits",
                "{\"version\":" + draft.get("version") + ",\"edits\":[" + edit + "]}");
    }

    @Override
    public void close() {
        server.close();
        store.close();
    }

    /** Sends a change. */
    public HttpResponse<String> post(String change) {
        return send("POST", "/api/v1/changes", change);
    }

    /** Publishes edits on the present estate. @param edits JSON objects with commas, in single quotes for double ones */
    public HttpResponse<String> publish(String edits) {
        return post("{\"base\":" + json("session").get("change") + ",\"edits\":[" + edits.replace('\'', '"') + "]}");
    }

    /** What stands at a path below the root of the interface; fails where it is refused. */
    public JsonNode json(String path) {
        HttpResponse<String> response = get("/api/v1/" + path);
        if (response.statusCode() >= 300) throw new AssertionError(path + ": " + response.body());
        return Json.read(response.body());
    }

    public HttpResponse<String> get(String path) {
        return send("GET", path, "");
    }

    public HttpResponse<String> send(String method, String path, String body, String... headers) {
        var request = HttpRequest.newBuilder(URI.create(address() + path))
                .method(method, HttpRequest.BodyPublishers.ofString(body));
        if (headers.length > 0) request.headers(headers);
        try {
            HttpResponse<String> response = CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofString());
            if (checked) OpenApiAssertions.check(method, path, response);
            return response;
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    private static Server.Endpoints places(Path web) {
        return new Server.Endpoints(Optional.of(web), Optional.empty(), Optional.empty());
    }
}
