package leanladder.edit.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/** Changes members of a unit, account or group; null takes a member away. */
public final class UpdateEntity<T> extends EntityEdit<T> {
    private final ObjectNode members;

    private UpdateEntity(EditKind kind, ObjectNode sent, EntityType<T> type, String id, ObjectNode members) {
        super(kind, sent, type, id);
        this.members = members;
    }

    /** The kind that amends parts of a type. */
    public static <T> EditKind kind(EntityType<T> of) {
        return new EntityEditKind<>("amend-" + of.noun(), of) {
            @Override
            public Optional<UpdateEntity<T>> read(JsonCursor jsonCursor, Overlay on) {
                Optional<String> id = known(jsonCursor, on);
                Optional<JsonCursor> members = jsonCursor.required("members").filter(JsonCursor::isObject);
                if (id.isEmpty() || members.isEmpty()) return Optional.empty();
                for (var member : members.get().members().entrySet())
                    if (!type.amendable().contains(member.getKey())) {
                        member.getValue()
                                .defect("cannot be amended so; "
                                        + type.amendable().stream().sorted().collect(Collectors.joining(", "))
                                        + " can");
                        return Optional.empty();
                    }
                ObjectNode wanted = (ObjectNode) members.get().node();
                ObjectNode amended =
                        Overlay.amended(type.shortBody(on.part(type, id.get()).orElseThrow()), wanted);
                int before = jsonCursor.defects().size();
                type.check(new JsonCursor(amended, members.get().pointer(), jsonCursor.defects()), on);
                if (jsonCursor.defects().size() == before) type.checkAmended(id.get(), amended, members.get(), on);
                return jsonCursor.defects().size() > before
                        ? Optional.empty()
                        : Optional.of(new UpdateEntity<>(this, (ObjectNode) jsonCursor.node(), type, id.get(), wanted));
            }

            @Override
            public Set<String> paths(JsonNode edit) {
                Set<String> paths = new HashSet<>();
                edit.path("members")
                        .fieldNames()
                        .forEachRemaining(m -> paths.add(path(edit) + "/" + ConflictPaths.step(m)));
                return paths;
            }

            @Override
            public String schema() {
                return schema(
                        type.amendable().stream().sorted().collect(Collectors.joining(", "))
                                + "; null takes a member away",
                        "\"" + type.noun() + "\",\"members\"",
                        idSchema() + ",\"members\":{\"type\":\"object\",\"additionalProperties\":true}");
            }
        };
    }

    @Override
    public void apply(Overlay on) {
        on.amend(type(), id(), members);
    }

    /** The members as they were, among them what only the stored body knows: attributes that decide nothing. */
    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode whole = before.wholeBody(type(), id());
        ObjectNode inverse = form(kind().name());
        ObjectNode back = inverse.putObject("members");
        members.fieldNames().forEachRemaining(m -> back.set(m, whole.has(m) ? whole.get(m) : Json.NODES.nullNode()));
        return Optional.of(inverse);
    }

    @Override
    public WriteSet footprint(Overlay before) {
        return type().footprint(id(), Optional.of(members), before);
    }

    /** The members that are set; null for those taken away. Not to be changed. */
    public ObjectNode members() {
        return members;
    }
}
