package leanladder.server.http.description;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import leanladder.edit.session.EditKinds;
import leanladder.json.Json;
import leanladder.server.http.Limits;
import leanladder.server.http.RouteRegistry;

/**
 * Generates the description of the interface (OpenAPI 3.1) from {@code openapi.yaml}, which holds the text that is written by hand for each route,
 * and from the route registry, the schemas of the response records, and the schemas of all kinds of edit.
 */
public final class OpenApiDocument {
    private OpenApiDocument() {}

    /**
     * Puts the description together.
     *
     * @param events what the stream of events carries
     * @throws IllegalStateException when a route is not described, or one is described that there is not
     */
    public static ObjectNode generate(List<RouteRegistry.Route> routes, List<Class<?>> events) {
        ObjectNode whole = byHand();
        ObjectNode info = (ObjectNode) whole.get("info");
        info.put("description", info.get("description").asText() + "\n\n" + Limits.words());
        Map<String, Set<String>> described = new TreeMap<>();
        whole.get("paths")
                .properties()
                .forEach(path -> path.getValue()
                        .fieldNames()
                        .forEachRemaining(method -> described
                                .computeIfAbsent(path.getKey(), k -> new LinkedHashSet<>())
                                .add(method)));
        Set<Class<?>> records = new LinkedHashSet<>(events);
        for (RouteRegistry.Route route : routes) {
            String method = route.method().name().toLowerCase(Locale.ROOT);
            if (!described.getOrDefault(route.path(), new LinkedHashSet<>()).remove(method))
                throw new IllegalStateException("openapi.yaml does not describe " + method + " " + route.path());
            answers((ObjectNode) whole.get("paths").get(route.path()).get(method), route);
            records.addAll(route.answers());
        }
        described.values().removeIf(Set::isEmpty);
        // Streams of events are no answers.
        described.remove(RouteRegistry.ROOT + "/events");
        described.remove(RouteRegistry.ROOT + "/suite/changes");
        described.remove(RouteRegistry.ROOT + "/openapi.json");
        if (!described.isEmpty())
            throw new IllegalStateException("openapi.yaml describes what is not there: " + described);
        schemas(whole, records);
        return whole;
    }

    private static ObjectNode byHand() {
        try (InputStream in = OpenApiDocument.class.getResourceAsStream("/openapi.yaml")) {
            return Json.MAPPER.valueToTree(new YAMLMapper().readTree(in));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Adds to what is said of a route what it answers with: the first record under the first status, further ones under theirs. */
    private static void answers(ObjectNode operation, RouteRegistry.Route route) {
        ObjectNode responses = (ObjectNode) operation.get("responses");
        List<String> statuses = new ArrayList<>();
        responses.fieldNames().forEachRemaining(s -> {
            if (s.startsWith("2") && !s.equals("204")) statuses.add(s);
        });
        for (int i = 0; i < statuses.size(); i++) {
            ObjectNode response = (ObjectNode) responses.get(statuses.get(i));
            List<Class<?>> here = statuses.size() == 1
                    ? route.answers()
                    : route.answers()
                            .subList(
                                    Math.min(i, route.answers().size()),
                                    Math.min(i + 1, route.answers().size()));
            if (here.isEmpty()) continue;
            ObjectNode content =
                    response.has("content") ? (ObjectNode) response.get("content") : response.putObject("content");
            ObjectNode schema = content.putObject("application/json").putObject("schema");
            if (here.size() == 1)
                schema.put("$ref", "#/components/schemas/" + here.get(0).getSimpleName());
            else {
                ArrayNode any = schema.putArray("anyOf");
                here.forEach(r -> any.addObject().put("$ref", "#/components/schemas/" + r.getSimpleName()));
            }
        }
        if (route.writes()) operation.withArray("parameters").addObject().put("$ref", "#/components/parameters/key");
        if (!responses.has("default")) responses.putObject("default").put("$ref", "#/components/responses/Problem");
    }

    private static void schemas(ObjectNode whole, Set<Class<?>> records) {
        ObjectNode schemas = (ObjectNode) whole.get("components").get("schemas");
        Schemas.generate(records).forEach((name, made) -> {
            JsonNode said = schemas.get(name);
            if (said != null) merge(made, said);
            schemas.set(name, made);
        });
        ArrayNode edits = schemas.putObject("Edit").putArray("oneOf");
        EditKinds.all().forEach(kind -> edits.add(kind.schema()));
    }

    /** Adds what is said by hand of a schema, its descriptions above all, to what was made. */
    private static void merge(ObjectNode made, JsonNode said) {
        said.properties().forEach(member -> {
            JsonNode there = made.get(member.getKey());
            if (there instanceof ObjectNode object && member.getValue().isObject()) merge(object, member.getValue());
            else made.set(member.getKey(), member.getValue());
        });
    }
}
