package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import leanladder.change.overlay.EditKind;

/**
 * Whether edits get into each other's way, read off how they are written: an edit of the journal may speak of what is no more.
 * Each kind says which parts it touches, and whether two of it that touch the same leave the same in either order.
 */
public final class Conflicts {
    private Conflicts() {}

    /** Whether two edits get into each other's way. Linear in the paths of both, but for sorting. */
    public static boolean between(JsonNode a, JsonNode b) {
        return with(a).isWith(b);
    }

    /** Prepares an edit to be held against many. */
    public static With with(JsonNode edit) {
        return new With(edit, new TreeSet<>(Kinds.paths(edit)));
    }

    /** An edit that is held against others. */
    public record With(JsonNode edit, TreeSet<String> paths) {
        /** Whether the two get into each other's way. Linear in the paths of the other. */
        public boolean isWith(JsonNode other) {
            Optional<EditKind> kind = Kinds.of(edit);
            if (kind.isPresent() && kind.equals(Kinds.of(other)) && kind.get().commutes(edit, other)) return false;
            for (String path : Kinds.paths(other)) if (isUnderSome(path, paths) || holdsSome(path, paths)) return true;
            return false;
        }
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
