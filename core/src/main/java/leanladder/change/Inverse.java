package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Members;
import leanladder.estate.Statement;
import leanladder.estate.read.Section;

/**
 * The edits that take back others. Each inverse is read off the estate as it stands before the edit; a whole change is taken
 * back by the inverses in reverse order.
 */
public final class Inverse {
    private final Book book;
    private final ArrayNode edits = Json.NODES.arrayNode();

    /** @param book the estate as it stands before the first edit; it is to be asked of every edit before it is carried out */
    public Inverse(Book book) {
        this.book = book;
    }

    /**
     * Takes in the next edit and has it carried out; a batch is taken back by a batch.
     *
     * @return whether it fitted
     */
    public boolean apply(Place place) {
        List<ObjectNode> inverses = new ArrayList<>();
        Optional<Edit> edit = book.apply(place, one -> of(one).ifPresent(inverse -> inverses.add(0, inverse)));
        if (edit.isEmpty()) return false;
        if (edit.get() instanceof Edit.Batch batch && !inverses.isEmpty()) {
            ObjectNode whole = Json.NODES.objectNode().put("kind", "batch");
            if (!batch.source().isEmpty()) whole.put("source", batch.source());
            whole.putArray("edits").addAll(inverses);
            edits.insert(0, whole);
        } else inverses.forEach(inverse -> edits.insert(0, inverse));
        return true;
    }

    /** The inverses so far, in the order in which they are to be carried out. */
    public ArrayNode edits() {
        return edits;
    }

    private Optional<ObjectNode> of(Edit edit) {
        return edit instanceof Edit.OfPolicy one ? ofPolicy(one) : ofDirectory((Edit.OfDirectory) edit);
    }

    private Optional<ObjectNode> ofPolicy(Edit.OfPolicy edit) {
        String id = edit.policy();
        if (edit instanceof Edit.AddPolicy) return Optional.of(form("remove-policy", id));
        if (edit instanceof Edit.RemovePolicy) return Optional.of(addition(id));
        if (edit instanceof Edit.AmendPolicy amend)
            return Optional.of(amendment(form("amend-policy", id), amend.members(), book.body(Section.POLICIES, id)));
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

    private Optional<ObjectNode> ofDirectory(Edit.OfDirectory edit) {
        String noun = DirectoryBook.noun(edit.section());
        String id = edit.id();
        if (edit instanceof Edit.AddPart) return Optional.of(form("remove-" + noun, noun, id));
        if (edit instanceof Edit.RemovePart) {
            ObjectNode inverse = Json.NODES.objectNode().put("kind", "add-" + noun);
            inverse.set(noun, book.body(edit.section(), id));
            return Optional.of(inverse);
        }
        if (edit instanceof Edit.AmendPart amend)
            return Optional.of(
                    amendment(form("amend-" + noun, noun, id), amend.members(), book.body(edit.section(), id)));
        Members who = edit instanceof Edit.PutMembers put ? put.who() : ((Edit.RemoveMembers) edit).who();
        if (who.texts().findAny().isEmpty()) return Optional.empty();
        ObjectNode inverse = form(edit instanceof Edit.PutMembers ? "remove-members" : "put-members", noun, id);
        ArrayNode members = inverse.putArray("who");
        who.texts().forEach(members::add);
        return Optional.of(inverse);
    }

    private static ObjectNode form(String kind, String policy) {
        return form(kind, "policy", policy);
    }

    private static ObjectNode form(String kind, String noun, String id) {
        return Json.NODES.objectNode().put("kind", kind).put(noun, id);
    }

    /** The policy again, where it stood; the strongest of all has to be moved up after it was added, so it goes above the next. */
    private ObjectNode addition(String id) {
        List<String> ranking = book.ranking();
        int at = ranking.indexOf(id);
        ObjectNode inverse = Json.NODES.objectNode().put("kind", "add-policy");
        inverse.set("policy", book.body(Section.POLICIES, id));
        inverse.put("below", at > 0 ? ranking.get(at - 1) : null);
        if (at == 0 && ranking.size() > 1) inverse.put("above", ranking.get(1));
        return inverse;
    }

    private static ObjectNode amendment(ObjectNode inverse, ObjectNode wanted, ObjectNode body) {
        ObjectNode members = inverse.putObject("members");
        wanted.fieldNames().forEachRemaining(name -> {
            JsonNode before = body.get(name);
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
