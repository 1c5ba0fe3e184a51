package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Release;
import leanladder.json.Instants;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Pauses a release: openings that lie after an instant are only planned from then on, until it is resumed. What is open stays open. */
public record PauseRelease(
        @Member(names = "release") String release,
        String reason,
        @Member(instant = true) String since) implements ReleaseEdit {
    public static final EditKind KIND = EditKind.of(
            "pause-release",
            Duty.PREVIEWS,
            PauseRelease.class,
            "holds a release: its openings after an instant become planned ones");

    @Override
    public PauseRelease apply(Overlay on, JsonCursor at) {
        Release current = releaseOn(on);
        boolean held = current.source().path("held").isObject();
        if (reason.isBlank()) at.member("reason").orElseThrow().defect("must not be empty");
        if (held) at.member("release").orElseThrow().defect("is held already");
        if (reason.isBlank() || held) return this;
        Instant from = Instants.instant(since).orElseThrow();
        ObjectNode opens = ReleaseEdit.copy(current, "opens");
        ObjectNode planned = ReleaseEdit.copy(current, "planned");
        ObjectNode members = ReleaseEdit.members(opens, planned);
        ObjectNode pause = members.putObject("held").put("reason", reason).put("since", from.toString());
        current.opens().forEach((ring, opening) -> {
            if (!opening.isAfter(from)) return;
            planned.set(ring, opens.remove(ring));
            pause.withArray("openings").add(ring);
        });
        if (!planned.isEmpty()) members.set("planned", planned);
        on.amend(EntityType.RELEASE, release, members);
        return this;
    }
}
