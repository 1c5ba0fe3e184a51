package leanladder.store.checks;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * A written expectation that what is in force of a setting has arrived on somebody's screen.
 *
 * @param who a target, as the estate file writes it
 * @param workspace where, if not everywhere
 * @param change the number of the last change when it was written; of that which its draft became, where one carried it
 * @param draft the draft that carries it, until that is published
 * @param due when it is looked at; not known before its draft is published
 * @param looked when it was @param words what was found then
 */
public record ArrivalCheck(
        long id,
        String who,
        String setting,
        Optional<String> workspace,
        long change,
        Optional<Long> draft,
        Instant written,
        String by,
        Optional<Instant> due,
        CheckState state,
        Optional<Instant> looked,
        Optional<String> words) {
    /** What was found. */
    public enum CheckState {
        WAITING,
        ARRIVED,
        MISSING;

        /** How it is stored. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
