package leanladder.edit;

import com.fasterxml.jackson.databind.JsonNode;

/** Paths that name parts of the estate, {@code policies/p1/statements/set chat.private}: a shorter one leads to what is in it. */
public final class ConflictPaths {
    private ConflictPaths() {}

    /** A name as one step of a path. */
    public static String step(String name) {
        return name.replace("~", "~0").replace("/", "~1");
    }

    /** The id that a member of an edit holds, be it the id itself or a whole part. */
    public static String id(JsonNode edit, String member) {
        return edit.path(member).path("id").asText(edit.path(member).asText());
    }

    /** The path of a policy that an edit names. */
    public static String policy(JsonNode edit) {
        return "policies/" + step(id(edit, "policy"));
    }

    /** The path of a policy's place in the ranking. */
    public static String place(JsonNode edit) {
        return "ranking/" + step(id(edit, "policy"));
    }
}
