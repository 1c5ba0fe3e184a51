package leanladder.server.today;

import com.fasterxml.jackson.annotation.JsonValue;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * Something that waits for an administrator, or that is good to know today.
 *
 * @param key tells it from all others, and stays the same while it is the same matter
 * @param words one sentence
 * @param leads the address of the web client at which it is dealt with; empty where that is elsewhere
 * @param due when it happens or ends, where there is such an instant
 */
public record TodoItem(Topic topic, String key, String words, String leads, Optional<Instant> due) {
    /** What a matter is about, the most urgent first. */
    public enum Topic {
        SETUP,
        REQUEST,
        CHECK,
        SEATS,
        PREVIEW,
        OPENING,
        PLANNED,
        ENDING,
        REVIEW,
        CATALOGUE,
        SETTLING,
        ARRIVED,
        HAPPENED;

        /** How it is written. */
        @JsonValue
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
