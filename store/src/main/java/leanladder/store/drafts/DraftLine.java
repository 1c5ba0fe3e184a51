package leanladder.store.drafts;

import java.time.Instant;
import java.util.Optional;

/**
 * A draft in a list, without its edits.
 *
 * @param edits how many it holds, those undone aside
 * @param due when it publishes itself
 * @param stuck why it could not publish itself
 */
public record DraftLine(
        long id,
        String name,
        String author,
        long version,
        int edits,
        String note,
        Optional<Instant> due,
        Optional<String> stuck,
        Instant touched) {}
