package leanladder.server.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import leanladder.json.Json;

/** Values in parameters, written as JSON. */
public final class QueryValues {
    private QueryValues() {}

    /** The value that a parameter writes. */
    public static JsonNode json(String name, String text) {
        try {
            JsonNode value = Json.parse(text);
            if (!value.isMissingNode()) return value;
        } catch (JsonProcessingException e) {
            // What it is told below.
        }
        throw ProblemException.wrongInput("The parameter \"" + name
                + "\" must be a value as JSON: true, 15, \"link holders\" or [\"a.example\"].");
    }
}
