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

/** Withdraws the invitation of an account to a preview that it has not answered. */
public record StopAsking(
        @Member(names = "account") String account,

        @Member(presence = Presence.OPTIONAL, names = "ring") @Nullable
        String ring,

        @Member(presence = Presence.OPTIONAL, names = "release") @Nullable
        String release)
        implements InvitationEdit {
    public static final EditKind KIND =
            EditKind.of("stop-asking", Duty.PREVIEWS, StopAsking.class, "takes it back that an account was asked");

    @Override
    public StopAsking apply(Overlay on, JsonCursor place) {
        preview(place).ifPresent(preview -> {
            Optional<ObjectNode> waiting = waiting(preview, on);
            if (waiting.isEmpty()) InvitationEdit.reportNotAsked(preview, place);
            else
                on.setInvitations(
                        account, replaced(preview, Optional.empty(), on), preview.to(), preview.what(), waiting);
        });
        return this;
    }
}
