package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Terms;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/**
 * An account's word on a preview (resolution.md, section 7): a person's own, given and withdrawn by the person alone; and that of a room,
 * which an administrator records once its owner has agreed.
 */
public interface ConsentEdit extends SelfServiceEdit {
    /** From when on, or until when. */
    String at();

    @Override
    default String list() {
        return "consents";
    }

    /** What is agreed to with a consent to a preview. */
    default Terms terms(Preview preview, Overlay on) {
        return preview.to().equals(Consent.ConsentTarget.RING.member())
                ? on.ring(preview.what()).map(Ring::terms).orElse(Terms.NONE)
                : on.part(EntityType.RELEASE, preview.what())
                        .map(Release::terms)
                        .orElse(Terms.NONE);
    }

    /** A consent to a preview, from the instant of the edit on. */
    default ObjectNode consent(Preview preview) {
        return Json.NODES.objectNode().put(preview.to(), preview.what()).put("at", at());
    }

    /**
     * Ends what was consented to before, and adds a consent.
     *
     * @param fresh the consent that is given; empty where one is withdrawn, which there must be then
     */
    default void replace(Preview preview, Optional<ObjectNode> fresh, Overlay on, JsonCursor place) {
        Instant from = Instants.instant(at()).orElseThrow();
        ArrayNode consents = Json.NODES.arrayNode();
        boolean had = false;
        for (JsonNode one : items(on)) {
            ObjectNode consent = one.deepCopy();
            if (preview.isOf(consent) && endsAfter(consent, from)) {
                had = true;
                if (!begins(consent).isBefore(from)) continue;
                consent.put("until", at());
            }
            consents.add(consent);
        }
        if (fresh.isEmpty() && !had) {
            place.member(preview.to()).orElseThrow().defect("is nothing that the account has consented to (any more)");
            return;
        }
        fresh.ifPresent(consents::add);
        on.amend(EntityType.ACCOUNT, account(), Json.NODES.objectNode().set(list(), consents));
    }

    private static Instant begins(JsonNode consent) {
        return Instants.instant(consent.path("at").asText()).orElseThrow();
    }

    private static boolean endsAfter(JsonNode consent, Instant at) {
        return Instants.instant(consent.path("until").asText(""))
                .map(until -> until.isAfter(at))
                .orElse(true);
    }
}
