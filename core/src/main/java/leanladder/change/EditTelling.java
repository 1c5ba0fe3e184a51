package leanladder.change;

import java.time.Instant;
import java.util.Optional;
import leanladder.change.overlay.Edit;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.tell.Wording;

/** Has edits carried out and tells them as sentences that can be read when everything they name has another name, or none. */
public final class EditTelling {
    private final Wording wording;

    /**
     * Tells edits on an estate.
     *
     * @param at when they are told; dates of its year go without the year
     */
    public EditTelling(Estate estate, Instant at) {
        this.wording = new Wording(estate, at);
    }

    /** An edit and what it does, as a sentence without its full stop. */
    public record Told(Edit edit, String words) {}

    /** Reads an edit, tells it and has it carried out; empty when it does not fit. */
    public Optional<Told> apply(Place place, Book book) {
        Optional<Told> told = book.read(place).map(edit -> new Told(edit, edit.words(book.overlay(), wording)));
        told.ifPresent(t -> book.carryOut(t.edit()));
        return told;
    }
}
