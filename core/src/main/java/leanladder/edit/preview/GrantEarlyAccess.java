package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.estate.Target;
import leanladder.json.CodePointOrder;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * Opens a release early to a unit, a group or an account, without the rest of its ring; or no longer.
 *
 * @param to the target
 * @param from null closes it again
 */
public record GrantEarlyAccess(
        @Member(names = "release") String release,
        String to,

        @Member(presence = Presence.NULLABLE, instant = true) @Nullable
        String from)
        implements ReleaseEdit {
    public static final EditKind KIND = EditKind.of(
            "open-early",
            Duty.PREVIEWS,
            GrantEarlyAccess.class,
            "opens a release early to a unit, an access group or an account; null closes it again");

    @Override
    public GrantEarlyAccess apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member("to").orElseThrow();
        Optional<Target> target = on.reader().target(place, true);
        if (target.isEmpty()) return this;
        if (target.get() instanceof Target.OrganisationTarget || target.get() instanceof Target.WorkspaceTarget) {
            place.defect("must be a unit, an access group or an account");
            return this;
        }
        // Ordered by target, so that the order of the edits does not matter.
        Map<String, JsonNode> early = new TreeMap<>(CodePointOrder.TEXTS);
        releaseOn(on)
                .source()
                .path("early")
                .forEach(one -> early.put(one.path("to").asText(), one));
        if (early.remove(to) == null && from == null) {
            place.defect("is not opened to early (any more)");
            return this;
        }
        if (from != null) early.put(to, Json.NODES.objectNode().put("to", to).put("from", from));
        on.amend(
                EntityType.RELEASE,
                release,
                Json.NODES
                        .objectNode()
                        .set(
                                "early",
                                early.isEmpty()
                                        ? Json.NODES.nullNode()
                                        : Json.NODES.arrayNode().addAll(early.values())));
        return this;
    }

    /** From when on; empty where it does not open early any more. */
    public Optional<Instant> fromInstant() {
        return Optional.ofNullable(from).flatMap(Instants::instant);
    }

    @Override
    public Set<String> paths() {
        return Set.of(path("early", to));
    }
}
