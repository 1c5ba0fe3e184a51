package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Set;
import java.util.TreeSet;

/**
 * The parts of the estate that an edit touches, as paths, read off the edit as it is written: an edit of the journal may speak of
 * what is no more. Two edits get into each other's way when a path of one is, or leads to, a path of the other, unless both put
 * the same members or the same assignment in: then both stand.
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
            case "add-unit", "add-account", "add-group", "remove-unit", "remove-account", "remove-group" ->
                paths.add(part(edit));
            case "amend-unit", "amend-account", "amend-group" ->
                edit.path("members").fieldNames().forEachRemaining(m -> paths.add(part(edit) + "/" + step(m)));
            case "put-members", "remove-members" ->
                edit.path("who").forEach(who -> paths.add(part(edit) + "/members/" + step(who.asText())));
            case "batch" -> edit.path("edits").forEach(one -> paths.addAll(of(one)));
            default -> paths.add("");
        }
        return paths;
    }

    /** The path of the unit, account or group that an edit names. */
    private static String part(JsonNode edit) {
        String kind = edit.path("kind").asText();
        String noun = kind.endsWith("-members") ? "group" : kind.substring(kind.indexOf('-') + 1);
        return noun + "s/"
                + step(edit.path(noun).path("id").asText(edit.path(noun).asText()));
    }

    private static String statement(String at, String says, String setting) {
        return at + "/statements/" + says + " " + setting;
    }

    private static String step(String name) {
        return name.replace("~", "~0").replace("/", "~1");
    }

    /** Whether two edits, as they are written, get into each other's way. Linear in the paths of both, but for sorting. */
    public static boolean meet(JsonNode a, JsonNode b) {
        if (putTheSameIn(a, b)) return false;
        TreeSet<String> theirs = new TreeSet<>(of(b));
        TreeSet<String> mine = new TreeSet<>(of(a));
        return mine.stream().anyMatch(path -> isUnderSome(path, theirs) || holdsSome(path, theirs));
    }

    /** Whether both put something in that can be in but once, and neither takes anything away. */
    private static boolean putTheSameIn(JsonNode a, JsonNode b) {
        String kind = a.path("kind").asText();
        if (!kind.equals(b.path("kind").asText())) return false;
        return kind.equals("put-members") || kind.equals("put-assignment") && a.equals(b);
    }

    /** Whether a path or one that leads to it is among the others. */
    private static boolean isUnderSome(String path, Set<String> others) {
        if (others.contains("") || others.contains(path)) return true;
        for (int at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1))
            if (others.contains(path.substring(0, at))) return true;
        return false;
    }

    /** Whether a path leads to one of the others. */
    private static boolean holdsSome(String path, TreeSet<String> others) {
        if (path.isEmpty()) return !others.isEmpty();
        String next = others.ceiling(path + "/");
        return next != null && next.startsWith(path + "/");
    }
}
