package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.nio.charset.StandardCharsets;
import leanladder.document.Json;

/** Writes answers as JSON. */
final class Answers {
    private Answers() {}

    static void json(Context ctx, JsonNode node) {
        ctx.contentType("application/json").result(Json.write(node).getBytes(StandardCharsets.UTF_8));
    }

    static ObjectNode object() {
        return Json.NODES.objectNode();
    }
}
