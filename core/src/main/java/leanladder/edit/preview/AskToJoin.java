package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * Asks an account to join a preview; one that was asked before and has not answered is asked anew.
 *
 * @param by who asks
 */
public record AskToJoin(
        @Member(names = "account") String account,

        @Member(presence = Presence.OPTIONAL, names = "ring") @Nullable
        String ring,

        @Member(presence = Presence.OPTIONAL, names = "release") @Nullable
        String release,

        @Member(instant = true) String at,
        @Member(presence = Presence.OPTIONAL) @Nullable String by,
        @Member(presence = Presence.OPTIONAL) @Nullable String text)
        implements InvitationEdit {
    public static final EditKind KIND = EditKind.of(
            "ask-to-join",
            Duty.PREVIEWS,
            AskToJoin.class,
            "marks an account as asked to join a preview; it decides nothing");

    @Override
    public AskToJoin apply(Overlay on, JsonCursor place) {
        preview(place).ifPresent(preview -> {
            ObjectNode invitation =
                    Json.NODES.objectNode().put(preview.to(), preview.what()).put("at", at);
            if (by != null) invitation.put("by", by);
            if (text != null) invitation.put("text", text);
            on.setInvitations(
                    account,
                    replaced(preview, Optional.of(invitation), on),
                    preview.to(),
                    preview.what(),
                    waiting(preview, on));
        });
        return this;
    }
}
