package leanladder.change.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Tally;
import leanladder.document.Place;
import leanladder.estate.Group;
import leanladder.estate.Members;
import leanladder.estate.read.Parts;

/** What putting members into a group and taking them out have in common. */
abstract class MembersEdit extends PartEdit<Group> {
    private static final int FEW = 3;

    private final Members who;

    MembersEdit(EditKind kind, ObjectNode sent, String group, Members who) {
        super(kind, sent, PartType.GROUP, group);
        this.who = who;
    }

    /** A kind of edit of a group's members. */
    abstract static class MembersKind extends Kind<Group> {
        private final String description;

        MembersKind(String name, String description) {
            super(name, PartType.GROUP);
            this.description = description;
        }

        @Override
        public final Optional<MembersEdit> read(Place place, Overlay on) {
            Optional<String> group = known(place, on);
            Optional<Place> list = place.required("who");
            if (group.isEmpty() || list.isEmpty()) return Optional.empty();
            int before = place.defects().size();
            List<Place> items = list.get().items();
            if (list.get().node().isArray() && items.isEmpty()) list.get().defect("must name at least one member");
            Members who = Parts.members(items);
            check(group.get(), items, on);
            if (place.defects().size() > before) return Optional.empty();
            return Optional.of(edit((ObjectNode) place.node(), group.get(), who, on));
        }

        abstract void check(String group, List<Place> items, Overlay on);

        abstract MembersEdit edit(ObjectNode sent, String group, Members who, Overlay on);

        @Override
        public final Set<String> paths(JsonNode edit) {
            Set<String> paths = new HashSet<>();
            edit.path("who").forEach(w -> paths.add(path(edit) + "/members/" + Paths.step(w.asText())));
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

    final Members who() {
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

    /** Who it is about, followed by what one does, or several do. */
    final String whoDo(Overlay before, String does, String doAll) {
        List<String> names = Stream.concat(
                        who.accounts().stream().map(a -> before.name(PartType.ACCOUNT, a)),
                        who.groups().stream().map(g -> "the group " + before.name(PartType.GROUP, g)))
                .toList();
        String all = names.isEmpty()
                ? "nobody new"
                : names.size() <= FEW ? String.join(", ", names) : names.size() + " members";
        return all + (names.size() == 1 ? " " + does + " " : " " + doAll + " ") + name(before);
    }

    @Override
    public final Tally tally() {
        return new Tally("members of one group change", "members of # groups change");
    }
}
