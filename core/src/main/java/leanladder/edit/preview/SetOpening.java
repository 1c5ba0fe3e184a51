package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.estate.Release;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Opens a release to a ring from an instant on, or draws it back from there. What was planned for the ring is settled by it. */
public final class SetOpening extends ReleaseEdit {
    public static final EditKind KIND = new ReleaseEditKind("open-release") {
        @Override
        public Optional<SetOpening> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Release> release = known(jsonCursor, on);
            Optional<JsonCursor> named = jsonCursor.required("ring");
            Optional<String> ring = named.flatMap(JsonCursor::id);
            ring.filter(r -> !on.hasRing(r))
                    .ifPresent(r -> named.get().defect("names the ring \"" + r + "\", which does not exist"));
            Optional<JsonCursor> from = jsonCursor.required("from");
            Optional<Instant> at = from.filter(f -> !f.node().isNull()).flatMap(JsonCursor::instant);
            if (release.isEmpty() || ring.isEmpty() || from.isEmpty()) return Optional.empty();
            boolean draws = from.get().node().isNull();
            if (draws && !release.get().opens().containsKey(ring.get())) {
                from.get().defect("draws back what is not open to this ring (any more)");
                return Optional.empty();
            }
            if (!draws && at.isEmpty()) return Optional.empty();
            ObjectNode members = Json.NODES.objectNode();
            ObjectNode opens = copy(release.get(), "opens");
            if (draws) opens.remove(ring.get());
            else opens.set(ring.get(), from.get().node());
            members.set("opens", opens);
            ObjectNode planned = copy(release.get(), "planned");
            if (planned.remove(ring.get()) != null)
                members.set("planned", planned.isEmpty() ? Json.NODES.nullNode() : planned);
            return Optional.of(new SetOpening((ObjectNode) jsonCursor.node(), release.get(), members, ring.get(), at));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            String ring = ConflictPaths.step(edit.path("ring").asText());
            return Set.of(path(edit) + "/opens/" + ring, path(edit) + "/planned/" + ring);
        }

        @Override
        public String schema() {
            return schema(
                    "opens a release to a ring from an instant on; null draws it back",
                    "\"release\",\"ring\",\"from\"",
                    RELEASE + ",\"ring\":{\"type\":\"string\"},\"from\":" + INSTANT);
        }
    };

    private final String ring;
    private final Optional<Instant> from;

    private SetOpening(ObjectNode sent, Release release, ObjectNode members, String ring, Optional<Instant> from) {
        super(KIND, sent, release, members);
        this.ring = ring;
        this.from = from;
    }

    /** The id of the ring. */
    public String ring() {
        return ring;
    }

    /** From when on; empty where the release is withdrawn from the ring. */
    public Optional<Instant> from() {
        return from;
    }
}
