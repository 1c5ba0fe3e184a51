package leanladder.edit.directory;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.Reference;

/** Takes a unit, account or group away that nothing names any more. */
public final class RemoveEntity<T> extends EntityEdit<T> {
    private RemoveEntity(EditKind kind, ObjectNode sent, EntityType<T> type, String id) {
        super(kind, sent, type, id);
    }

    /** The kind that takes parts of a type away. */
    public static <T> EditKind kind(EntityType<T> of) {
        return new EntityEditKind<>("remove-" + of.noun(), of) {
            @Override
            public Optional<RemoveEntity<T>> read(JsonCursor jsonCursor, Overlay on) {
                Optional<String> id = known(jsonCursor, on);
                if (id.isEmpty()) return Optional.empty();
                JsonCursor at = jsonCursor.member(type.noun()).orElseThrow();
                Optional<String> never = type.whyNotRemoved(id.get(), on);
                if (never.isPresent()) {
                    at.defect(never.get());
                    return Optional.empty();
                }
                List<Reference> uses = on.uses(type, id.get());
                if (!uses.isEmpty()) {
                    at.defect("cannot be taken away: " + on.name(type, id.get()) + " is used by " + Reference.list(uses)
                            + ". " + type.insteadOfRemoval());
                    return Optional.empty();
                }
                return Optional.of(new RemoveEntity<>(this, (ObjectNode) jsonCursor.node(), type, id.get()));
            }

            @Override
            public String schema() {
                return schema(
                        "takes a " + type.noun() + " away that nothing names any more",
                        "\"" + type.noun() + "\"",
                        idSchema());
            }
        };
    }

    @Override
    public void apply(Overlay on) {
        on.remove(type(), id());
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode inverse = Json.NODES.objectNode().put("kind", "add-" + type().noun());
        inverse.set(type().noun(), before.wholeBody(type(), id()));
        return Optional.of(inverse);
    }
}
