package leanladder.change;

import com.fasterxml.jackson.databind.node.ArrayNode;
import java.util.Optional;
import leanladder.change.overlay.Edit;
import leanladder.document.Json;
import leanladder.document.Place;

/**
 * The edits that take back others. Each inverse is read off the estate as it stands before the edit; a whole change is taken
 * back by the inverses in reverse order.
 */
public final class Inverse {
    private final Book book;
    private final ArrayNode edits = Json.NODES.arrayNode();

    /** Starts from the estate as it stands before the first edit; the book is this one's own from now on. */
    public Inverse(Book book) {
        this.book = book;
    }

    /**
     * Takes in the next edit and has it carried out; a batch is taken back by a batch.
     *
     * @return whether it fitted
     */
    public boolean apply(Place place) {
        Optional<Edit> edit = book.read(place);
        if (edit.isEmpty()) return false;
        edit.get().inverse(book.overlay()).ifPresent(inverse -> edits.insert(0, inverse));
        book.carryOut(edit.get());
        return true;
    }

    /** The inverses so far, in the order in which they are to be carried out. */
    public ArrayNode edits() {
        return edits;
    }
}
