package leanladder.conflict;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.IntConsumer;
import leanladder.edit.EditKind;
import leanladder.edit.session.EditKinds;

/**
 * Many edits, indexed by the paths that they touch, to find those that conflict with an edit of somebody else (see {@link ConflictDetector}). It takes
 * an edit at a cost that depends on its own paths and on what is found, not on how many edits are indexed.
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
        Optional<EditKind> kind = EditKinds.find(other);
        for (int i = met.nextSetBit(0); i >= 0; i = met.nextSetBit(i + 1)) {
            boolean commutes = kind.isPresent()
                    && kind.equals(EditKinds.find(edits.get(i)))
                    && kind.get().commutes(edits.get(i), other);
            if (!commutes) found.accept(i);
        }
    }

    private void add(BitSet met, String path) {
        byPath.getOrDefault(path, List.of()).forEach(met::set);
    }
}
