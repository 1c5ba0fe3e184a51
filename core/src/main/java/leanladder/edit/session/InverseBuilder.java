package leanladder.edit.session;

import com.fasterxml.jackson.databind.node.ArrayNode;
import java.util.Optional;
import leanladder.edit.Edit;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/**
 * The edits that take back others. Each inverse is read off the estate as it stands before the edit; a whole change is taken
 * back by the inverses in reverse order.
 */
public final class InverseBuilder {
    private final EditSession editSession;
    private final ArrayNode edits = Json.NODES.arrayNode();

    /** Starts from the estate as it stands before the first edit; the session belongs to this builder from now on. */
    public InverseBuilder(EditSession editSession) {
        this.editSession = editSession;
    }

    /**
     * Takes in the next edit and has it carried out; a batch is taken back by a batch.
     *
     * @return whether it fitted
     */
    public boolean apply(JsonCursor jsonCursor) {
        Optional<Edit> edit = editSession.read(jsonCursor);
        if (edit.isEmpty()) return false;
        edit.get().inverse(editSession.overlay()).ifPresent(inverse -> edits.insert(0, inverse));
        editSession.apply(edit.get());
        return true;
    }

    /** The inverses so far, in the order in which they are to be carried out. */
    public ArrayNode edits() {
        return edits;
    }
}
