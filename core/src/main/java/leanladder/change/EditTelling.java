package leanladder.change;

import java.time.Instant;
import java.util.Optional;
import leanladder.change.overlay.Edit;
import leanladder.change.overlay.Footprint;
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

    /** An edit, what it does, as a sentence without its full stop, and what it touches. */
    public record Told(Edit edit, String words, Footprint touched) {}

    /** Reads an edit, tells it and has it carried out; empty when it does not fit. */
    public Optional<Told> apply(Place place, Book book) {
        Optional<Edit> edit = book.read(place);
        if (edit.isEmpty()) return Optional.empty();
        String words = edit.get().words(book.overlay(), wording);
        Footprint touched = edit.get().footprint(book.overlay());
        book.carryOut(edit.get());
        return Optional.of(new Told(edit.get(), words, touched));
    }
}
