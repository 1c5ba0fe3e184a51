package leanladder.server.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.BeanDescription;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.JsonSerializer;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationConfig;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.BeanSerializerModifier;
import com.fasterxml.jackson.databind.ser.std.ToStringSerializerBase;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import java.util.Locale;
import leanladder.json.Json;

/** How the records of answers are written as JSON; a constant of an enum by its word. */
public final class JsonWriter {
    /** Writes records; an empty Optional is null, or left out where its component says so. */
    public static final ObjectMapper MAPPER = Json.MAPPER
            .copy()
            .registerModule(new Jdk8Module())
            .registerModule(new JavaTimeModule())
            .registerModule(new SimpleModule().setSerializerModifier(new EnumNames()))
            .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS);

    private JsonWriter() {}

    /** The word of the interface for a constant: {@code LEFT_OUT} is "left-out". */
    public static String word(Enum<?> constant) {
        return constant.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Writes every enum that has no words of its own by those of its constants. */
    private static final class EnumNames extends BeanSerializerModifier {
        @Override
        public JsonSerializer<?> modifyEnumSerializer(
                SerializationConfig config, JavaType type, BeanDescription description, JsonSerializer<?> usual) {
            return new ToStringSerializerBase(type.getRawClass()) {
                @Override
                public String valueToString(Object constant) {
                    return word((Enum<?>) constant);
                }
            };
        }
    }

    /** A record as JSON. */
    public static byte[] write(Object record) {
        try {
            return MAPPER.writeValueAsBytes(record);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("An answer could not be written", e);
        }
    }
}
