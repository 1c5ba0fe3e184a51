package leanladder.edit.preview;

import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/** Withdraws a person's own consent to a preview: what was given ends then. */
public record WithdrawConsent(
        @Member(names = "account") String account,

        @Member(presence = Presence.OPTIONAL, names = "ring") @Nullable
        String ring,

        @Member(presence = Presence.OPTIONAL, names = "release") @Nullable
        String release,

        @Member(instant = true) String at)
        implements ConsentEdit {
    public static final EditKind KIND = EditKind.of(
            "withdraw-consent", Duty.OWN_WORD, WithdrawConsent.class, "takes an account's own word on a preview back");

    @Override
    public WithdrawConsent apply(Overlay on, JsonCursor place) {
        preview(place).ifPresent(preview -> replace(preview, Optional.empty(), on, place));
        return this;
    }
}
