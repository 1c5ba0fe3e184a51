package leanladder.edit.directory;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;

/** A new unit, account, group, workspace, licence plan, release or word on a release. */
public final class AddEntity<T> extends EntityEdit<T> {
    private final ObjectNode body;

    private AddEntity(EditKind kind, ObjectNode whole, EntityType<T> type, String id, ObjectNode body) {
        super(kind, whole, type, id);
        this.body = body;
    }

    /** The kind that adds parts of a type. */
    public static <T> EditKind kind(EntityType<T> of) {
        return kind(of, of.duty());
    }

    /** The same, where adding needs another right than editing. */
    public static <T> EditKind kind(EntityType<T> of, Duty duty) {
        return new EntityEditKind<>("add-" + of.noun(), of, duty) {
            @Override
            public Optional<AddEntity<T>> read(JsonCursor jsonCursor, Overlay on) {
                Optional<JsonCursor> named = jsonCursor.required(type.noun());
                if (named.isEmpty() || !named.get().isObject()) return Optional.empty();
                ObjectNode body = ((ObjectNode) named.get().node()).deepCopy();
                String key = type.section().key();
                if (key.equals("id") && !body.has(key))
                    body.put(
                            "id",
                            IdGenerator.generate(
                                    type.idWords(body),
                                    type.noun(),
                                    id -> on.part(type, id).isPresent()));
                String id = body.path(key).asText();
                int before = jsonCursor.defects().size();
                type.check(new JsonCursor(body, named.get().pointer(), jsonCursor.defects()), on);
                if (jsonCursor.defects().size() == before && on.part(type, id).isPresent())
                    named.get()
                            .defect(
                                    key.equals("id")
                                            ? "has the id \"" + id + "\", which another " + type.noun()
                                                    + " has; leave the id out to be given one"
                                            : "is of \"" + id + "\", which has a " + type.noun() + " already");
                if (jsonCursor.defects().size() == before) type.checkNew(named.get(), body, on);
                if (jsonCursor.defects().size() > before) return Optional.empty();
                ObjectNode whole = ((ObjectNode) jsonCursor.node()).deepCopy();
                whole.set(type.noun(), body);
                return Optional.of(new AddEntity<>(this, whole, type, id, body));
            }

            @Override
            public String schema() {
                return schema(
                        "a new " + type.noun()
                                + (type.section().key().equals("id") ? "; without an id it is given one" : ""),
                        "\"" + type.noun() + "\"",
                        "\"" + type.noun() + "\":{\"type\":\"object\",\"additionalProperties\":true}");
            }
        };
    }

    @Override
    public void apply(Overlay on) {
        on.add(type(), id(), body);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return Optional.of(form("remove-" + type().noun()));
    }

    /** The entity as the estate file writes it. Not to be changed. */
    public ObjectNode body() {
        return body;
    }
}
