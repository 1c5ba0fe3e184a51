package leanladder.suite;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;

/** Lean Ladder, as any client of it knows it: its public interface, and the secret of those that speak for people. */
final class LeanLadderClient {
    private static final Duration PATIENCE = Duration.ofSeconds(20);
    private static final Duration HEARTBEATS = Duration.ofSeconds(60);

    private final String root;
    private final String secret;
    private final HttpClient client = HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(Duration.ofSeconds(2))
            .build();

    /** At an address such as {@code http://127.0.0.1:7466}. */
    LeanLadderClient(String address, String secret) {
        this.root = address + "/api/v1";
        this.secret = secret;
    }

    /** What was answered. */
    record Answer(int status, JsonNode body, Optional<String> tag) {}

    /** Lean Ladder does not answer, or answers that it cannot. The message is a sentence for whoever asked. */
    static final class UnreachableException extends RuntimeException {
        private static final long serialVersionUID = 1L;

        UnreachableException(Exception cause) {
            super(
                    "Lean Ladder does not answer at the moment. What this page knows stays as it is; it tries again by itself.",
                    cause);
        }
    }

    /** Which accounts have to fetch again. @param all whether that is everybody */
    record SettingsChanged(boolean all, Set<String> accounts) {}

    /** Whether a call brings the secret. */
    boolean isKnown(Optional<String> authorization) {
        return authorization
                .filter(sent -> MessageDigest.isEqual(
                        sent.getBytes(StandardCharsets.UTF_8), ("Bearer " + secret).getBytes(StandardCharsets.UTF_8)))
                .isPresent();
    }

    private HttpRequest.Builder request(String path) {
        return HttpRequest.newBuilder(URI.create(root + path))
                .timeout(PATIENCE)
                .header("Authorization", "Bearer " + secret);
    }

    /** A response body of bytes. @param type the media type */
    record Content(String type, byte[] bytes) {}

    /** Fetches a path. @throws HttpStatusException where there is nothing */
    Content content(String path) {
        HttpResponse<byte[]> answer = answer(request(path).build());
        if (answer.statusCode() != 200) throw new HttpStatusException(404, "It is not there any more.");
        return new Content(
                answer.headers().firstValue("Content-Type").orElse("application/octet-stream"), answer.body());
    }

    private HttpResponse<byte[]> answer(HttpRequest request) {
        try {
            return client.send(request, HttpResponse.BodyHandlers.ofByteArray());
        } catch (IOException e) {
            throw new UnreachableException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new UnreachableException(e);
        }
    }

    private Answer send(HttpRequest request) {
        try {
            HttpResponse<byte[]> answer = answer(request);
            JsonNode body = answer.body().length == 0 ? Json.MAPPER.nullNode() : Json.MAPPER.readTree(answer.body());
            if (answer.statusCode() >= 500)
                throw new UnreachableException(
                        new IOException(body.path("detail").asText("")));
            return new Answer(answer.statusCode(), body, answer.headers().firstValue("ETag"));
        } catch (IOException e) {
            throw new UnreachableException(e);
        }
    }

    static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    /** Asks; what was known under a tag is answered with 304 while it stands. */
    Answer get(String path, Optional<String> tag) {
        HttpRequest.Builder request = request(path);
        tag.ifPresent(t -> request.header("If-None-Match", t));
        return send(request.build());
    }

    /** Says something for a person. The key lets it be said again when nobody knows whether it was heard. */
    Answer post(String path, JsonNode body, String key) {
        return send(request(path)
                .header("Content-Type", "application/json")
                .header("Idempotency-Key", key)
                .POST(HttpRequest.BodyPublishers.ofString(body.toString()))
                .build());
    }

    Catalogue catalogue() {
        return Catalogue.parse(get("/catalogue", Optional.empty()).body);
    }

    /** Every value in force of an account; 304 while what is known under a tag stands. */
    Answer settings(String account, Optional<String> workspace, Optional<String> tag) {
        return get(
                "/suite/accounts/" + encoded(account) + "/settings"
                        + workspace.map(w -> "?workspace=" + encoded(w)).orElse(""),
                tag);
    }

    /** What was delivered for an account from one instant to another, or will be, turn by turn. @param until up to now where empty */
    Answer history(String account, Instant since, Optional<Instant> until, Optional<String> workspace) {
        return get(
                "/suite/accounts/" + encoded(account) + "/history?since=" + since
                        + until.map(u -> "&until=" + u).orElse("")
                        + workspace.map(w -> "&workspace=" + encoded(w)).orElse(""),
                Optional.empty());
    }

    /**
     * Listens until the stream ends, and tells who has to fetch again, with the id of the event. Who begins to listen knows nothing of
     * what was before: everybody has to.
     *
     * @param after the id of the last event that was heard; empty for whoever begins
     * @throws IOException when it cannot be listened, or no longer
     */
    void listen(String after, BiConsumer<String, SettingsChanged> woken) throws IOException {
        var connection = (HttpURLConnection)
                URI.create(root + "/suite/changes" + (after.isEmpty() ? "" : "?after=" + encoded(after)))
                        .toURL()
                        .openConnection();
        connection.setRequestProperty("Authorization", "Bearer " + secret);
        connection.setRequestProperty("Accept", "text/event-stream");
        connection.setConnectTimeout((int) Duration.ofSeconds(2).toMillis());
        connection.setReadTimeout((int) HEARTBEATS.toMillis());
        try (BufferedReader lines =
                new BufferedReader(new InputStreamReader(connection.getInputStream(), StandardCharsets.UTF_8))) {
            String event = "";
            String id = after;
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                if (line.startsWith("id: ")) id = line.substring("id: ".length());
                else if (line.startsWith("event: ")) event = line.substring("event: ".length());
                else if (line.startsWith("data: "))
                    woken.accept(
                            id,
                            event.equals("wake")
                                    ? wake(Json.MAPPER.readTree(line.substring("data: ".length())))
                                    : new SettingsChanged(after.isEmpty(), Set.of()));
            }
        } finally {
            connection.disconnect();
        }
    }

    private static SettingsChanged wake(JsonNode told) {
        List<String> accounts = new ArrayList<>();
        told.path("accounts").forEach(a -> accounts.add(a.asText()));
        return new SettingsChanged(told.path("all").asBoolean(), Set.copyOf(accounts));
    }
}
