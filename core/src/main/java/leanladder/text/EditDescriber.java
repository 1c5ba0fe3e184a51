package leanladder.text;

import java.time.Instant;
import java.util.Optional;
import leanladder.edit.session.AppliedEdit;
import leanladder.edit.session.EditSession;
import leanladder.estate.Estate;
import leanladder.json.JsonCursor;

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

    /** An edit that was applied, and what it does, as a sentence without its full stop. */
    public record EditDescription(AppliedEdit applied, String words) {}

    /** Applies an edit and describes it; empty when it does not fit. */
    public Optional<EditDescription> apply(JsonCursor jsonCursor, EditSession editSession) {
        return editSession
                .apply(jsonCursor)
                .map(applied -> new EditDescription(applied, editFormatter.format(applied)));
    }
}
