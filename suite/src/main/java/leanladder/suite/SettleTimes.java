package leanladder.suite;

import java.time.Duration;
import java.util.Optional;

/**
 * How long a value takes to reach a person's screen, as the catalogue says of its setting.
 *
 * @param least after which it may have arrived @param most after which it must have
 * @param then what the person must do once it has arrived; empty for nothing
 */
public record SettleTimes(Duration least, Duration most, Optional<UserAction> then) {
    /** At once, with nothing to do. */
    public static final SettleTimes AT_ONCE = new SettleTimes(Duration.ZERO, Duration.ZERO, Optional.empty());
}
