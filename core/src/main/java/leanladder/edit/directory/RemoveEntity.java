package leanladder.edit.directory;

import com.fasterxml.jackson.annotation.JacksonInject;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.Reference;

/**
 * Removes an entity that nothing names any more.
 *
 * @param entity the id
 */
public record RemoveEntity(@JacksonInject EntityType<?> type, String entity) implements EntityEdit {
    /** The kind that removes entities of a type. */
    public static EditKind kind(EntityType<?> type) {
        return EditKind.of(
                "remove-" + type.noun(),
                type.duty(),
                RemoveEntity.class,
                type,
                "takes a " + type.noun() + " away that nothing names any more");
    }

    @Override
    public RemoveEntity apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member(type.noun()).orElseThrow();
        Optional<String> never = type.whyNotRemoved(entity, on);
        List<Reference> uses = never.isPresent() ? List.of() : on.uses(type, entity);
        never.ifPresent(place::defect);
        if (!uses.isEmpty())
            place.defect("cannot be taken away: " + on.name(type, entity) + " is used by " + Reference.list(uses) + ". "
                    + type.insteadOfRemoval());
        if (never.isEmpty() && uses.isEmpty()) on.remove(type, entity);
        return this;
    }

    @Override
    public String id() {
        return entity;
    }
}
