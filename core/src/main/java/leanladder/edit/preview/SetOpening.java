package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.estate.Release;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * Opens a release to a ring from an instant on, or withdraws it from there. What was planned for the ring is settled by it.
 *
 * @param from null withdraws it
 */
public record SetOpening(
        @Member(names = "release") String release,
        @Member(names = "ring") String ring,

        @Member(presence = Presence.NULLABLE, instant = true) @Nullable
        String from)
        implements ReleaseEdit {
    public static final EditKind KIND = EditKind.of(
            "open-release",
            Duty.PREVIEWS,
            SetOpening.class,
            "opens a release to a ring from an instant on; null draws it back");

    @Override
    public SetOpening apply(Overlay on, JsonCursor at) {
        Release current = releaseOn(on);
        if (from == null && !current.opens().containsKey(ring)) {
            at.member("from").orElseThrow().defect("draws back what is not open to this ring (any more)");
            return this;
        }
        boolean onTrack = on.track(current.track())
                .filter(track -> track.rings().stream().anyMatch(r -> r.id().equals(ring)))
                .isPresent();
        if (from != null && !onTrack) {
            at.member("ring").orElseThrow().defect("is no ring of the track to which this release belongs");
            return this;
        }
        ObjectNode opens = ReleaseEdit.copy(current, "opens");
        if (from == null) opens.remove(ring);
        else opens.put(ring, from);
        ObjectNode members = Json.NODES.objectNode();
        members.set("opens", opens);
        ObjectNode planned = ReleaseEdit.copy(current, "planned");
        if (planned.remove(ring) != null) members = ReleaseEdit.members(opens, planned);
        on.amend(EntityType.RELEASE, release, members);
        return this;
    }

    /** From when on; empty where the release is withdrawn from the ring. */
    public Optional<Instant> fromInstant() {
        return Optional.ofNullable(from).flatMap(Instants::instant);
    }

    @Override
    public Set<String> paths() {
        return Set.of(path("opens", ring), path("planned", ring));
    }
}
