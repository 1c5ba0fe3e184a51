package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.UncheckedIOException;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/**
 * Every route of the description, asked in thousands of wrong ways: it answers, or refuses as the asker's mistake with a problem that
 * reads well; nothing is stored of what is refused.
 */
@Timeout(value = 3, unit = TimeUnit.MINUTES)
class RestFuzzTest {
    private static final int ROUNDS = Integer.getInteger("ladder.rounds", 12);
    private static final List<String> TEXTS = List.of(
            "",
            "a1",
            "p1",
            "u1",
            "g1",
            "l1",
            "w1",
            "chat.private",
            "meet.captions",
            "everyone",
            "unit:u1",
            "account:",
            ":",
            "0",
            "1",
            "-1",
            "99999999999999999999",
            "1e9",
            "NaN",
            "true",
            "null",
            "2026-11-20T08:00:00Z",
            "2026-02-30",
            "+999999999-12-31T23:59:59Z",
            "-999999999-01-01T00:00:00Z",
            "..",
            "%",
            "%00",
            "'; drop table change; --",
            "\u0000",
            "\uD800",
            "\u202Etxt",
            "ﷺ",
            "x".repeat(5000),
            "[".repeat(600),
            "{\"kind\":\"batch\",\"edits\":[{}]}");
    private static final List<String> VALUES = List.of(
            "null",
            "true",
            "[]",
            "{}",
            "0",
            "-1",
            "1e400",
            "99999999999999999999",
            "\"\"",
            "\"a1\"",
            "[null]",
            "[{}]",
            "[[[[]]]]",
            "{\"kind\":null}",
            "[{\"kind\":\"amend-policy\",\"policy\":\"p1\",\"members\":{\"name\":7}}]",
            "[{\"kind\":\"batch\",\"edits\":[{\"kind\":\"batch\",\"edits\":7}]}]",
            "\"2026-11-20T08:00:00Z\"");
    private static final List<String> MEMBERS = List.of(
            "base",
            "edits",
            "note",
            "version",
            "name",
            "takesBack",
            "settings",
            "open",
            "text",
            "policy",
            "of",
            "ring",
            "release",
            "verdict",
            "index",
            "keep",
            "at",
            "until");

    private final Random random = new Random(11);
    private RunningServer server;

    private <T> T one(List<T> of) {
        return of.get(random.nextInt(of.size()));
    }

    private String encoded(String text) {
        // Half of them as they are, where a line of a request can hold them at all.
        boolean plain = text.matches("[A-Za-z0-9.:%+-]*") && random.nextBoolean();
        return plain ? text.replaceAll("%(?![0-9A-Fa-f]{2})", "%25") : URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    private String body() {
        if (random.nextInt(8) == 0) return one(TEXTS);
        List<String> members = new ArrayList<>();
        int many = random.nextInt(4);
        for (int i = 0; i < many; i++) members.add("\"" + one(MEMBERS) + "\":" + one(VALUES));
        return "{" + String.join(",", members) + "}";
    }

    private String path(String described, JsonNode operation) {
        String path = described;
        while (path.contains("{"))
            path = path.replaceFirst("\\{[^}]+}", encoded(one(TEXTS)).replace("$", ""));
        List<String> names = new ArrayList<>();
        for (JsonNode parameter : operation.path("parameters"))
            if (parameter.path("in").asText().equals("query"))
                names.add(parameter.get("name").asText());
        names.addAll(List.of("draft", "at", "workspace", "nonsense"));
        List<String> query = new ArrayList<>();
        for (int i = random.nextInt(4); i > 0; i--) query.add(one(names) + "=" + encoded(one(TEXTS)));
        return path + (query.isEmpty() ? "" : "?" + String.join("&", query));
    }

    @Test
    void everyRouteAnswersOrRefusesWhateverItIsAsked() throws Exception {
        String estate = Files.readString(Path.of("../core/src/test/resources/small-estate.json"));
        server = RunningServer.start(ThrowAwayPostgres.get(), "rest_fuzz_test", Path.of("no-web"), estate)
                .unchecked();
        try {
            int asked = 0;
            for (Map.Entry<String, JsonNode> route :
                    Server.description().get("paths").properties())
                for (Map.Entry<String, JsonNode> method : route.getValue().properties()) {
                    if (route.getKey().endsWith("/events") || route.getKey().endsWith("/suite/changes")) continue;
                    for (int round = 0; round < ROUNDS; round++) {
                        ask(
                                method.getKey().toUpperCase(java.util.Locale.ROOT),
                                path(route.getKey(), method.getValue()));
                        asked++;
                    }
                }
            assertThat(asked).isGreaterThan(50 * ROUNDS);
            assertThat(server.get("/health/ready").statusCode()).isEqualTo(200);
            // What is in memory is what is stored.
            JsonNode held = Json.read(server.get("/api/v1/estate").body());
            server = server.restarted();
            assertThat(Json.read(server.get("/api/v1/estate").body())).isEqualTo(held);
        } finally {
            server.close();
        }
    }

    private void ask(String method, String path) {
        boolean bodied = !method.equals("GET") && !method.equals("DELETE");
        String body = bodied ? body() : "";
        String[] client = {"Authorization", "Bearer " + RunningServer.SECRET, "Content-Type", "application/json"};
        HttpResponse<String> answer;
        try {
            answer = answered(method, path, body, client);
        } catch (IllegalArgumentException notAnAddress) {
            return;
        }
        assertThat(answer.statusCode())
                .as("%s %s %s: %s", method, path, body, answer.body())
                .isLessThan(500);
        if (answer.statusCode() < 400) return;
        JsonNode problem = Json.read(answer.body());
        assertThat(problem.path("detail").asText() + problem.path("defects"))
                .as("%s %s %s", method, path, body)
                .isNotBlank()
                .doesNotContain("java.", "Exception", "org.");
    }

    /** After a request that cannot even be read the connection is closed; the next one that is sent into it is sent again, as clients do. */
    private HttpResponse<String> answered(String method, String path, String body, String... headers) {
        try {
            return server.send(method, path, body, headers);
        } catch (UncheckedIOException closed) {
            return server.send(method, path, body, headers);
        }
    }
}
