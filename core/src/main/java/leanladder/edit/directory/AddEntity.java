package leanladder.edit.directory;

import com.fasterxml.jackson.annotation.JacksonInject;
import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.edit.EditKind;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;

/**
 * Adds a unit, account, group, workspace, licence plan, release or feedback.
 *
 * @param entity as the estate file writes it
 */
public record AddEntity(@JacksonInject EntityType<?> type, ObjectNode entity) implements EntityEdit {
    /** The kind that adds entities of a type. */
    public static EditKind kind(EntityType<?> type) {
        return kind(type, type.duty());
    }

    /** The same, where adding needs another duty than other edits. */
    public static EditKind kind(EntityType<?> type, Duty duty) {
        return EditKind.of(
                "add-" + type.noun(),
                duty,
                AddEntity.class,
                type,
                "a new " + type.noun() + (hasId(type) ? "; without an id it is given one" : ""));
    }

    private static boolean hasId(EntityType<?> type) {
        return type.section().key().equals("id");
    }

    @Override
    public AddEntity apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member(type.noun()).orElseThrow();
        ObjectNode body = entity.deepCopy();
        if (hasId(type) && !body.has("id"))
            body.put(
                    "id",
                    IdGenerator.generate(
                            type.idWords(body),
                            type.noun(),
                            id -> on.part(type, id).isPresent()));
        AddEntity whole = new AddEntity(type, body);
        int found = at.defects().size();
        type.check(new JsonCursor(body, place.pointer(), at.defects()), on);
        if (at.defects().size() == found && on.part(type, whole.id()).isPresent())
            place.defect(
                    hasId(type)
                            ? "has the id \"" + whole.id() + "\", which another " + type.noun()
                                    + " has; leave the id out to be given one"
                            : "is of \"" + whole.id() + "\", which has a " + type.noun() + " already");
        if (at.defects().size() == found) type.checkNew(place, body, on);
        if (at.defects().size() == found) on.add(type, whole.id(), body);
        return whole;
    }

    @Override
    public String id() {
        return entity.path(type.section().key()).asText("");
    }
}
