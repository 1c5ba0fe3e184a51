package leanladder.edit.directory;

import com.fasterxml.jackson.annotation.JacksonInject;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import java.util.TreeSet;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/**
 * Sets members of an entity.
 *
 * @param entity the id
 * @param members null removes a member
 */
public record UpdateEntity(@JacksonInject EntityType<?> type, String entity, ObjectNode members) implements EntityEdit {
    /** The kind that changes entities of a type. */
    public static EditKind kind(EntityType<?> type) {
        return EditKind.of(
                "amend-" + type.noun(),
                type.duty(),
                UpdateEntity.class,
                type,
                amendable(type) + "; null takes a member away");
    }

    private static String amendable(EntityType<?> type) {
        return String.join(", ", new TreeSet<>(type.amendable()));
    }

    @Override
    public UpdateEntity apply(Overlay on, JsonCursor at) {
        apply(type, on, at);
        return this;
    }

    private <T> void apply(EntityType<T> of, Overlay on, JsonCursor at) {
        JsonCursor place = at.member("members").orElseThrow();
        for (var member : place.members().entrySet())
            if (!of.isAmendable(member.getKey())) {
                member.getValue().defect("cannot be amended so; " + amendable(of) + " can");
                return;
            }
        ObjectNode amended = Overlay.amended(of.shortBody(on.part(of, entity).orElseThrow()), members);
        int found = at.defects().size();
        of.check(new JsonCursor(amended, place.pointer(), at.defects()), on);
        if (at.defects().size() == found) of.checkAmended(entity, amended, place, on);
        if (at.defects().size() == found) on.amend(of, entity, members);
    }

    @Override
    public Set<String> paths() {
        return ConflictPaths.members(path(), members);
    }

    @Override
    public String id() {
        return entity;
    }
}
