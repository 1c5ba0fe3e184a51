package leanladder.edit.directory;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.edit.ConflictPaths;
import leanladder.estate.Group;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;

/** An edit of the members of a group. */
public interface MembersEdit extends EntityEdit {
    /** The id of the group. */
    String group();

    /** The members as the estate file writes them, {@code account:ID} or {@code group:ID}. */
    List<String> who();

    @Override
    default EntityType<Group> type() {
        return EntityType.GROUP;
    }

    @Override
    default String id() {
        return group();
    }

    @Override
    default Set<String> paths() {
        return who().stream()
                .map(member -> path() + "/members/" + ConflictPaths.of(member))
                .collect(Collectors.toSet());
    }

    /** The members of an edit, each at its place; a defect where there are none. */
    static List<JsonCursor> items(JsonCursor at) {
        JsonCursor list = at.member("who").orElseThrow();
        if (list.node().isEmpty()) list.defect("must name at least one member");
        return list.items();
    }
}
