package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/** An account's own refusal of a preview that it was asked to join. */
public record DeclinePreview(
        @Member(names = "account") String account,

        @Member(presence = Presence.OPTIONAL, names = "ring") @Nullable
        String ring,

        @Member(presence = Presence.OPTIONAL, names = "release") @Nullable
        String release,

        @Member(instant = true) String at)
        implements InvitationEdit {
    public static final EditKind KIND = EditKind.of(
            "decline-preview",
            Duty.OWN_WORD,
            DeclinePreview.class,
            "an account's own no to a preview that it was asked to join");

    @Override
    public DeclinePreview apply(Overlay on, JsonCursor place) {
        preview(place).ifPresent(preview -> {
            Optional<ObjectNode> declined =
                    waiting(preview, on).map(one -> one.deepCopy().put("declined", at));
            if (declined.isEmpty()) InvitationEdit.reportNotAsked(preview, place);
            else
                on.amend(
                        EntityType.ACCOUNT,
                        account,
                        Json.NODES.objectNode().set(list(), replaced(preview, declined, on)));
        });
        return this;
    }
}
