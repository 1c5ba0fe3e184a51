package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.edit.UpdateEdit;
import leanladder.estate.Account;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** What edits of one of the lists of an account have in common whose items name a ring, or one release. */
public abstract class SelfServiceEdit extends UpdateEdit<Account> {
    static final String PROPERTIES =
            "\"account\":{\"type\":\"string\"},\"ring\":{\"type\":\"string\"},\"release\":{\"type\":\"string\"},"
                    + "\"at\":{\"type\":\"string\",\"format\":\"date-time\"}";

    private static final List<String> TO = List.of("ring", "release");

    private final Subject subject;

    SelfServiceEdit(EditKind kind, ObjectNode sent, Subject subject, String list, ArrayNode items) {
        super(
                kind,
                sent,
                EntityType.ACCOUNT,
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
    public record Subject(Account account, String to, String what) {
        /** Whether an item of a list is about the same. */
        boolean isOf(JsonNode item) {
            return item.path(to).asText().equals(what);
        }
    }

    /** A kind of edit of one of the lists. */
    abstract static class SelfServiceEditKind extends EditKind {
        private final String list;

        SelfServiceEditKind(String name, Duty duty, String list) {
            super(name, duty);
            this.list = list;
        }

        /** The edit, read against the list as it stands; what does not fit is reported. */
        abstract Optional<? extends SelfServiceEdit> read(JsonCursor jsonCursor, Subject subject, JsonNode list);

        @Override
        public final Optional<? extends SelfServiceEdit> read(JsonCursor jsonCursor, Overlay on) {
            Optional<JsonCursor> named = jsonCursor.required("account");
            Optional<String> id = named.flatMap(JsonCursor::id);
            Optional<Account> account = id.flatMap(i -> on.part(EntityType.ACCOUNT, i));
            if (id.isPresent() && account.isEmpty())
                named.get().defect("names the account \"" + id.get() + "\", which does not exist (any more)");
            List<String> given =
                    TO.stream().filter(t -> jsonCursor.member(t).isPresent()).toList();
            if (given.size() != 1) jsonCursor.defect("must name either a ring or a release");
            if (account.isEmpty() || given.size() != 1) return Optional.empty();
            String to = given.get(0);
            JsonCursor what = jsonCursor.member(to).orElseThrow();
            Optional<String> whatId = to.equals("ring") ? what.id() : what.key();
            if (whatId.isEmpty()) return Optional.empty();
            boolean known = to.equals("ring") ? on.hasRing(whatId.get()) : on.hasRelease(whatId.get());
            if (!known) {
                what.defect("names the " + to + " \"" + whatId.get() + "\", which does not exist");
                return Optional.empty();
            }
            return read(
                    jsonCursor,
                    new Subject(account.get(), to, whatId.get()),
                    on.wholeBody(EntityType.ACCOUNT, account.get().id()).path(list));
        }

        @Override
        public final List<String> accountsAskedFor(JsonNode edit) {
            return List.of(edit.path("account").asText());
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of("accounts/" + ConflictPaths.step(edit.path("account").asText()) + "/" + list);
        }
    }

    /** As it is stored: with what is told beside what decides. */
    @Override
    protected ObjectNode body(Overlay before) {
        return before.wholeBody(EntityType.ACCOUNT, id());
    }

    /** What it is about. */
    public final Subject subject() {
        return subject;
    }
}
