package leanladder.server;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.JsonNode;
import io.javalin.http.Context;
import java.io.IOException;
import leanladder.document.Json;
import leanladder.document.Place;

/** Reads what is sent. */
final class Bodies {
    private Bodies() {}

    /** The body as JSON; a problem when it is none. */
    static JsonNode read(Context ctx) throws IOException {
        try (JsonParser parser = Json.MAPPER
                .getFactory()
                .createParser(new java.io.InputStreamReader(
                        ctx.bodyInputStream(),
                        java.nio.charset.StandardCharsets.UTF_8
                                .newDecoder()
                                .onMalformedInput(java.nio.charset.CodingErrorAction.REPORT)))) {
            parser.enable(JsonParser.Feature.STRICT_DUPLICATE_DETECTION);
            JsonNode body = Json.MAPPER.readTree(parser);
            if (body == null || body.isMissingNode()) throw Problem.wrongInput("The body is empty; it must be JSON.");
            if (parser.nextToken() != null) throw Problem.wrongInput("The body goes on after its JSON object.");
            return body;
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw Problem.wrongInput("The body is not JSON: "
                    + e.getOriginalMessage().lines().findFirst().orElse("it cannot be read"));
        } catch (java.nio.charset.CharacterCodingException e) {
            throw Problem.wrongInput("The body is not UTF-8 text.");
        }
    }

    /** Half a surrogate pair cannot be stored or sent on. */
    static void wellFormed(Place place) {
        if (place.node().isTextual()
                && !java.nio.charset.StandardCharsets.UTF_8
                        .newEncoder()
                        .canEncode(place.node().textValue())) place.defect("must be well-formed Unicode");
        if (place.node().isObject())
            place.members().forEach((name, member) -> {
                if (!java.nio.charset.StandardCharsets.UTF_8.newEncoder().canEncode(name))
                    place.defect("has a member whose name is not well-formed Unicode");
                wellFormed(member);
            });
        if (place.node().isArray()) place.items().forEach(Bodies::wellFormed);
    }
}
