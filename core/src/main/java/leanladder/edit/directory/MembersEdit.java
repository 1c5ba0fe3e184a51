package leanladder.edit.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.estate.Group;
import leanladder.estate.Members;
import leanladder.estate.read.EntityParsers;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** What putting members into a group and taking them out have in common. */
public abstract class MembersEdit extends EntityEdit<Group> {

    private final Members who;

    MembersEdit(EditKind kind, ObjectNode sent, String group, Members who) {
        super(kind, sent, EntityType.GROUP, group);
        this.who = who;
    }

    /** A kind of edit of a group's members. */
    abstract static class MembersKind extends EntityEditKind<Group> {
        private final String description;

        MembersKind(String name, String description) {
            super(name, EntityType.GROUP);
            this.description = description;
        }

        @Override
        public final Optional<MembersEdit> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> group = known(jsonCursor, on);
            Optional<JsonCursor> list = jsonCursor.required("who");
            if (group.isEmpty() || list.isEmpty()) return Optional.empty();
            int before = jsonCursor.defects().size();
            List<JsonCursor> items = list.get().items();
            if (list.get().node().isArray() && items.isEmpty()) list.get().defect("must name at least one member");
            Members who = EntityParsers.members(items);
            check(group.get(), items, on);
            if (jsonCursor.defects().size() > before) return Optional.empty();
            return Optional.of(edit((ObjectNode) jsonCursor.node(), group.get(), who, on));
        }

        abstract void check(String group, List<JsonCursor> items, Overlay on);

        abstract MembersEdit edit(ObjectNode sent, String group, Members who, Overlay on);

        @Override
        public final Set<String> paths(JsonNode edit) {
            Set<String> paths = new HashSet<>();
            edit.path("who").forEach(w -> paths.add(path(edit) + "/members/" + ConflictPaths.step(w.asText())));
            return paths;
        }

        @Override
        public final String schema() {
            return schema(
                    description,
                    "\"group\",\"who\"",
                    idSchema()
                            + ",\"who\":{\"type\":\"array\",\"minItems\":1,\"items\":{\"type\":\"string\",\"description\":\"account:ID or group:ID\"}}");
        }
    }

    /** The members that join or leave; nobody who is in already, or not in. */
    public final Members who() {
        return who;
    }

    /** The same members, by an edit of another kind. */
    final Optional<ObjectNode> back(EditKind kind) {
        if (who.texts().findAny().isEmpty()) return Optional.empty();
        ObjectNode inverse = form(kind.name());
        ArrayNode members = inverse.putArray("who");
        who.texts().forEach(members::add);
        return Optional.of(inverse);
    }
}
