package leanladder.change.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.AmendingEdit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Right;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;

/** What edits of one of the lists of an account have in common whose items name a ring, or one release. */
abstract class AccountWord extends AmendingEdit<Account> {
    static final String PROPERTIES =
            "\"account\":{\"type\":\"string\"},\"ring\":{\"type\":\"string\"},\"release\":{\"type\":\"string\"},"
                    + "\"at\":{\"type\":\"string\",\"format\":\"date-time\"}";

    private static final List<String> TO = List.of("ring", "release");

    private final Subject subject;

    AccountWord(EditKind kind, ObjectNode sent, Subject subject, String list, ArrayNode items) {
        super(
                kind,
                sent,
                PartType.ACCOUNT,
                subject.account.id(),
                Json.NODES.objectNode().set(list, items));
        this.subject = subject;
    }

    /**
     * What an edit is about.
     *
     * @param to the member that names it, ring or release
     * @param what the id of the ring, or the key of the release
     */
    record Subject(Account account, String to, String what) {
        /** Whether an item of a list is about the same. */
        boolean isOf(JsonNode item) {
            return item.path(to).asText().equals(what);
        }
    }

    /** A kind of edit of one of the lists. */
    abstract static class WordKind extends EditKind {
        private final String list;

        WordKind(String name, Right right, String list) {
            super(name, right);
            this.list = list;
        }

        /** The edit, read against the list as it stands; what does not fit is reported. */
        abstract Optional<? extends AccountWord> read(Place place, Subject subject, JsonNode list);

        @Override
        public final Optional<? extends AccountWord> read(Place place, Overlay on) {
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
            boolean known = to.equals("ring") ? on.hasRing(whatId.get()) : on.hasRelease(whatId.get());
            if (!known) {
                what.defect("names the " + to + " \"" + whatId.get() + "\", which does not exist");
                return Optional.empty();
            }
            return read(
                    place,
                    new Subject(account.get(), to, whatId.get()),
                    on.wholeBody(PartType.ACCOUNT, account.get().id()).path(list));
        }

        @Override
        public final List<String> accountsAskedFor(JsonNode edit) {
            return List.of(edit.path("account").asText());
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of("accounts/" + Paths.step(edit.path("account").asText()) + "/" + list);
        }
    }

    /** As it is stored: with what is told beside what decides. */
    @Override
    protected ObjectNode body(Overlay before) {
        return before.wholeBody(PartType.ACCOUNT, id());
    }

    final Subject subject() {
        return subject;
    }

    /** What it is about, in words. */
    final String told(Overlay on) {
        return subject.to.equals("ring")
                ? ReleaseEdit.ring(subject.what, on)
                : on.name(PartType.RELEASE, subject.what) + " alone";
    }
}
