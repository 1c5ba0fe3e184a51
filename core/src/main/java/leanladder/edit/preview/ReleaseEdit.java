package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.edit.UpdateEdit;
import leanladder.estate.Release;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** What edits of one release have in common: when it opens to whom. */
public abstract class ReleaseEdit extends UpdateEdit<Release> {
    static final String RELEASE = "\"release\":{\"type\":\"string\"}";
    static final String INSTANT = "{\"anyOf\":[{\"type\":\"null\"},{\"type\":\"string\",\"format\":\"date-time\"}]}";

    ReleaseEdit(EditKind kind, ObjectNode sent, Release release, ObjectNode members) {
        super(kind, sent, EntityType.RELEASE, release.setting(), members);
    }

    /** A kind of edit of one release. */
    abstract static class ReleaseEditKind extends EditKind {
        ReleaseEditKind(String name) {
            super(name, Duty.PREVIEWS);
        }

        /** The release that an edit names, by its setting; a defect when there is none. */
        static Optional<Release> known(JsonCursor jsonCursor, Overlay on) {
            Optional<JsonCursor> named = jsonCursor.required("release");
            Optional<String> setting = named.flatMap(JsonCursor::key);
            Optional<Release> release = setting.flatMap(s -> on.part(EntityType.RELEASE, s));
            if (setting.isPresent() && release.isEmpty())
                named.get().defect("names the release \"" + setting.get() + "\", which does not exist (any more)");
            return release;
        }

        static String path(JsonNode edit) {
            return "releases/" + ConflictPaths.step(edit.path("release").asText());
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit) + "/opens", path(edit) + "/planned", path(edit) + "/held");
        }
    }

    /** A list of one's own of the members of an object of a release. */
    static ObjectNode copy(Release release, String member) {
        JsonNode there = release.source().path(member);
        return there.isObject() ? (ObjectNode) there.deepCopy() : Json.NODES.objectNode();
    }
}
