package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.estate.Release;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Lets a release go that was held: the openings that became planned ones by that are openings again. */
public final class ResumeRelease extends ReleaseEdit {
    public static final EditKind KIND = new ReleaseEditKind("resume-release") {
        @Override
        public Optional<ResumeRelease> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Release> release = known(jsonCursor, on);
            if (release.isEmpty()) return Optional.empty();
            JsonNode held = release.get().source().path("held");
            if (!held.isObject()) {
                jsonCursor.member("release").orElseThrow().defect("is not held (any more)");
                return Optional.empty();
            }
            ObjectNode opens = copy(release.get(), "opens");
            ObjectNode planned = copy(release.get(), "planned");
            held.path("openings").forEach(ring -> {
                JsonNode at = planned.remove(ring.asText());
                if (at != null) opens.set(ring.asText(), at);
            });
            ObjectNode members = Json.NODES.objectNode();
            members.set("opens", opens);
            members.set("planned", planned.isEmpty() ? Json.NODES.nullNode() : planned);
            members.putNull("held");
            return Optional.of(new ResumeRelease((ObjectNode) jsonCursor.node(), release.get(), members));
        }

        @Override
        public String schema() {
            return schema("lets a release go that is held", "\"release\"", RELEASE);
        }
    };

    private ResumeRelease(ObjectNode sent, Release release, ObjectNode members) {
        super(KIND, sent, release, members);
    }
}
