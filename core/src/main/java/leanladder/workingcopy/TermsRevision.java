package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Map;
import java.util.TreeMap;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/**
 * Revises the terms of a ring or a release (resolution.md, section 11): a text that somebody may have agreed to is not changed but
 * followed by another version. The texts of all earlier versions stay beside it, so that a consent that comes late still finds its own. Terms go
 * back only to what they were, as undo does, and only while nobody has agreed to a later version.
 */
public final class TermsRevision {
    private static final String TERMS = "terms";
    private static final String VERSION = "version";
    private static final String TEXT = "text";
    private static final String EARLIER = "earlier";

    private TermsRevision() {}

    /**
     * Checks new terms against those that stood before, and puts the earlier texts beside them.
     *
     * @param part the ring or release as it shall be; its terms are completed in place
     * @param was as it stood
     * @param place where the edit says so
     * @param member which names it in a consent, {@code ring} or {@code release}
     */
    public static void revise(ObjectNode part, ObjectNode was, JsonCursor place, String member, String id, Overlay on) {
        JsonNode before = was.path(TERMS);
        if (!before.isObject()) return;
        JsonNode now = part.path(TERMS);
        int version = now.path(VERSION).asInt(0);
        int versionBefore = before.path(VERSION).asInt(0);
        boolean sameText = now.path(TEXT).equals(before.path(TEXT));
        if (version == versionBefore && !sameText) {
            place.defect("has other terms under the same version; give them the version " + (versionBefore + 1));
            return;
        }
        if (version < versionBefore && on.hasConsent(member, id, version + 1, versionBefore)) {
            place.defect("cannot go back to version " + version
                    + " of its terms, because somebody has agreed to a later one");
            return;
        }
        if (!(now instanceof ObjectNode terms)) return;
        Map<Integer, String> earlier = new TreeMap<>();
        before.path(EARLIER)
                .forEach(e -> earlier.put(e.path(VERSION).asInt(), e.path(TEXT).asText()));
        if (version < versionBefore && !now.path(TEXT).asText().equals(earlier.get(version))) {
            place.defect("cannot go back to version " + version
                    + " of its terms with a text that this version never had; give them the version "
                    + (versionBefore + 1));
            return;
        }
        earlier.put(versionBefore, before.path(TEXT).asText());
        earlier.keySet().removeIf(v -> v >= version);
        terms.remove(EARLIER);
        if (earlier.isEmpty()) return;
        ArrayNode kept = Json.NODES.arrayNode();
        earlier.forEach((v, text) -> kept.addObject().put(VERSION, v).put(TEXT, text));
        terms.set(EARLIER, kept);
    }
}
