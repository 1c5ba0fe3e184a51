package leanladder.store.journal;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Which changes of the journal are asked for; all of it must hold.
 *
 * @param author the whole name
 * @param text stands in the note, the author's name or the sentences of the edits, in any case
 * @param from the first instant
 * @param until the first instant after
 * @param subjects of each list, the change has one subject at least; see {@link ChangeSubjects}
 * @param account settings or seats of this account are altered, or an edit names it
 */
public record ChangeFilter(
        Optional<String> author,
        Optional<String> text,
        Optional<Instant> from,
        Optional<Instant> until,
        List<List<String>> subjects,
        Optional<String> account) {
    /** Every change. */
    public static final ChangeFilter ALL = new ChangeFilter(
            Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), List.of(), Optional.empty());
}
