package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.Edit;
import leanladder.estate.Release;
import leanladder.json.Json;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** An edit of when one release opens to whom. */
public interface ReleaseEdit extends Edit {
    /** The key of the setting that is released. */
    String release();

    /** The release as it is now. */
    default Release releaseOn(Overlay on) {
        return on.part(EntityType.RELEASE, release()).orElseThrow();
    }

    /** The path of a member of the release, or of what is in it. */
    default String path(String... steps) {
        return ConflictPaths.of("releases", release()) + "/" + ConflictPaths.of(steps);
    }

    @Override
    default Set<String> paths() {
        return Set.of(path("opens"), path("planned"), path("held"));
    }

    /** A copy of an object of a release; an empty one where it has none. */
    static ObjectNode copy(Release release, String member) {
        JsonNode there = release.source().path(member);
        return there.isObject() ? (ObjectNode) there.deepCopy() : Json.NODES.objectNode();
    }

    /** The members of a release that has these openings and plans. */
    static ObjectNode members(ObjectNode opens, ObjectNode planned) {
        ObjectNode members = Json.NODES.objectNode();
        members.set("opens", opens);
        members.set("planned", planned.isEmpty() ? Json.NODES.nullNode() : planned);
        return members;
    }
}
