package leanladder.estate;

import com.fasterxml.jackson.databind.JsonNode;

/**
 * What people agree to with a consent (resolution.md, section 7).
 *
 * @param version of the text, 1 or more
 * @param from the earliest version on a consent that still counts; 0 for any
 */
public record Terms(int version, String text, int from) {
    /** None: whatever was read is good enough. */
    public static final Terms NONE = new Terms(0, "", 0);

    /** Those in a member of a ring or release that was found to fit. */
    static Terms in(JsonNode source) {
        JsonNode terms = source.path("terms");
        return terms.isObject()
                ? new Terms(
                        terms.path("version").asInt(),
                        terms.path("text").asText(),
                        terms.path("from").asInt(0))
                : NONE;
    }
}
