package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.net.http.HttpResponse;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import leanladder.json.Json;

/** Holds answers against the interface's description: every answer that a test gets is checked, problems too. */
final class OpenApiAssertions {
    private static final JsonNode DESCRIPTION = Server.description();
    private static final Map<Pattern, String> PATHS = new HashMap<>();
    private static final Map<String, Schema> SCHEMAS = new ConcurrentHashMap<>();
    private static final SchemaRegistry REGISTRY =
            SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12);

    static {
        DESCRIPTION
                .get("paths")
                .fieldNames()
                .forEachRemaining(path -> PATHS.put(Pattern.compile(path.replaceAll("\\{[^}]+}", "[^/]+")), path));
    }

    private OpenApiAssertions() {}

    /** All routes of the description, "get /api/v1/session". */
    static Set<String> routes() {
        Set<String> routes = new TreeSet<>();
        DESCRIPTION
                .get("paths")
                .properties()
                .forEach(p -> p.getValue().fieldNames().forEachRemaining(m -> routes.add(m + " " + p.getKey())));
        return routes;
    }

    /** The route that a request was for; empty where there is none. */
    static Optional<String> route(String method, String path) {
        String plain = path.replaceAll("\\?.*", "");
        return PATHS.entrySet().stream()
                .filter(p -> p.getKey().matcher(plain).matches())
                .map(Map.Entry::getValue)
                // What is written out goes before what stands for anything.
                .min(java.util.Comparator.comparingInt(p -> p.contains("{") ? 1 : 0))
                .map(p -> method.toLowerCase(Locale.ROOT) + " " + p)
                .filter(r -> routes().contains(r));
    }

    /** Fails when an answer is not as the description says. */
    static void check(String method, String path, HttpResponse<String> response) {
        String type = response.headers().firstValue("Content-Type").orElse("").replaceAll(";.*", "");
        Optional<String> route = route(method, path);
        if (type.equals("application/problem+json")) {
            fits(schema("/components/responses/Problem/content/application~1problem+json/schema"), response, path);
            return;
        }
        if (route.isEmpty() || !type.equals("application/json")) return;
        String[] parts = route.get().split(" ", 2);
        JsonNode responses =
                DESCRIPTION.get("paths").get(parts[1]).get(parts[0]).get("responses");
        String status = String.valueOf(response.statusCode());
        assertThat(responses.has(status))
                .as("%s answers %s", route.get(), status)
                .isTrue();
        fits(
                SCHEMAS.computeIfAbsent(
                        route.get() + " " + status,
                        k -> schema(responses.get(status).at("/content/application~1json/schema"))),
                response,
                path);
    }

    private static Schema schema(String pointer) {
        return SCHEMAS.computeIfAbsent(pointer, p -> schema(DESCRIPTION.at(p)));
    }

    private static Schema schema(JsonNode schema) {
        assertThat(schema.isObject()).isTrue();
        ObjectNode whole = Json.NODES.objectNode();
        whole.put("$schema", "https://json-schema.org/draft/2020-12/schema");
        whole.setAll((ObjectNode) schema.deepCopy());
        whole.set("components", DESCRIPTION.get("components"));
        return REGISTRY.getSchema(Json.write(whole), InputFormat.JSON);
    }

    private static void fits(Schema schema, HttpResponse<String> response, String path) {
        assertThat(schema.validate(response.body(), InputFormat.JSON)).as(path).isEmpty();
    }
}
