package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Set;
import java.util.TreeSet;

/**
 * The parts of the estate that an edit touches, as paths, read off the edit as it is written: an edit of the journal may speak of
 * what is no more. Two edits get into each other's way when a path of one is, or leads to, a path of the other.
 */
public final class Touch {
    private Touch() {}

    /** The paths that an edit touches; everything, for one that replaces the estate or is not known. */
    public static Set<String> of(JsonNode edit) {
        Set<String> paths = new TreeSet<>();
        String policy =
                step(edit.path("policy").path("id").asText(edit.path("policy").asText()));
        String at = "policies/" + policy;
        switch (edit.path("kind").asText()) {
            case "add-policy" -> paths.add(at);
            case "remove-policy" -> {
                paths.add(at);
                paths.add("ranking/" + policy);
            }
            case "amend-policy" ->
                edit.path("members").fieldNames().forEachRemaining(m -> paths.add(at + "/" + step(m)));
            case "put-statement" -> {
                JsonNode statement = edit.path("statement");
                paths.add(statement(
                        at,
                        statement.has("cap") ? "cap" : "set",
                        statement.path("setting").asText()));
            }
            case "remove-statement" ->
                paths.add(statement(
                        at, edit.path("says").asText(), edit.path("setting").asText()));
            case "put-assignment", "remove-assignment" -> {
                JsonNode assignment = edit.path("assignment");
                String how = assignment.has("except") ? "except" : "include";
                paths.add(at + "/assignments/" + how + " "
                        + step(assignment.path(how).asText()));
            }
            case "rank-policy" -> paths.add("ranking/" + policy);
            default -> paths.add("");
        }
        return paths;
    }

    private static String statement(String at, String says, String setting) {
        return at + "/statements/" + says + " " + setting;
    }

    private static String step(String name) {
        return name.replace("~", "~0").replace("/", "~1");
    }

    /** Whether two edits, as they are written, get into each other's way. */
    public static boolean meet(JsonNode a, JsonNode b) {
        return of(a).stream().anyMatch(x -> of(b).stream().anyMatch(y -> leadsTo(x, y) || leadsTo(y, x)));
    }

    private static boolean leadsTo(String path, String other) {
        return path.isEmpty() || other.equals(path) || other.startsWith(path + "/");
    }
}
