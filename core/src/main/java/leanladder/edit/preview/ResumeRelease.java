package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Release;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Resumes a release that was paused: the openings that became planned ones by that are openings again. */
public record ResumeRelease(@Member(names = "release") String release) implements ReleaseEdit {
    public static final EditKind KIND =
            EditKind.of("resume-release", Duty.PREVIEWS, ResumeRelease.class, "lets a release go that is held");

    @Override
    public ResumeRelease apply(Overlay on, JsonCursor at) {
        Release current = releaseOn(on);
        JsonNode held = current.source().path("held");
        if (!held.isObject()) {
            at.member("release").orElseThrow().defect("is not held (any more)");
            return this;
        }
        ObjectNode opens = ReleaseEdit.copy(current, "opens");
        ObjectNode planned = ReleaseEdit.copy(current, "planned");
        held.path("openings").forEach(ring -> {
            JsonNode opening = planned.remove(ring.asText());
            if (opening != null) opens.set(ring.asText(), opening);
        });
        on.amend(
                EntityType.RELEASE, release, ReleaseEdit.members(opens, planned).putNull("held"));
        return this;
    }
}
