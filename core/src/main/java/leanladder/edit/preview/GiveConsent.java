package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigInteger;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.estate.Terms;
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
        String until,

        @Member(presence = Presence.OPTIONAL, description = "the version of the terms that the person has read")
        @Nullable
        BigInteger terms)
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
            read(preview, on, place).ifPresent(version -> consent.put("terms", version));
            replace(preview, Optional.of(consent), on, place);
        });
        return this;
    }

    /** The version of the terms that was read: the present one, or one that is still good. */
    private Optional<Integer> read(Preview preview, Overlay on, JsonCursor place) {
        Terms required = terms(preview, on);
        if (terms == null) {
            if (required.from() > 0)
                place.defect("must say which version of the terms was read; it is at version " + required.version());
            return Optional.empty();
        }
        int version = terms.bitLength() < Integer.SIZE ? terms.intValue() : Integer.MAX_VALUE;
        if (version < required.from() || version > required.version())
            place.member("terms")
                    .orElseThrow()
                    .defect(
                            required.version() == 0
                                    ? "names a version of terms, and there are none"
                                    : "names a version of the terms that is not good any more; read version "
                                            + required.version());
        return Optional.of(version);
    }
}
