package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** An edit of the invitations of an account to join previews. They decide nothing: only a consent does. */
public interface InvitationEdit extends SelfServiceEdit {
    @Override
    default String list() {
        return "asked";
    }

    /** The invitation that waits for an answer. */
    default Optional<ObjectNode> waiting(Preview preview, Overlay on) {
        for (JsonNode one : items(on)) if (waits(one, preview)) return Optional.of((ObjectNode) one);
        return Optional.empty();
    }

    private static boolean waits(JsonNode invitation, Preview preview) {
        return preview.isOf(invitation) && !invitation.has("declined");
    }

    /** The invitations with another in place of the one that waits, or at their end. What was answered stays. */
    default ArrayNode replaced(Preview preview, Optional<ObjectNode> by, Overlay on) {
        ArrayNode replaced = Json.NODES.arrayNode();
        boolean done = false;
        for (JsonNode one : items(on)) {
            boolean here = waits(one, preview);
            if (!here) replaced.add(one);
            else by.ifPresent(replaced::add);
            done |= here;
        }
        if (!done) by.ifPresent(replaced::add);
        return replaced;
    }

    /** Reports that the account was not asked to join a preview. */
    static void reportNotAsked(Preview preview, JsonCursor at) {
        at.member(preview.to()).orElseThrow().defect("is nothing that the account was asked to join (any more)");
    }
}
