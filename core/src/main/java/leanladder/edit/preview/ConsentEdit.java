package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import leanladder.catalogue.AccountKind;
import leanladder.edit.EditKind;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;

/**
 * An account's word on a preview (resolution.md, section 7): a person's own, given and withdrawn by the person alone; and that of a room,
 * which an administrator records once its owner has agreed.
 */
public final class ConsentEdit extends SelfServiceEdit {
    private static final String LIST = "consents";
    private static final String REQUIRED = "\"account\",\"at\"";

    /** A person's own word. */
    public static final EditKind GIVE = new ConsentKind("give-consent", Duty.OWN_WORD) {
        @Override
        Optional<ObjectNode> consent(JsonCursor edit, Subject subject) {
            Optional<ObjectNode> consent = given(edit, subject);
            edit.member("until")
                    .filter(u -> u.instant().isPresent())
                    .ifPresent(u -> consent.ifPresent(c -> c.set("until", u.node())));
            return consent;
        }

        @Override
        public String schema() {
            return schema(
                    "an account's own word on a preview; only the account itself can give it",
                    REQUIRED,
                    PROPERTIES + ",\"until\":{\"type\":\"string\",\"format\":\"date-time\"}");
        }
    };

    /** The same, taken back: what was given ends then. */
    public static final EditKind WITHDRAW = new ConsentKind("withdraw-consent", Duty.OWN_WORD) {
        @Override
        Optional<ObjectNode> consent(JsonCursor edit, Subject subject) {
            edit.required("at").flatMap(JsonCursor::instant);
            return Optional.empty();
        }

        @Override
        public String schema() {
            return schema("takes an account's own word on a preview back", REQUIRED, PROPERTIES);
        }
    };

    /** The word of a room. */
    public static final EditKind RECORD = new ConsentKind("record-consent", Duty.PREVIEWS) {
        @Override
        Optional<ObjectNode> consent(JsonCursor edit, Subject subject) {
            Optional<JsonCursor> agreed = edit.required("agreed");
            agreed.flatMap(JsonCursor::text)
                    .filter(String::isBlank)
                    .ifPresent(t -> agreed.get().defect("must say who agreed for the room"));
            if (subject.account().kind() != AccountKind.ROOM)
                edit.member("account")
                        .orElseThrow()
                        .defect("is no room: nobody can consent to a preview on behalf of somebody else");
            return given(edit, subject)
                    .map(c -> c.<ObjectNode>set(
                            "agreed", agreed.map(JsonCursor::node).orElse(Json.NODES.nullNode())));
        }

        @Override
        public String schema() {
            return schema(
                    "records the word of a room, with that of who agreed for it",
                    REQUIRED + ",\"agreed\"",
                    PROPERTIES + ",\"agreed\":{\"type\":\"string\"}");
        }
    };

    private final boolean gives;

    private ConsentEdit(EditKind kind, ObjectNode sent, Subject subject, ArrayNode consents, boolean gives) {
        super(kind, sent, subject, LIST, consents);
        this.gives = gives;
    }

    /** A kind of edit of an account's word. */
    private abstract static class ConsentKind extends SelfServiceEditKind {
        ConsentKind(String name, Duty duty) {
            super(name, duty, LIST);
        }

        /** The consent that is given; empty where one is taken back. What does not fit is reported. */
        abstract Optional<ObjectNode> consent(JsonCursor edit, Subject subject);

        /** A consent to what the edit names, from its instant on. */
        static Optional<ObjectNode> given(JsonCursor edit, Subject subject) {
            Optional<JsonCursor> at = edit.required("at");
            if (at.flatMap(JsonCursor::instant).isEmpty()) return Optional.empty();
            ObjectNode consent = Json.NODES.objectNode().put(subject.to(), subject.what());
            consent.set("at", at.get().node());
            return Optional.of(consent);
        }

        @Override
        final Optional<ConsentEdit> read(JsonCursor jsonCursor, Subject subject, JsonNode list) {
            int before = jsonCursor.defects().size();
            Optional<ObjectNode> fresh = consent(jsonCursor, subject);
            if (jsonCursor.defects().size() > before) return Optional.empty();
            Instant at = Instants.instant(jsonCursor.node().path("at").asText()).orElseThrow();
            ArrayNode consents = Json.NODES.arrayNode();
            boolean had = false;
            for (JsonNode one : list) {
                ObjectNode consent = one.deepCopy();
                if (subject.isOf(consent) && goesOn(consent, at)) {
                    had = true;
                    // What was given ends where the new word begins, or is taken back.
                    if (!begins(consent).isBefore(at)) continue;
                    consent.set("until", jsonCursor.node().get("at"));
                }
                consents.add(consent);
            }
            if (fresh.isEmpty() && !had) {
                jsonCursor
                        .member(subject.to())
                        .orElseThrow()
                        .defect("is nothing that the account has consented to (any more)");
                return Optional.empty();
            }
            fresh.ifPresent(consents::add);
            return Optional.of(
                    new ConsentEdit(this, (ObjectNode) jsonCursor.node(), subject, consents, fresh.isPresent()));
        }
    }

    private static Instant begins(JsonNode consent) {
        return Instants.instant(consent.path("at").asText()).orElseThrow();
    }

    /** Whether a consent does not end before an instant, or at it. */
    private static boolean goesOn(JsonNode consent, Instant at) {
        return Instants.instant(consent.path("until").asText(""))
                .map(until -> until.isAfter(at))
                .orElse(true);
    }

    /** Whether the consent is given; it is withdrawn otherwise. */
    public boolean gives() {
        return gives;
    }
}
