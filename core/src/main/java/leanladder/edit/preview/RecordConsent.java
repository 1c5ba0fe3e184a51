package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.catalogue.AccountKind;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * Records the consent of a room.
 *
 * @param agreed who agreed for the room
 */
public record RecordConsent(
        @Member(names = "account") String account,

        @Member(presence = Presence.OPTIONAL, names = "ring") @Nullable
        String ring,

        @Member(presence = Presence.OPTIONAL, names = "release") @Nullable
        String release,

        @Member(instant = true) String at,
        String agreed)
        implements ConsentEdit {
    public static final EditKind KIND = EditKind.of(
            "record-consent",
            Duty.PREVIEWS,
            RecordConsent.class,
            "records the word of a room, with that of who agreed for it");

    @Override
    public RecordConsent apply(Overlay on, JsonCursor place) {
        int found = place.defects().size();
        if (agreed.isBlank()) place.member("agreed").orElseThrow().defect("must say who agreed for the room");
        if (on.part(EntityType.ACCOUNT, account).orElseThrow().kind() != AccountKind.ROOM)
            place.member("account")
                    .orElseThrow()
                    .defect("is no room: nobody can consent to a preview on behalf of somebody else");
        Optional<Preview> preview = preview(place);
        if (place.defects().size() > found) return this;
        preview.ifPresent(p -> {
            ObjectNode consent = consent(p).put("agreed", agreed);
            int version = terms(p, on).version();
            if (version > 0) consent.put("terms", version);
            replace(p, Optional.of(consent), on, place);
        });
        return this;
    }
}
