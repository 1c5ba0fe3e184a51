package leanladder.change.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import leanladder.catalogue.Kind;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Instants;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.tell.Wording;

/**
 * An account's word on a preview (resolution.md, section 7): a person's own, given and withdrawn by the person alone; and that of a room,
 * which an administrator records once its owner has agreed.
 */
public final class ConsentEdit extends AccountWord {
    private static final String LIST = "consents";
    private static final String REQUIRED = "\"account\",\"at\"";

    /** A person's own word. */
    public static final EditKind GIVE = new ConsentKind("give-consent", Right.OWN_WORD) {
        @Override
        Optional<ObjectNode> consent(Place edit, Subject subject) {
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
    public static final EditKind WITHDRAW = new ConsentKind("withdraw-consent", Right.OWN_WORD) {
        @Override
        Optional<ObjectNode> consent(Place edit, Subject subject) {
            edit.required("at").flatMap(Place::instant);
            return Optional.empty();
        }

        @Override
        public String schema() {
            return schema("takes an account's own word on a preview back", REQUIRED, PROPERTIES);
        }
    };

    /** The word of a room. */
    public static final EditKind RECORD = new ConsentKind("record-consent", Right.PREVIEWS) {
        @Override
        Optional<ObjectNode> consent(Place edit, Subject subject) {
            Optional<Place> agreed = edit.required("agreed");
            agreed.flatMap(Place::text)
                    .filter(String::isBlank)
                    .ifPresent(t -> agreed.get().defect("must say who agreed for the room"));
            if (subject.account().kind() != Kind.ROOM)
                edit.member("account")
                        .orElseThrow()
                        .defect("is no room: nobody can consent to a preview on behalf of somebody else");
            return given(edit, subject)
                    .map(c ->
                            c.<ObjectNode>set("agreed", agreed.map(Place::node).orElse(Json.NODES.nullNode())));
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
    private abstract static class ConsentKind extends WordKind {
        ConsentKind(String name, Right right) {
            super(name, right, LIST);
        }

        /** The consent that is given; empty where one is taken back. What does not fit is reported. */
        abstract Optional<ObjectNode> consent(Place edit, Subject subject);

        /** A consent to what the edit names, from its instant on. */
        static Optional<ObjectNode> given(Place edit, Subject subject) {
            Optional<Place> at = edit.required("at");
            if (at.flatMap(Place::instant).isEmpty()) return Optional.empty();
            ObjectNode consent = Json.NODES.objectNode().put(subject.to(), subject.what());
            consent.set("at", at.get().node());
            return Optional.of(consent);
        }

        @Override
        final Optional<ConsentEdit> read(Place place, Subject subject, JsonNode list) {
            int before = place.defects().size();
            Optional<ObjectNode> fresh = consent(place, subject);
            if (place.defects().size() > before) return Optional.empty();
            Instant at = Instants.instant(place.node().path("at").asText()).orElseThrow();
            ArrayNode consents = Json.NODES.arrayNode();
            boolean had = false;
            for (JsonNode one : list) {
                ObjectNode consent = one.deepCopy();
                if (subject.isOf(consent) && goesOn(consent, at)) {
                    had = true;
                    // What was given ends where the new word begins, or is taken back.
                    if (!begins(consent).isBefore(at)) continue;
                    consent.set("until", place.node().get("at"));
                }
                consents.add(consent);
            }
            if (fresh.isEmpty() && !had) {
                place.member(subject.to())
                        .orElseThrow()
                        .defect("is nothing that the account has consented to (any more)");
                return Optional.empty();
            }
            fresh.ifPresent(consents::add);
            return Optional.of(new ConsentEdit(this, (ObjectNode) place.node(), subject, consents, fresh.isPresent()));
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

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + (gives ? " consents to " : " takes back the consent to ") + told(before);
    }

    @Override
    public Tally tally() {
        return new Tally("one consent is given or taken back", "# consents are given or taken back");
    }
}
