package leanladder.resolve;

import java.time.Instant;
import java.util.Optional;

/** What an answer depends on beside account and setting: the instant, and the workspace to ask as if working there. */
public record EvaluationContext(Instant at, Optional<String> workspace) {
    /** At an instant, in no particular workspace. */
    public static EvaluationContext at(Instant at) {
        return new EvaluationContext(at, Optional.empty());
    }
}
