package leanladder.change.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.Edit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Footprint;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Json;
import leanladder.document.Place;

/** What edits of one part have in common. */
abstract class PartEdit<T> implements Edit {
    private final EditKind kind;
    private final ObjectNode sent;
    private final PartType<T> type;
    private final String id;

    PartEdit(EditKind kind, ObjectNode sent, PartType<T> type, String id) {
        this.kind = kind;
        this.sent = sent;
        this.type = type;
        this.id = id;
    }

    /** A kind of edit of a part of one type. */
    abstract static class Kind<T> extends EditKind {
        final PartType<T> type;

        Kind(String name, PartType<T> type) {
            this(name, type, type.right());
        }

        Kind(String name, PartType<T> type, Right right) {
            super(name, right);
            this.type = type;
        }

        /** The part that an edit names; a defect when there is none of this id. */
        final Optional<String> known(Place place, Overlay on) {
            Optional<Place> named = place.required(type.noun());
            Optional<String> id = named.flatMap(Place::id);
            id.filter(i -> on.part(type, i).isEmpty())
                    .ifPresent(i -> named.get()
                            .defect("names the " + type.noun() + " \"" + i + "\", which does not exist (any more)"));
            return id.filter(i -> on.part(type, i).isPresent());
        }

        final String path(JsonNode edit) {
            JsonNode named = edit.path(type.noun());
            return type.section().member() + "/"
                    + Paths.step(named.path(type.section().key()).asText(named.asText()));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit));
        }

        final String idSchema() {
            return "\"" + type.noun() + "\":{\"type\":\"string\"}";
        }
    }

    final PartType<T> type() {
        return type;
    }

    final String id() {
        return id;
    }

    /** The edit of another kind on the same part. */
    final ObjectNode form(String kind) {
        return Json.NODES.objectNode().put("kind", kind).put(type.noun(), id);
    }

    final String name(Overlay on) {
        return on.name(type, id);
    }

    final Tally tally(String does) {
        return new Tally(
                "one " + type.noun() + " is " + does, "# " + type.section().member() + " are " + does);
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
    public Footprint footprint(Overlay before) {
        return type.footprint(id, Optional.empty(), before);
    }
}
