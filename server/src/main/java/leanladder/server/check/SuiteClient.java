package leanladder.server.check;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.server.access.ClientSecret;

/** What the suite itself says that it has taken up. */
@FunctionalInterface
interface SuiteClient {
    /**
     * What an account's page shows.
     *
     * @param waitsFor refresh, sign-in, restart, update or clear, where something newer waits for that
     */
    record ReportedValue(JsonNode value, Optional<String> waitsFor) {}

    /**
     * Asks for accounts by id, everywhere or in a workspace; those that the suite does not know are missing from the answer.
     *
     * @throws IOException when the suite does not answer
     */
    Map<String, ReportedValue> of(String setting, Optional<String> workspace, List<String> accounts) throws IOException;

    /** Over the interface of a suite at an address. */
    static SuiteClient at(String address, ClientSecret secret) {
        HttpClient client = HttpClient.newBuilder()
                .version(HttpClient.Version.HTTP_1_1)
                .connectTimeout(Duration.ofSeconds(2))
                .build();
        return (setting, workspace, accounts) -> {
            ObjectNode asked = Json.NODES.objectNode().put("setting", setting);
            workspace.ifPresent(w -> asked.put("workspace", w));
            accounts.forEach(asked.putArray("accounts")::add);
            HttpRequest request = HttpRequest.newBuilder(URI.create(address + "/api/report"))
                    .timeout(Duration.ofMinutes(3))
                    .header("Authorization", secret.bearer())
                    .header("Content-Type", "application/json")
                    .POST(HttpRequest.BodyPublishers.ofString(Json.write(asked)))
                    .build();
            try {
                HttpResponse<String> answer = client.send(request, HttpResponse.BodyHandlers.ofString());
                if (answer.statusCode() != 200) throw new IOException("answered with " + answer.statusCode());
                Map<String, ReportedValue> taken = new HashMap<>();
                for (JsonNode row : Json.read(answer.body()).path("accounts"))
                    taken.put(
                            row.path("account").asText(),
                            new ReportedValue(
                                    row.path("value"),
                                    Optional.of(row.path("waitsFor").asText(""))
                                            .filter(w -> !w.isEmpty() && !w.equals("null"))));
                return taken;
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new IOException(e);
            }
        };
    }
}
