package leanladder.conflict;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import leanladder.edit.session.AppliedEdit;
import leanladder.edit.session.EditSession;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;

/** Edits of one draft that cancel each other, such as an exception that is put and removed again. */
public final class NetEdits {
    private NetEdits() {}

    private record Applied(JsonNode edit, Optional<ObjectNode> inverse) {}

    /**
     * The positions of edits that cancel each other, in pairs: each is the inverse of the other, and nothing between the two touches the same
     * parts. Without them the edits lead to the same estate, but for the order of statements and members, which decides nothing. Quadratic in the edits.
     *
     * @param session the estate before the edits; it belongs to this call from now on
     * @param edits all of them fit
     */
    public static BitSet cancelled(EditSession session, List<? extends JsonNode> edits) {
        BitSet cancelled = new BitSet();
        List<Applied> before = new ArrayList<>(edits.size());
        for (int later = 0; later < edits.size(); later++) {
            Optional<AppliedEdit> applied = session.apply(new JsonCursor(edits.get(later), "", new Defects()));
            Applied here = new Applied(
                    applied.<JsonNode>map(AppliedEdit::json).orElse(edits.get(later)),
                    applied.flatMap(AppliedEdit::inverse));
            for (int earlier = later - 1; earlier >= 0; earlier--) {
                if (cancelled.get(earlier)) continue;
                Applied there = before.get(earlier);
                if (isInverse(here, there)) {
                    cancelled.set(earlier);
                    cancelled.set(later);
                    break;
                }
                if (ConflictIndex.isConflict(there.edit, here.edit)) break;
            }
            before.add(here);
        }
        return cancelled;
    }

    private static boolean isInverse(Applied one, Applied other) {
        return one.inverse.filter(other.edit::equals).isPresent()
                && other.inverse.filter(one.edit::equals).isPresent();
    }
}
