package leanladder.store.requests;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * A person's wish for a feature that is off for them.
 *
 * @param setting by its key @param workspace in which it is wanted, where that was said
 * @param wanted the value that the person would have
 * @param words what the person says about it; can be empty
 * @param answered when it was granted or declined @param by who did
 * @param sentence what the person is told, where it was declined or closed
 * @param change the number of the change by which it was granted
 */
public record FeatureRequest(
        long id,
        String account,
        String setting,
        Optional<String> workspace,
        JsonNode wanted,
        String words,
        Instant asked,
        RequestState state,
        Optional<Instant> answered,
        Optional<String> by,
        Optional<String> sentence,
        Optional<Long> change) {
    /** What became of it. */
    public enum RequestState {
        OPEN,
        GRANTED,
        DECLINED,
        /** Nobody can answer it any more: its person or setting is gone, or a year has passed. */
        CLOSED;

        /** How it is stored. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
