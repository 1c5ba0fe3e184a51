package leanladder.bench;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import leanladder.json.Json;

/** Asks a server as a client does, without looking at the answer more closely than whether it is one. */
final class RestClient {
    private static final Duration LONGEST = Duration.ofMinutes(5);

    private final HttpClient client = HttpClient.newHttpClient();
    private final String address;

    RestClient(String address) {
        this.address = address + "/api/v1";
    }

    /** The body of what a path answers. @throws IllegalStateException when that is a problem */
    String get(String path) {
        return send("GET", path, "");
    }

    JsonNode post(String path, String body) {
        return Json.read(send("POST", path, body));
    }

    private String send(String method, String path, String body) {
        var request = HttpRequest.newBuilder(URI.create(address + path))
                .timeout(LONGEST)
                .method(method, HttpRequest.BodyPublishers.ofString(body))
                .build();
        try {
            HttpResponse<String> response = client.send(request, HttpResponse.BodyHandlers.ofString());
            if (response.statusCode() >= 300) throw new IllegalStateException(path + ": " + response.body());
            return response.body();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
