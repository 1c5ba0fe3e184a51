package leanladder.server.http.description;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.lang.reflect.AnnotatedElement;
import java.lang.reflect.AnnotatedParameterizedType;
import java.lang.reflect.AnnotatedType;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import leanladder.json.Json;
import leanladder.server.http.JsonWriter;

/**
 * Generates JSON Schemas from the records of responses. A record becomes a schema under its simple name, with the records that it contains. Every
 * component is required. An {@code Optional} component may be null, or may be absent where it is annotated so.
 */
public final class Schemas {
    private static final String REF = "#/components/schemas/";

    private final Map<String, ObjectNode> schemas = new TreeMap<>();
    private final Map<String, Class<?>> named = new HashMap<>();
    private final Deque<Class<?>> open = new ArrayDeque<>();

    /** The schemas of these records and of all that they hold, by name. */
    public static Map<String, ObjectNode> generate(Collection<Class<?>> records) {
        Schemas made = new Schemas();
        records.forEach(made::ref);
        while (!made.open.isEmpty()) {
            Class<?> next = made.open.pop();
            made.schemas.put(next.getSimpleName(), made.object(next));
        }
        return made.schemas;
    }

    private ObjectNode ref(Class<?> type) {
        Class<?> known = named.putIfAbsent(type.getSimpleName(), type);
        if (known == null) open.push(type);
        else if (known != type)
            throw new IllegalStateException(
                    known + " and " + type + " have the same name; answers want names of their own");
        return Json.NODES.objectNode().put("$ref", REF + type.getSimpleName());
    }

    private ObjectNode object(Class<?> type) {
        if (type.isEnum()) {
            ObjectNode schema = Json.NODES.objectNode();
            ArrayNode words = schema.putArray("enum");
            for (Object constant : type.getEnumConstants())
                words.add(JsonWriter.MAPPER.<JsonNode>valueToTree(constant));
            return schema;
        }
        if (type.isInterface()) {
            ObjectNode schema = Json.NODES.objectNode();
            ArrayNode any = schema.putArray("oneOf");
            for (Class<?> one : type.getPermittedSubclasses()) any.add(ref(one));
            return schema;
        }
        ObjectNode own = Json.NODES.objectNode().put("type", "object");
        ArrayNode all = Json.NODES.arrayNode();
        ArrayNode required = Json.NODES.arrayNode();
        ObjectNode properties = Json.NODES.objectNode();
        for (RecordComponent component : type.getRecordComponents()) {
            if (annotation(type, component, JsonUnwrapped.class).isPresent()) {
                all.add(ref(component.getType()));
                continue;
            }
            String name = annotation(type, component, JsonProperty.class)
                    .map(JsonProperty::value)
                    .orElse(component.getName());
            boolean leftOut = annotation(type, component, JsonInclude.class)
                    .filter(i -> i.value() == JsonInclude.Include.NON_ABSENT
                            || i.value() == JsonInclude.Include.NON_EMPTY
                            || i.value() == JsonInclude.Include.NON_DEFAULT)
                    .isPresent();
            if (!leftOut) required.add(name);
            properties.set(name, schema(component.getAnnotatedType(), leftOut));
        }
        if (!required.isEmpty()) own.set("required", required);
        own.set("properties", properties);
        if (all.isEmpty()) return own;
        all.add(own);
        ObjectNode whole = Json.NODES.objectNode();
        whole.set("allOf", all);
        return whole;
    }

    private static <A extends java.lang.annotation.Annotation> Optional<A> annotation(
            Class<?> type, RecordComponent component, Class<A> wanted) {
        try {
            AnnotatedElement field = type.getDeclaredField(component.getName());
            return Optional.ofNullable(field.getAnnotation(wanted))
                    .or(() -> Optional.ofNullable(component.getAccessor().getAnnotation(wanted)));
        } catch (NoSuchFieldException e) {
            throw new IllegalStateException(e);
        }
    }

    private ObjectNode schema(AnnotatedType annotated, boolean leftOut) {
        SchemaRef schemaRef = annotated.getAnnotation(SchemaRef.class);
        if (schemaRef != null) return Json.NODES.objectNode().put("$ref", REF + schemaRef.value());
        Type type = annotated.getType();
        if (type instanceof ParameterizedType parameterized) {
            AnnotatedType[] inner = ((AnnotatedParameterizedType) annotated).getAnnotatedActualTypeArguments();
            Class<?> raw = (Class<?>) parameterized.getRawType();
            if (raw == Optional.class) return leftOut ? schema(inner[0], false) : orNull(schema(inner[0], false));
            if (Collection.class.isAssignableFrom(raw)) {
                ObjectNode list = Json.NODES.objectNode().put("type", "array");
                list.set("items", schema(inner[0], false));
                return list;
            }
            if (raw == Map.class) {
                ObjectNode map = Json.NODES.objectNode().put("type", "object");
                map.set("additionalProperties", schema(inner[1], false));
                return map;
            }
            throw new IllegalStateException("No schema is known for " + type);
        }
        return plain((Class<?>) type);
    }

    private static ObjectNode orNull(ObjectNode schema) {
        ObjectNode or = Json.NODES.objectNode();
        or.putArray("anyOf").add(schema).addObject().put("type", "null");
        return or;
    }

    private ObjectNode plain(Class<?> type) {
        ObjectNode schema = Json.NODES.objectNode();
        if (type == String.class) return schema.put("type", "string");
        if (type == int.class || type == long.class || type == Integer.class || type == Long.class)
            return schema.put("type", "integer");
        if (type == boolean.class || type == Boolean.class) return schema.put("type", "boolean");
        if (type == Instant.class) return schema.put("type", "string").put("format", "date-time");
        if (type == LocalDate.class) return schema.put("type", "string").put("format", "date");
        if (ObjectNode.class.isAssignableFrom(type))
            return schema.put("type", "object").put("additionalProperties", true);
        if (JsonNode.class.isAssignableFrom(type)) return schema;
        if (type.isRecord() || type.isSealed() || type.isEnum()) return ref(type);
        throw new IllegalStateException("No schema is known for " + type);
    }
}
