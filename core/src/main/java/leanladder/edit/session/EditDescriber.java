package leanladder.edit.session;

import java.time.Instant;
import java.util.Optional;
import leanladder.edit.Edit;
import leanladder.estate.Estate;
import leanladder.json.JsonCursor;
import leanladder.text.EstateFormatter;
import leanladder.workingcopy.WriteSet;

/** Has edits carried out and tells them as sentences that can be read when everything they name has another name, or none. */
public final class EditDescriber {
    private final EstateFormatter estateFormatter;

    /**
     * Tells edits on an estate.
     *
     * @param at when they are told; dates of its year go without the year
     */
    public EditDescriber(Estate estate, Instant at) {
        this.estateFormatter = new EstateFormatter(estate, at);
    }

    /** An edit, what it does, as a sentence without its full stop, and what it touches. */
    public record EditDescription(Edit edit, String words, WriteSet touched) {}

    /** Reads an edit, tells it and has it carried out; empty when it does not fit. */
    public Optional<EditDescription> apply(JsonCursor jsonCursor, EditSession editSession) {
        Optional<Edit> edit = editSession.read(jsonCursor);
        if (edit.isEmpty()) return Optional.empty();
        String words = edit.get().words(editSession.overlay(), estateFormatter);
        WriteSet touched = edit.get().footprint(editSession.overlay());
        editSession.apply(edit.get());
        return Optional.of(new EditDescription(edit.get(), words, touched));
    }
}
