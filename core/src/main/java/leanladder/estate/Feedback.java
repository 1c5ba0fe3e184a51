package leanladder.estate;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Optional;

/**
 * A person's word on a release. It decides nothing, and outlives the account and the release that it names.
 *
 * @param release by its setting
 * @param account whose word it is
 * @param dealt since when it is dealt with, where it is
 * @param source as the estate file writes it
 */
public record Feedback(
        String id,
        String release,
        String account,
        Instant at,
        Verdict verdict,
        String text,
        Optional<Instant> dealt,
        ObjectNode source) {
    /** What somebody found. */
    public enum Verdict {
        WORKS("works"),
        FAILS("fails"),
        IDEA("idea");

        private final String word;

        Verdict(String word) {
            this.word = word;
        }

        /** How the estate file writes it. */
        public String word() {
            return word;
        }
    }
}
