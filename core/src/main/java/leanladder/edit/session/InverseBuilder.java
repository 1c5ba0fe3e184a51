package leanladder.edit.session;

import com.fasterxml.jackson.databind.node.ArrayNode;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** The edits that undo others: the inverse of each, in reverse order. */
public final class InverseBuilder {
    private final EditSession editSession;
    private final ArrayNode edits = Json.NODES.arrayNode();

    /** Starts from the estate as it stands before the first edit; the session belongs to this builder from now on. */
    public InverseBuilder(EditSession editSession) {
        this.editSession = editSession;
    }

    /**
     * Applies the next edit.
     *
     * @return whether it fitted
     */
    public boolean apply(JsonCursor jsonCursor) {
        Optional<AppliedEdit> applied = editSession.apply(jsonCursor);
        applied.flatMap(AppliedEdit::inverse).ifPresent(inverse -> edits.insert(0, inverse));
        return applied.isPresent();
    }

    /** The inverses so far, in the order in which they are to be applied. */
    public ArrayNode edits() {
        return edits;
    }
}
