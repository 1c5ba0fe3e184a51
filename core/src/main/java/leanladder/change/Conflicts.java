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
        Optional<EditKind> kind = Kinds.of(a);
        if (kind.isPresent() && kind.equals(Kinds.of(b)) && kind.get().commutes(a, b)) return false;
        return meet(Kinds.paths(a), Kinds.paths(b));
    }

    private static boolean meet(Set<String> mine, Set<String> theirs) {
        TreeSet<String> sorted = new TreeSet<>(theirs);
        return mine.stream().anyMatch(path -> isUnderSome(path, sorted) || holdsSome(path, sorted));
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
