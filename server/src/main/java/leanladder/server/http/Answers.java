package leanladder.server.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import leanladder.document.Json;

/** How the records of answers are written as JSON. */
public final class Answers {
    /** Writes records; an empty Optional is null, or left out where its component says so. */
    public static final ObjectMapper MAPPER = Json.MAPPER
            .copy()
            .registerModule(new Jdk8Module())
            .registerModule(new JavaTimeModule())
            .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS);

    private Answers() {}

    /** A record as JSON. */
    public static byte[] write(Object record) {
        try {
            return MAPPER.writeValueAsBytes(record);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("An answer could not be written", e);
        }
    }
}
