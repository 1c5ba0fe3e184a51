package leanladder.change.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Release;
import leanladder.tell.Wording;

/** Holds a release: openings that lie after an instant are only planned from then on, until it is let go. What is open stays open. */
public final class HoldRelease extends ReleaseEdit {
    public static final EditKind KIND = new Kind("hold-release") {
        @Override
        public Optional<HoldRelease> read(Place place, Overlay on) {
            Optional<Release> release = known(place, on);
            Optional<Place> why = place.required("reason");
            Optional<String> reason = why.flatMap(Place::text);
            reason.filter(String::isBlank).ifPresent(r -> why.get().defect("must not be empty"));
            Optional<Instant> since = place.required("since").flatMap(Place::instant);
            if (release.isEmpty() || reason.isEmpty() || since.isEmpty()) return Optional.empty();
            if (release.get().source().path("held").isObject()) {
                place.member("release").orElseThrow().defect("is held already");
                return Optional.empty();
            }
            ObjectNode opens = copy(release.get(), "opens");
            ObjectNode planned = copy(release.get(), "planned");
            release.get().opens().forEach((ring, at) -> {
                if (at.isAfter(since.get())) planned.set(ring, opens.remove(ring));
            });
            ObjectNode members = Json.NODES.objectNode();
            members.set("opens", opens);
            members.set("planned", planned.isEmpty() ? Json.NODES.nullNode() : planned);
            ObjectNode held = members.putObject("held")
                    .put("reason", reason.get())
                    .put("since", since.get().toString());
            release.get().opens().forEach((ring, at) -> {
                if (at.isAfter(since.get())) held.withArray("openings").add(ring);
            });
            return Optional.of(new HoldRelease((ObjectNode) place.node(), release.get(), members, reason.get()));
        }

        @Override
        public String schema() {
            return schema(
                    "holds a release: its openings after an instant become planned ones",
                    "\"release\",\"reason\",\"since\"",
                    RELEASE
                            + ",\"reason\":{\"type\":\"string\"},\"since\":{\"type\":\"string\",\"format\":\"date-time\"}");
        }
    };

    private final String reason;

    private HoldRelease(ObjectNode sent, Release release, ObjectNode members, String reason) {
        super(KIND, sent, release, members);
        this.reason = reason;
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + " is held: " + reason;
    }
}
