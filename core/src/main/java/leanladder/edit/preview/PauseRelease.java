package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.estate.Release;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Holds a release: openings that lie after an instant are only planned from then on, until it is let go. What is open stays open. */
public final class PauseRelease extends ReleaseEdit {
    public static final EditKind KIND = new ReleaseEditKind("pause-release") {
        @Override
        public Optional<PauseRelease> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Release> release = known(jsonCursor, on);
            Optional<JsonCursor> why = jsonCursor.required("reason");
            Optional<String> reason = why.flatMap(JsonCursor::text);
            reason.filter(String::isBlank).ifPresent(r -> why.get().defect("must not be empty"));
            Optional<Instant> since = jsonCursor.required("since").flatMap(JsonCursor::instant);
            if (release.isEmpty() || reason.isEmpty() || since.isEmpty()) return Optional.empty();
            if (release.get().source().path("held").isObject()) {
                jsonCursor.member("release").orElseThrow().defect("is held already");
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
            return Optional.of(new PauseRelease((ObjectNode) jsonCursor.node(), release.get(), members, reason.get()));
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

    private PauseRelease(ObjectNode sent, Release release, ObjectNode members, String reason) {
        super(KIND, sent, release, members);
        this.reason = reason;
    }

    /** Why, as the administrator put it. */
    public String reason() {
        return reason;
    }
}
