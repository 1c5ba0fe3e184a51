package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/** That an account is asked to join a preview, is not asked any more, or says no. It decides nothing: only a consent does. */
public final class InvitationEdit extends SelfServiceEdit {
    private static final String LIST = "asked";
    private static final List<String> TOLD = List.of("by", "text");
    private static final String REQUIRED = "\"account\",\"at\"";

    /** Asks; whoever was asked before and has not answered is asked anew. */
    public static final EditKind ASK = new SelfServiceEditKind("ask-to-join", Duty.PREVIEWS, LIST) {
        @Override
        Optional<InvitationEdit> read(JsonCursor jsonCursor, Subject subject, JsonNode list) {
            Optional<JsonCursor> at = jsonCursor.required("at");
            if (at.flatMap(JsonCursor::instant).isEmpty()) return Optional.empty();
            ObjectNode asked = Json.NODES.objectNode().put(subject.to(), subject.what());
            asked.set("at", at.get().node());
            for (String told : TOLD)
                jsonCursor.member(told).filter(t -> t.text().isPresent()).ifPresent(t -> asked.set(told, t.node()));
            return Optional.of(of(this, jsonCursor, subject, replaced(list, subject, Optional.of(asked))));
        }

        @Override
        public String schema() {
            return schema(
                    "marks an account as asked to join a preview; it decides nothing",
                    REQUIRED,
                    PROPERTIES + ",\"by\":{\"type\":\"string\"},\"text\":{\"type\":\"string\"}");
        }
    };

    /** Takes the asking back. */
    public static final EditKind STOP = new SelfServiceEditKind("stop-asking", Duty.PREVIEWS, LIST) {
        @Override
        Optional<InvitationEdit> read(JsonCursor jsonCursor, Subject subject, JsonNode list) {
            if (asked(list, subject).isEmpty()) return notAsked(jsonCursor, subject);
            return Optional.of(of(this, jsonCursor, subject, replaced(list, subject, Optional.empty())));
        }

        @Override
        public String schema() {
            return schema("takes it back that an account was asked", "\"account\"", PROPERTIES);
        }
    };

    /** The account says no. */
    public static final EditKind DECLINE = new SelfServiceEditKind("decline-preview", Duty.OWN_WORD, LIST) {
        @Override
        Optional<InvitationEdit> read(JsonCursor jsonCursor, Subject subject, JsonNode list) {
            Optional<JsonCursor> at = jsonCursor.required("at");
            if (at.flatMap(JsonCursor::instant).isEmpty()) return Optional.empty();
            Optional<ObjectNode> asked = asked(list, subject);
            if (asked.isEmpty()) return notAsked(jsonCursor, subject);
            ObjectNode declined = asked.get().deepCopy();
            declined.set("declined", at.get().node());
            return Optional.of(of(this, jsonCursor, subject, replaced(list, subject, Optional.of(declined))));
        }

        @Override
        public String schema() {
            return schema("an account's own no to a preview that it was asked to join", REQUIRED, PROPERTIES);
        }
    };

    private InvitationEdit(EditKind kind, ObjectNode sent, Subject subject, ArrayNode asked) {
        super(kind, sent, subject, LIST, asked);
    }

    private static InvitationEdit of(EditKind kind, JsonCursor jsonCursor, Subject subject, ArrayNode asked) {
        return new InvitationEdit(kind, (ObjectNode) jsonCursor.node(), subject, asked);
    }

    private static Optional<InvitationEdit> notAsked(JsonCursor jsonCursor, Subject subject) {
        jsonCursor
                .member(subject.to())
                .orElseThrow()
                .defect("is nothing that the account was asked to join (any more)");
        return Optional.empty();
    }

    /** The asking that waits for an answer. */
    private static Optional<ObjectNode> asked(JsonNode list, Subject subject) {
        for (JsonNode one : list) if (waits(one, subject)) return Optional.of((ObjectNode) one);
        return Optional.empty();
    }

    private static boolean waits(JsonNode asked, Subject subject) {
        return subject.isOf(asked) && !asked.has("declined");
    }

    /** The list with something else in place of the asking that waits, or at its end. What was answered stays. */
    private static ArrayNode replaced(JsonNode list, Subject subject, Optional<ObjectNode> by) {
        ArrayNode replaced = Json.NODES.arrayNode();
        boolean done = false;
        for (JsonNode one : list) {
            boolean here = waits(one, subject);
            if (!here) replaced.add(one);
            else by.ifPresent(replaced::add);
            done |= here;
        }
        if (!done) by.ifPresent(replaced::add);
        return replaced;
    }

    /** Whoever was asked is asked as before, or not any more; a no is its giver's own, and stays. */
    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        if (kind() == DECLINE) return super.inverse(before);
        Optional<ObjectNode> was = asked(body(before).path(LIST), subject());
        ObjectNode inverse = Json.NODES
                .objectNode()
                .put("kind", was.isPresent() ? ASK.name() : STOP.name())
                .put("account", id());
        was.ifPresent(inverse::setAll);
        inverse.put(subject().to(), subject().what());
        return Optional.of(inverse);
    }
}
