package leanladder.settle;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.util.Optional;
import leanladder.catalogue.Setting;

/**
 * How long a value takes to reach people's screens, and what they must do then (resolution.md, section 10).
 *
 * @param least after which it may have arrived
 * @param most after which it must have
 * @param then what somebody must do once it has arrived; empty for nothing
 */
public record SettleTime(Duration least, Duration most, Optional<RequiredUserAction> then) {
    /** At once, with nothing to do. */
    public static final SettleTime AT_ONCE = new SettleTime(Duration.ZERO, Duration.ZERO, Optional.empty());

    /** What somebody must do, in rising order of effort. */
    public enum RequiredUserAction {
        REFRESH("refresh"),
        SIGN_IN("sign-in"),
        RESTART("restart"),
        UPDATE("update"),
        CLEAR("clear");

        private final String word;

        RequiredUserAction(String word) {
            this.word = word;
        }

        /** How the estate file writes it. */
        public String word() {
            return word;
        }

        static Optional<RequiredUserAction> parse(String word) {
            for (RequiredUserAction requiredUserAction : values())
                if (requiredUserAction.word.equals(word)) return Optional.of(requiredUserAction);
            return Optional.empty();
        }
    }

    /** As the catalogue says of a setting. */
    public static SettleTime from(Setting setting) {
        return read(setting.source().path("settles"));
    }

    /** As the estate file writes it: minutes from least to most, the most being the least where it is left out. */
    public static SettleTime read(JsonNode settles) {
        if (!settles.isObject()) return AT_ONCE;
        long least = Math.max(0, settles.path("minMinutes").asLong(0));
        long most = Math.max(least, settles.path("maxMinutes").asLong(least));
        return new SettleTime(
                Duration.ofMinutes(least),
                Duration.ofMinutes(most),
                RequiredUserAction.parse(settles.path("then").asText("")));
    }
}
