package leanladder.edit.directory;

import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.workingcopy.EntityType;

/** An edit of one entity of the estate. */
public interface EntityEdit extends Edit {
    /** The type of the entity. */
    EntityType<?> type();

    /** The id of the entity; empty where a new one has none yet. */
    String id();

    /** The path of the entity. */
    default String path() {
        return ConflictPaths.of(type().section().member(), id());
    }

    @Override
    default Set<String> paths() {
        return Set.of(path());
    }
}
