package leanladder.change.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.AmendingEdit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Release;
import leanladder.estate.Ring;

/** What edits of one release have in common: when it opens to whom. */
abstract class ReleaseEdit extends AmendingEdit<Release> {
    static final String RELEASE = "\"release\":{\"type\":\"string\"}";
    static final String INSTANT = "{\"anyOf\":[{\"type\":\"null\"},{\"type\":\"string\",\"format\":\"date-time\"}]}";

    ReleaseEdit(EditKind kind, ObjectNode sent, Release release, ObjectNode members) {
        super(kind, sent, PartType.RELEASE, release.setting(), members);
    }

    /** A kind of edit of one release. */
    abstract static class Kind extends EditKind {
        Kind(String name) {
            super(name, Right.PREVIEWS);
        }

        /** The release that an edit names, by its setting; a defect when there is none. */
        static Optional<Release> known(Place place, Overlay on) {
            Optional<Place> named = place.required("release");
            Optional<String> setting = named.flatMap(Place::key);
            Optional<Release> release = setting.flatMap(s -> on.part(PartType.RELEASE, s));
            if (setting.isPresent() && release.isEmpty())
                named.get().defect("names the release \"" + setting.get() + "\", which does not exist (any more)");
            return release;
        }

        static String path(JsonNode edit) {
            return "releases/" + Paths.step(edit.path("release").asText());
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(path(edit) + "/opens", path(edit) + "/planned", path(edit) + "/held");
        }
    }

    static String ring(String id, Overlay on) {
        return on.rings().stream()
                .filter(r -> r.id().equals(id))
                .map(Ring::name)
                .findFirst()
                .orElse(id);
    }

    /** A list of one's own of the members of an object of a release. */
    static ObjectNode copy(Release release, String member) {
        JsonNode there = release.source().path(member);
        return there.isObject() ? (ObjectNode) there.deepCopy() : Json.NODES.objectNode();
    }

    @Override
    public Tally tally() {
        return new Tally("one release is edited", "# edits of releases");
    }
}
