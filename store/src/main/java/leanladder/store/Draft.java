package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.Optional;

/**
 * Edits that are not published yet, as they are kept.
 *
 * @param version goes up with every alteration
 * @param steps a list of steps, each a list of {@code {base, edit}}; what was staged together is undone together
 * @param undone the steps that were undone and can be redone, the last one first to come back
 * @param due when it publishes itself
 * @param stuck why it could not publish itself
 */
public record Draft(
        long id,
        String name,
        String author,
        long version,
        JsonNode steps,
        JsonNode undone,
        String note,
        Optional<Instant> due,
        Optional<String> stuck,
        Instant touched) {}
