package leanladder.conflict;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.IntConsumer;
import leanladder.edit.session.EditKinds;

/**
 * Edits indexed by the paths that they touch, to find those that conflict with another edit. Two edits conflict when a path of one is, or
 * leads to, a path of the other, unless both are of a kind that commutes there. Paths are read from the JSON of an edit, since an edit of the
 * journal may name entities that are gone. A look-up costs what the paths of the other edit and the conflicts found cost, however many edits
 * are indexed.
 */
public final class ConflictIndex {
    private final List<JsonNode> edits;
    private final TreeMap<String, List<Integer>> byPath = new TreeMap<>();
    private final BitSet everything = new BitSet();

    /** Indexes edits. Linear in their paths, but for sorting. */
    public ConflictIndex(List<JsonNode> edits) {
        this.edits = edits;
        for (int i = 0; i < edits.size(); i++)
            for (String path : EditKinds.paths(edits.get(i))) {
                if (path.isEmpty()) everything.set(i);
                byPath.computeIfAbsent(path, p -> new ArrayList<>(1)).add(i);
            }
    }

    /** Whether two edits conflict. Linear in the paths of both, but for sorting. */
    public static boolean isConflict(JsonNode a, JsonNode b) {
        boolean[] met = {false};
        new ConflictIndex(List.of(a)).forEachConflict(b, i -> met[0] = true);
        return met[0];
    }

    /** Passes on the positions of all edits that conflict with another edit, each once and in ascending order. */
    public void forEachConflict(JsonNode other, IntConsumer found) {
        BitSet met = new BitSet();
        met.or(everything);
        for (String path : EditKinds.paths(other)) {
            if (path.isEmpty()) met.set(0, edits.size());
            add(met, path);
            for (int at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1))
                add(met, path.substring(0, at));
            for (Map.Entry<String, List<Integer>> below :
                    byPath.tailMap(path + "/", true).entrySet()) {
                if (!below.getKey().startsWith(path + "/")) break;
                below.getValue().forEach(met::set);
            }
        }
        for (int i = met.nextSetBit(0); i >= 0; i = met.nextSetBit(i + 1))
            if (!EditKinds.commute(edits.get(i), other)) found.accept(i);
    }

    private void add(BitSet met, String path) {
        byPath.getOrDefault(path, List.of()).forEach(met::set);
    }
}
