package leanladder.server.draft;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import leanladder.document.Json;
import leanladder.server.http.Problem;

/** Values in parameters, written as JSON. */
public final class Values {
    private Values() {}

    /** The value that a parameter writes. */
    public static JsonNode json(String name, String text) {
        try {
            JsonNode value = Json.parse(text);
            if (!value.isMissingNode()) return value;
        } catch (JsonProcessingException e) {
            // What it is told below.
        }
        throw Problem.wrongInput("The parameter \"" + name
                + "\" must be a value as JSON: true, 15, \"link holders\" or [\"a.example\"].");
    }
}
