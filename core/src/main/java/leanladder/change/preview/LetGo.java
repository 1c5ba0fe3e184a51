package leanladder.change.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Release;
import leanladder.tell.Wording;

/** Lets a release go that was held: the openings that became planned ones by that are openings again. */
public final class LetGo extends ReleaseEdit {
    public static final EditKind KIND = new Kind("let-go-release") {
        @Override
        public Optional<LetGo> read(Place place, Overlay on) {
            Optional<Release> release = known(place, on);
            if (release.isEmpty()) return Optional.empty();
            JsonNode held = release.get().source().path("held");
            if (!held.isObject()) {
                place.member("release").orElseThrow().defect("is not held (any more)");
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
            return Optional.of(new LetGo((ObjectNode) place.node(), release.get(), members));
        }

        @Override
        public String schema() {
            return schema("lets a release go that is held", "\"release\"", RELEASE);
        }
    };

    private LetGo(ObjectNode sent, Release release, ObjectNode members) {
        super(KIND, sent, release, members);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + " is held no more";
    }
}
