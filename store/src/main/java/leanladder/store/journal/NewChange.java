package leanladder.store.journal;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import leanladder.store.mail.MailTable;

/**
 * What a change is beside its effect on the state; see {@link Change}.
 *
 * @param at when it is published; the journal never goes back in time
 * @param draft the draft that it was, which is taken away with the same transaction
 * @param mail texts to people that the change brings, recorded with the same transaction
 */
public record NewChange(
        Instant at,
        String author,
        boolean proven,
        String note,
        JsonNode edits,
        JsonNode words,
        JsonNode ripple,
        Optional<Instant> planned,
        Optional<Long> draft,
        List<MailTable.NewMail> mail) {
    /** A change that brings no mail. */
    public NewChange(
            Instant at,
            String author,
            boolean proven,
            String note,
            JsonNode edits,
            JsonNode words,
            JsonNode ripple,
            Optional<Instant> planned,
            Optional<Long> draft) {
        this(at, author, proven, note, edits, words, ripple, planned, draft, List.of());
    }

    /** The change that it is once it has its number and the instant at which it is written. */
    Change published(long number, Instant written) {
        return new Change(number, written, author, proven, note, edits, words, ripple, planned);
    }
}
