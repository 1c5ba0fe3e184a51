package leanladder.server;

import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import leanladder.document.Defect;
import leanladder.document.Json;

/** An answer that says what is wrong, as problem details (RFC 9457), with a JSON Pointer for each defect. */
final class Problem extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final int status;
    private final transient ObjectNode body;

    private Problem(int status, String title, String detail) {
        super(detail);
        this.status = status;
        this.body = Json.NODES.objectNode();
        body.put("type", "urn:lean-ladder:" + title.toLowerCase(Locale.ROOT).replace(' ', '-'));
        body.put("title", title);
        body.put("status", status);
        body.put("detail", detail);
    }

    static Problem wrongInput(String detail) {
        return new Problem(400, "Wrong input", detail);
    }

    static Problem unknown(String detail) {
        return new Problem(404, "Not here", detail);
    }

    static Problem refused(int status, String title, String detail) {
        return new Problem(status, title, detail);
    }

    /** The defects of what was sent, each with the pointer to its place in it. */
    static Problem defects(int status, String title, List<Defect> defects) {
        Problem problem = new Problem(
                status,
                title,
                defects.size() == 1
                        ? "One thing does not fit; nothing was stored."
                        : defects.size() + " things do not fit; nothing was stored.");
        var list = problem.body.putArray("defects");
        for (Defect defect : defects)
            list.addObject().put("pointer", defect.pointer()).put("message", defect.message());
        return problem;
    }

    /** The same with another member. */
    Problem with(String member, com.fasterxml.jackson.databind.JsonNode value) {
        body.set(member, value);
        return this;
    }

    void write(Context ctx) {
        ctx.status(status)
                .contentType("application/problem+json")
                .result(Json.write(body).getBytes(StandardCharsets.UTF_8));
    }
}
