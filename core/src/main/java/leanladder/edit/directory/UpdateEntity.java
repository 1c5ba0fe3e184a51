package leanladder.edit.directory;

import com.fasterxml.jackson.annotation.JacksonInject;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
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
        return apply(type, on, at);
    }

    private <T> UpdateEntity apply(EntityType<T> of, Overlay on, JsonCursor at) {
        JsonCursor place = at.member("members").orElseThrow();
        for (var member : place.members().entrySet())
            if (!of.isAmendable(member.getKey())) {
                member.getValue().defect("cannot be amended so; " + amendable(of) + " can");
                return this;
            }
        int found = at.defects().size();
        ObjectNode all = of.complete(entity, members, place, on);
        ObjectNode amended = Overlay.amended(of.shortBody(on.part(of, entity).orElseThrow()), all);
        of.check(new JsonCursor(amended, place.pointer(), at.defects()), on);
        if (at.defects().size() == found) of.checkAmended(entity, amended, place, on);
        if (at.defects().size() == found) on.amend(of, entity, all);
        return new UpdateEntity(type, entity, all);
    }

    @Override
    public Set<String> paths() {
        Set<String> touched = new HashSet<>();
        members.fieldNames().forEachRemaining(touched::add);
        return type.touchedBy(touched).stream()
                .map(member -> path() + "/" + ConflictPaths.of(member))
                .collect(Collectors.toSet());
    }

    @Override
    public String id() {
        return entity;
    }
}
