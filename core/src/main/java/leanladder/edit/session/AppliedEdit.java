package leanladder.edit.session;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.workingcopy.Mutation;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/**
 * An edit that was applied.
 *
 * @param edit with the ids that were given
 * @param json the edit as the journal keeps it
 * @param before the working copy before it
 * @param mutations what it wrote, in order
 */
public record AppliedEdit(EditKind kind, Edit edit, ObjectNode json, Overlay before, List<Mutation> mutations) {
    /** What it touches. Linear in the mutations. */
    public WriteSet touched() {
        WriteSet touched = WriteSet.EMPTY;
        for (Mutation mutation : mutations) touched = touched.and(mutation.touched());
        return touched;
    }

    /** The edit that undoes it, a batch for a batch; empty where there is nothing to undo. */
    public Optional<ObjectNode> inverse() {
        List<ObjectNode> inverses = Inverses.of(mutations);
        if (inverses.isEmpty()) return Optional.empty();
        if (edit instanceof BatchEdit batch) return Optional.of(BatchEdit.json(inverses, batch.source()));
        return Optional.of(inverses.size() == 1 ? inverses.get(0) : BatchEdit.json(inverses, null));
    }
}
