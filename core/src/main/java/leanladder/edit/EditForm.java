package leanladder.edit;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.InjectableValues;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.ObjectReader;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import leanladder.edit.Member.Presence;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * How the edits of one kind are written: the components of a record, each with its {@link Member}. From these come the check of what was
 * sent, which finds every defect in one pass and needs no estate; the record, read by Jackson; the check that what it names exists; and the
 * JSON Schema.
 *
 * <p>Components are texts, whole numbers from 1, objects, and lists of texts or of objects. One of the type {@link EntityType} is not
 * written, since the kind knows it; the component called {@code entity} is written under the noun of that type.
 */
final class EditForm {
    private static final String ENTITY = "entity";
    private static final String TYPE = "type";
    private static final ObjectMapper MAPPER = JsonMapper.builder(Json.FACTORY)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .nodeFactory(Json.NODES)
            .addModule(new SimpleModule().addDeserializer(ObjectNode.class, new SharedObject()))
            .build();

    /** Objects are taken over as they are: a batch can hold very many, and nobody alters them. */
    private static final class SharedObject extends StdDeserializer<ObjectNode> {
        private static final long serialVersionUID = 1;

        SharedObject() {
            super(ObjectNode.class);
        }

        @Override
        public ObjectNode deserialize(JsonParser parser, DeserializationContext context) throws IOException {
            return (ObjectNode) parser.getEmbeddedObject();
        }
    }

    private final List<FormMember> members;
    private final ObjectReader reader;

    /** One component of the record. @param written what it is called in JSON */
    private record FormMember(
            RecordComponent component, String written, Class<?> type, String names, Optional<Member> rule) {
        Presence presence() {
            return rule.map(Member::presence).orElse(Presence.REQUIRED);
        }

        boolean isList() {
            return component.getType() == List.class;
        }
    }

    EditForm(Class<? extends Edit> type, @Nullable EntityType<?> entityType) {
        members = Arrays.stream(type.getRecordComponents())
                .filter(component -> component.getType() != EntityType.class)
                .map(component -> member(component, entityType))
                .toList();
        ObjectReader plain = MAPPER.readerFor(type);
        reader = entityType == null
                ? plain
                : plain.with(new InjectableValues.Std().addValue(EntityType.class, entityType));
    }

    private static FormMember member(RecordComponent component, @Nullable EntityType<?> entityType) {
        Class<?> type = component.getGenericType() instanceof ParameterizedType list
                ? (Class<?>) list.getActualTypeArguments()[0]
                : component.getType();
        Optional<Member> rule = Optional.ofNullable(component.getAnnotation(Member.class));
        if (entityType == null || !component.getName().equals(ENTITY))
            return new FormMember(
                    component,
                    component.getName(),
                    type,
                    rule.map(Member::names).orElse(""),
                    rule);
        String noun = entityType.noun();
        return new FormMember(component, noun, type, type == String.class ? noun : "", rule);
    }

    /** The names of the members that must be there. */
    List<String> required() {
        return members.stream()
                .filter(m -> m.presence() != Presence.OPTIONAL)
                .map(FormMember::written)
                .toList();
    }

    /** The edit that an object holds; empty where something does not fit, which is reported at its place. */
    Optional<Edit> read(JsonCursor edit) {
        int found = edit.defects().size();
        for (FormMember member : members) {
            Optional<JsonCursor> there = member.presence() == Presence.OPTIONAL
                    ? edit.member(member.written)
                    : edit.required(member.written);
            boolean canBeNull = member.presence() != Presence.REQUIRED;
            there.filter(m -> !(canBeNull && m.node().isNull())).ifPresent(m -> check(member, m));
        }
        return edit.defects().size() > found ? Optional.empty() : Optional.of(read((ObjectNode) edit.node()));
    }

    private Edit read(ObjectNode edit) {
        ObjectNode components = Json.NODES.objectNode();
        for (FormMember member : members) {
            JsonNode value = edit.get(member.written);
            if (value != null) components.set(member.component.getName(), shared(value));
        }
        try {
            return reader.readValue(components);
        } catch (IOException e) {
            throw new UncheckedIOException("An edit that was found to fit could not be read", e);
        }
    }

    private static JsonNode shared(JsonNode value) {
        if (value.isObject()) return Json.NODES.pojoNode(value);
        if (!value.isArray() || value.isEmpty() || !value.get(0).isObject()) return value;
        ArrayNode list = Json.NODES.arrayNode(value.size());
        value.forEach(item -> list.add(shared(item)));
        return list;
    }

    private static void check(FormMember member, JsonCursor value) {
        if (member.isList()) value.items().forEach(item -> checkOne(member, item));
        else checkOne(member, value);
    }

    private static void checkOne(FormMember member, JsonCursor value) {
        if (member.type == String.class) checkText(member, value);
        else if (member.type == BigInteger.class)
            value.integer().filter(number -> number.signum() <= 0).ifPresent(n -> value.defect("must be 1 or more"));
        else value.isObject();
    }

    private static void checkText(FormMember member, JsonCursor value) {
        List<String> words = member.rule.map(r -> List.of(r.words())).orElse(List.of());
        if (!words.isEmpty()) value.word(words.stream().collect(Collectors.toMap(w -> w, w -> w)));
        else if (member.rule.filter(Member::instant).isPresent()) value.instant();
        else if (member.names.equals(EntityType.RELEASE.noun()) || member.names.equals(EntityType.SETTING.noun()))
            value.key();
        else if (!member.names.isEmpty()) value.id();
        else value.text();
    }

    /** Whether everything that an edit names exists now; what does not is reported at its place. */
    boolean checkNames(JsonCursor edit, Overlay on) {
        boolean exist = true;
        for (FormMember member : members) {
            JsonNode value = edit.node().get(member.written);
            if (member.names.isEmpty() || value == null || value.isNull()) continue;
            // Places are worked out only for what is missing: most edits name what is there.
            if (!member.isList() && exists(member.names, value, on)) continue;
            JsonCursor place = edit.member(member.written).orElseThrow();
            for (JsonCursor one : member.isList() ? place.items() : List.of(place)) {
                if (exists(member.names, one.node(), on)) continue;
                one.defect("names the " + member.names + " \"" + one.node().asText()
                        + "\", which does not exist (any more)");
                exist = false;
            }
        }
        return exist;
    }

    private static boolean exists(String noun, JsonNode value, Overlay on) {
        String id = value.asText();
        return switch (noun) {
            case "policy" -> on.hasPolicy(id);
            case "ring" -> on.hasRing(id);
            default -> on.part(EntityType.of(noun), id).isPresent();
        };
    }

    /** Writes the components of an edit over what was sent. */
    ObjectNode write(Edit edit, ObjectNode sent) {
        ObjectNode written = sent.deepCopy();
        for (FormMember member : members) {
            JsonNode value = MAPPER.valueToTree(value(member.component, edit));
            if (!value.isNull() || member.presence() == Presence.NULLABLE) written.set(member.written, value);
        }
        return written;
    }

    private static @Nullable Object value(RecordComponent component, Edit edit) {
        try {
            return component.getAccessor().invoke(edit);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException("The component " + component + " could not be read", e);
        }
    }

    /** The schema of each member. */
    ObjectNode properties() {
        ObjectNode properties = Json.NODES.objectNode();
        for (FormMember member : members) {
            ObjectNode schema = schema(member);
            if (member.isList()) {
                ObjectNode items = schema;
                schema = Json.NODES
                        .objectNode()
                        .put(TYPE, "array")
                        .put("minItems", member.rule.map(Member::minItems).orElse(1));
                schema.set("items", items);
            }
            member.rule.map(Member::description).filter(d -> !d.isEmpty()).ifPresent(describe(schema));
            if (member.presence() != Presence.REQUIRED) {
                ArrayNode any = Json.NODES.arrayNode().add(schema);
                any.addObject().put(TYPE, "null");
                schema = Json.NODES.objectNode().set("anyOf", any);
            }
            properties.set(member.written, schema);
        }
        return properties;
    }

    private static Consumer<String> describe(ObjectNode schema) {
        return description -> schema.put("description", description);
    }

    private static ObjectNode schema(FormMember member) {
        ObjectNode schema = Json.NODES.objectNode();
        if (member.type == BigInteger.class) return schema.put(TYPE, "integer").put("minimum", 1);
        if (member.type == String.class) {
            schema.put(TYPE, "string");
            if (member.rule.filter(Member::instant).isPresent()) schema.put("format", "date-time");
            for (String word : member.rule.map(Member::words).orElse(new String[0]))
                schema.withArray("enum").add(word);
            return schema;
        }
        String component = member.rule.map(Member::schema).orElse("");
        return component.isEmpty()
                ? schema.put(TYPE, "object").put("additionalProperties", true)
                : schema.put("$ref", "#/components/schemas/" + component);
    }
}
