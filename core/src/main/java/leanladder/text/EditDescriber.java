package leanladder.text;

import java.time.Instant;
import java.util.Optional;
import leanladder.edit.Edit;
import leanladder.edit.session.EditSession;
import leanladder.estate.Estate;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.WriteSet;

/** Has edits carried out and tells them as sentences that can be read when everything they name has another name, or none. */
public final class EditDescriber {
    private final EditFormatter editFormatter;

    /**
     * Tells edits on an estate.
     *
     * @param at when they are told; dates of its year go without the year
     */
    public EditDescriber(Estate estate, Instant at) {
        this.editFormatter = new EditFormatter(new EstateFormatter(estate, at));
    }

    /** An edit, what it does, as a sentence without its full stop, and what it touches. */
    public record EditDescription(Edit edit, String words, WriteSet touched) {}

    /** Reads an edit, tells it and has it carried out; empty when it does not fit. */
    public Optional<EditDescription> apply(JsonCursor jsonCursor, EditSession editSession) {
        Optional<Edit> edit = editSession.read(jsonCursor);
        if (edit.isEmpty()) return Optional.empty();
        String words = editFormatter.format(edit.get(), editSession.overlay());
        WriteSet touched = edit.get().footprint(editSession.overlay());
        editSession.apply(edit.get());
        return Optional.of(new EditDescription(edit.get(), words, touched));
    }
}
