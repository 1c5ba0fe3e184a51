package leanladder.change.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Kind;
import leanladder.change.overlay.AmendingEdit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Instants;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.tell.Wording;

/**
 * An account's word on a preview (resolution.md, section 7): a person's own, given and withdrawn by the person alone; and that of a room,
 * which an administrator records once its owner has agreed.
 */
public final class ConsentEdit extends AmendingEdit<Account> {
    private static final List<String> TO = List.of("ring", "release");

    /** A person's own word. */
    public static final EditKind GIVE = new WordKind("give-consent", Right.OWN_WORD) {
        @Override
        Optional<ObjectNode> consent(Place edit, Account account) {
            Optional<ObjectNode> consent = given(edit);
            edit.member("until")
                    .filter(u -> u.instant().isPresent())
                    .ifPresent(u -> consent.ifPresent(c -> c.set("until", u.node())));
            return consent;
        }

        @Override
        public String schema() {
            return schema(
                    "an account's own word on a preview; only the account itself can give it", REQUIRED, PROPERTIES);
        }
    };

    /** The same, taken back: what was given ends then. */
    public static final EditKind WITHDRAW = new WordKind("withdraw-consent", Right.OWN_WORD) {
        @Override
        Optional<ObjectNode> consent(Place edit, Account account) {
            edit.required("at").flatMap(Place::instant);
            return Optional.empty();
        }

        @Override
        public String schema() {
            return schema("takes an account's own word on a preview back", REQUIRED, PROPERTIES);
        }
    };

    /** The word of a room. */
    public static final EditKind RECORD = new WordKind("record-consent", Right.PREVIEWS) {
        @Override
        Optional<ObjectNode> consent(Place edit, Account account) {
            Optional<Place> agreed = edit.required("agreed");
            agreed.flatMap(Place::text)
                    .filter(String::isBlank)
                    .ifPresent(t -> agreed.get().defect("must say who agreed for the room"));
            if (account.kind() != Kind.ROOM)
                edit.member("account")
                        .orElseThrow()
                        .defect("is no room: nobody can consent to a preview on behalf of somebody else");
            return given(edit)
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

    private static final String REQUIRED = "\"account\",\"at\"";
    private static final String PROPERTIES =
            "\"account\":{\"type\":\"string\"},\"ring\":{\"type\":\"string\"},\"release\":{\"type\":\"string\"},"
                    + "\"at\":{\"type\":\"string\",\"format\":\"date-time\"},\"until\":{\"type\":\"string\",\"format\":\"date-time\"}";

    private final boolean gives;
    private final String to;
    private final String what;

    private ConsentEdit(EditKind kind, ObjectNode sent, Account account, ObjectNode members, boolean gives, String to) {
        super(kind, sent, PartType.ACCOUNT, account.id(), members);
        this.gives = gives;
        this.to = to;
        this.what = sent.path(to).asText();
    }

    /** A kind of edit of an account's word. */
    private abstract static class WordKind extends EditKind {
        WordKind(String name, Right right) {
            super(name, right);
        }

        /** The consent that is given; empty where one is taken back. What does not fit is reported. */
        abstract Optional<ObjectNode> consent(Place edit, Account account);

        /** A consent to what the edit names, from its instant on. */
        static Optional<ObjectNode> given(Place edit) {
            Optional<Place> at = edit.required("at");
            if (at.flatMap(Place::instant).isEmpty()) return Optional.empty();
            ObjectNode consent = Json.NODES.objectNode();
            for (String to : TO) edit.member(to).ifPresent(p -> consent.set(to, p.node()));
            consent.set("at", at.get().node());
            return Optional.of(consent);
        }

        @Override
        public Optional<ConsentEdit> read(Place place, Overlay on) {
            Optional<Place> named = place.required("account");
            Optional<String> id = named.flatMap(Place::id);
            Optional<Account> account = id.flatMap(i -> on.part(PartType.ACCOUNT, i));
            if (id.isPresent() && account.isEmpty())
                named.get().defect("names the account \"" + id.get() + "\", which does not exist (any more)");
            List<String> given =
                    TO.stream().filter(t -> place.member(t).isPresent()).toList();
            if (given.size() != 1) place.defect("must name either a ring or a release");
            if (account.isEmpty() || given.size() != 1) return Optional.empty();
            String to = given.get(0);
            Place what = place.member(to).orElseThrow();
            Optional<String> whatId = to.equals("ring") ? what.id() : what.key();
            if (whatId.isEmpty()) return Optional.empty();
            int before = place.defects().size();
            boolean known = to.equals("ring") ? on.hasRing(whatId.get()) : on.hasRelease(whatId.get());
            if (!known) what.defect("names the " + to + " \"" + whatId.get() + "\", which does not exist");
            Optional<ObjectNode> fresh = consent(place, account.get());
            if (place.defects().size() > before) return Optional.empty();
            Instant at = Instants.instant(place.node().path("at").asText()).orElseThrow();
            ArrayNode consents = Json.NODES.arrayNode();
            boolean had = false;
            for (JsonNode one :
                    on.wholeBody(PartType.ACCOUNT, account.get().id()).path("consents")) {
                ObjectNode consent = one.deepCopy();
                if (consent.path(to).asText().equals(whatId.get()) && goesOn(consent, at)) {
                    had = true;
                    // What was given ends where the new word begins, or is taken back.
                    if (!begins(consent).isBefore(at)) continue;
                    consent.set("until", place.node().get("at"));
                }
                consents.add(consent);
            }
            if (fresh.isEmpty() && !had) {
                what.defect("is nothing that the account has consented to (any more)");
                return Optional.empty();
            }
            fresh.ifPresent(consents::add);
            ObjectNode members = Json.NODES.objectNode();
            members.set("consents", consents);
            return Optional.of(
                    new ConsentEdit(this, (ObjectNode) place.node(), account.get(), members, fresh.isPresent(), to));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of("accounts/" + Paths.step(edit.path("account").asText()) + "/consents");
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

    /** As it is stored: who agreed for a room stands beside its word. */
    @Override
    protected ObjectNode body(Overlay before) {
        return before.wholeBody(PartType.ACCOUNT, id());
    }

    @Override
    public String words(Overlay before, Wording wording) {
        String told =
                to.equals("ring") ? ReleaseEdit.ring(what, before) : before.name(PartType.RELEASE, what) + " alone";
        return name(before) + (gives ? " consents to " : " takes back the consent to ") + told;
    }

    @Override
    public Tally tally() {
        return new Tally("one consent is given or taken back", "# consents are given or taken back");
    }
}
