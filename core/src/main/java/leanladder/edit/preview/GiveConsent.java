package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/** A person's own consent to a preview. */
public record GiveConsent(
        @Member(names = "account") String account,

        @Member(presence = Presence.OPTIONAL, names = "ring") @Nullable
        String ring,

        @Member(presence = Presence.OPTIONAL, names = "release") @Nullable
        String release,

        @Member(instant = true) String at,

        @Member(presence = Presence.OPTIONAL, instant = true) @Nullable
        String until)
        implements ConsentEdit {
    public static final EditKind KIND = EditKind.of(
            "give-consent",
            Duty.OWN_WORD,
            GiveConsent.class,
            "an account's own word on a preview; only the account itself can give it");

    @Override
    public GiveConsent apply(Overlay on, JsonCursor place) {
        preview(place).ifPresent(preview -> {
            ObjectNode consent = consent(preview);
            if (until != null) consent.put("until", until);
            replace(preview, Optional.of(consent), on, place);
        });
        return this;
    }
}
