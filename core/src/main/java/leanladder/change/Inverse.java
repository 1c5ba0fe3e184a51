package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Statement;
import leanladder.text.Json;

/**
 * The edits that take back others. Each inverse is read off the policies as they stand before the edit; a whole change is taken
 * back by the inverses in reverse order.
 */
public final class Inverse {
    private final PolicyBook book;
    private final ArrayNode edits = Json.NODES.arrayNode();

    /** @param book the policies as they stand before the first edit; it is to be asked of every edit before it is carried out */
    public Inverse(PolicyBook book) {
        this.book = book;
    }

    /** Takes in the next edit, which has not been carried out yet. */
    public void add(Edit edit) {
        of(edit).ifPresent(inverse -> edits.insert(0, inverse));
    }

    /** The inverses so far, in the order in which they are to be carried out. */
    public ArrayNode edits() {
        return edits;
    }

    private Optional<ObjectNode> of(Edit edit) {
        String id = edit.policy();
        if (edit instanceof Edit.AddPolicy) return Optional.of(form("remove-policy", id));
        if (edit instanceof Edit.RemovePolicy) return Optional.of(addition(id));
        if (edit instanceof Edit.AmendPolicy amend) return Optional.of(amendment(amend));
        if (edit instanceof Edit.PutStatement put)
            return Optional.of(statement(id, put.statement().setting(), put.statement() instanceof Statement.Cap));
        if (edit instanceof Edit.RemoveStatement removed)
            return Optional.of(statement(id, removed.setting(), removed.cap()));
        if (edit instanceof Edit.PutAssignment put) {
            if (book.assignment(id, put.assignment()).isPresent()) return Optional.empty();
            ObjectNode inverse = form("remove-assignment", id);
            inverse.set("assignment", put.body());
            return Optional.of(inverse);
        }
        if (edit instanceof Edit.RemoveAssignment removed) {
            ObjectNode inverse = form("put-assignment", id);
            inverse.set("assignment", book.assignment(id, removed.assignment()).orElseThrow());
            return Optional.of(inverse);
        }
        return Optional.of(move(id));
    }

    private static ObjectNode form(String kind, String policy) {
        return Json.NODES.objectNode().put("kind", kind).put("policy", policy);
    }

    /** The policy again, where it stood; the strongest of all has to be moved up after it was added, so it goes above the next. */
    private ObjectNode addition(String id) {
        List<String> ranking = book.ranking();
        int at = ranking.indexOf(id);
        ObjectNode inverse = Json.NODES.objectNode().put("kind", "add-policy");
        inverse.set("policy", book.body(id));
        inverse.put("below", at > 0 ? ranking.get(at - 1) : null);
        if (at == 0 && ranking.size() > 1) inverse.put("above", ranking.get(1));
        return inverse;
    }

    private ObjectNode amendment(Edit.AmendPolicy amend) {
        ObjectNode inverse = form("amend-policy", amend.policy());
        ObjectNode members = inverse.putObject("members");
        amend.members().fieldNames().forEachRemaining(name -> {
            JsonNode before = book.body(amend.policy()).get(name);
            members.set(name, before == null ? Json.NODES.nullNode() : before);
        });
        return inverse;
    }

    private ObjectNode statement(String id, String setting, boolean cap) {
        Optional<ObjectNode> before = book.statement(id, setting, cap);
        if (before.isEmpty())
            return form("remove-statement", id).put("setting", setting).put("says", cap ? "cap" : "set");
        ObjectNode inverse = form("put-statement", id);
        inverse.set("statement", before.get());
        return inverse;
    }

    private ObjectNode move(String id) {
        List<String> ranking = book.ranking();
        int at = ranking.indexOf(id);
        return form("rank-policy", id).put("above", at + 1 < ranking.size() ? ranking.get(at + 1) : null);
    }
}
