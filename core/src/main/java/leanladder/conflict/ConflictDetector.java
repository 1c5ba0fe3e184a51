package leanladder.conflict;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;

/**
 * Whether edits get into each other's way, read off how they are written: an edit of the journal may speak of what is no more.
 * Each kind says which parts it touches, and whether two of it that touch the same leave the same in either order.
 */
public final class ConflictDetector {
    private ConflictDetector() {}

    /** Whether two edits get into each other's way. Linear in the paths of both, but for sorting. */
    public static boolean between(JsonNode a, JsonNode b) {
        boolean[] met = {false};
        new ConflictIndex(List.of(a)).forEachConflict(b, i -> met[0] = true);
        return met[0];
    }
}
