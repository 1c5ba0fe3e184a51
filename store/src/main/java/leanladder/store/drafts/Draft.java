package leanladder.store.drafts;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Edits that are not published yet, as they are kept.
 *
 * @param version goes up with every alteration
 * @param steps what was staged together is undone together
 * @param undone the steps that were undone and can be redone, the next one to come back first
 * @param due when it publishes itself
 * @param stuck why it could not publish itself
 */
public record Draft(
        long id,
        String name,
        String author,
        long version,
        List<Step> steps,
        List<Step> undone,
        String note,
        Optional<Instant> due,
        Optional<String> stuck,
        Instant touched) {
    /**
     * Edits that were staged together.
     *
     * @param number tells it from the other steps of the draft; steps come in its order
     */
    public record Step(int number, List<Item> items) {}

    /**
     * An edit.
     *
     * @param base the change on which it was made
     */
    public record Item(long base, JsonNode edit) {}

    /** How many edits it holds, those undone aside. */
    public int edits() {
        return steps.stream().mapToInt(step -> step.items().size()).sum();
    }

    /** The same as it stands in a list. */
    public DraftLine line() {
        return new DraftLine(id, name, author, version, edits(), note, due, stuck, touched);
    }
}
