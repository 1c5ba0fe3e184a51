package leanladder.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import leanladder.server.Server;
import leanladder.store.ThrowAwayPostgres;
import leanladder.suite.SuiteServer;

/** Lean Ladder with the demo estate and the simulated suite beside it, on the same clock. */
final class Beside implements AutoCloseable {
    final RunningServer server;
    final SuiteServer suite;
    private final HttpClient client = HttpClient.newHttpClient();

    Beside(String database, Clock clock) throws Exception {
        int port = RunningServer.freePort();
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                database,
                Json.write(new DemoEstate().build()),
                clock,
                new Server.Endpoints(
                        Optional.of(Path.of("../web/dist")),
                        Optional.of("http://127.0.0.1:" + port),
                        Optional.empty()));
        suite = new SuiteServer(
                server.address(), RunningServer.SECRET, clock, Optional.of(Path.of("../suite/page/dist")), port);
        suite.start();
    }

    String suiteAddress() {
        return "http://127.0.0.1:" + suite.port();
    }

    /** What the suite answers. */
    JsonNode suite(String method, String path, String body) throws IOException, InterruptedException {
        HttpResponse<String> answer = client.send(
                HttpRequest.newBuilder(URI.create(suiteAddress() + path))
                        .method(method, HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() >= 300) throw new AssertionError(answer.statusCode() + ": " + answer.body());
        return Json.read(answer.body());
    }

    /** Publishes edits, with single quotes for double ones. */
    void publish(String edits) {
        long base =
                Json.read(server.get("/api/v1/session").body()).get("change").asLong();
        HttpResponse<String> answer = server.post(("{'base':" + base + ",'edits':[" + edits + "]}").replace('\'', '"'));
        if (answer.statusCode() != 201) throw new AssertionError(answer.body());
    }

    @Override
    public void close() {
        suite.close();
        server.close();
    }
}
