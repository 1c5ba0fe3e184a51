package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.json.Json;
import org.pcollections.HashTreePMap;
import org.pcollections.PMap;

/**
 * An entity that edits created, changed or removed.
 *
 * @param part the entity; a group with the members it had before the edits; empty when it was removed
 * @param fresh its whole body, when it is new
 * @param amended the members of its body that were set since; null for those that were removed
 * @param members of a group, when they were edited or the group is new
 */
record EntityDelta<T>(
        Optional<T> part,
        Optional<ObjectNode> fresh,
        PMap<String, JsonNode> amended,
        Optional<MembershipDelta> members) {
    static <T> EntityDelta<T> gone() {
        return new EntityDelta<>(Optional.empty(), Optional.empty(), HashTreePMap.empty(), Optional.empty());
    }

    /** The whole body as the estate file writes it, put together from that of the part before. */
    ObjectNode body(ObjectNode stored) {
        ObjectNode members = Json.NODES.objectNode();
        amended.forEach(members::set);
        ObjectNode body = Overlay.amended(fresh.orElse(stored), members);
        this.members.ifPresent(m -> m.writeTo(body));
        return body;
    }
}
