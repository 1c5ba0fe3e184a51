package leanladder.edit.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/** What edits of one part have in common. */
public abstract class EntityEdit<T> implements Edit {
    private final EditKind kind;
    private final ObjectNode sent;
    private final EntityType<T> type;
    private final String id;

    EntityEdit(EditKind kind, ObjectNode sent, EntityType<T> type, String id) {
        this.kind = kind;
        this.sent = sent;
        this.type = type;
        this.id = id;
    }

    /** A kind of edit of a part of one type. */
    abstract static class EntityEditKind<T> extends EditKind {
        final EntityType<T> type;

        EntityEditKind(String name, EntityType<T> type) {
            this(name, type, type.duty());
        }

        EntityEditKind(String name, EntityType<T> type, Duty duty) {
            super(name, duty);
            this.type = type;
        }

        /** The part that an edit names; a defect when there is none of this id. */
        final Optional<String> known(JsonCursor jsonCursor, Overlay on) {
            Optional<JsonCursor> named = jsonCursor.required(type.noun());
            Optional<String> id = named.flatMap(JsonCursor::id);
            id.filter(i -> on.part(type, i).isEmpty())
                    .ifPresent(i -> named.get()
                            .defect("names the " + type.noun() + " \"" + i + "\", which does not exist (any more)"));
            return id.filter(i -> on.part(type, i).isPresent());
        }

        final String path(JsonNode edit) {
            JsonNode named = edit.path(type.noun());
            return type.section().member() + "/"
                    + ConflictPaths.step(named.path(type.section().key()).asText(named.asText()));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit));
        }

        final String idSchema() {
            return "\"" + type.noun() + "\":{\"type\":\"string\"}";
        }
    }

    /** The type of the entity. */
    public final EntityType<T> type() {
        return type;
    }

    /** The id of the entity, which may come to exist only. */
    public final String id() {
        return id;
    }

    /** The edit of another kind on the same part. */
    final ObjectNode form(String kind) {
        return Json.NODES.objectNode().put("kind", kind).put(type.noun(), id);
    }

    final String name(Overlay on) {
        return on.name(type, id);
    }

    @Override
    public final EditKind kind() {
        return kind;
    }

    @Override
    public ObjectNode json() {
        return sent;
    }

    @Override
    public WriteSet footprint(Overlay before) {
        return type.footprint(id, Optional.empty(), before);
    }
}
