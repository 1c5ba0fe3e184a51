package leanladder.estate;

import java.time.Instant;
import java.util.List;
import java.util.Map;

/** When the feature behind a setting opens to rings, by ring id, and to whom it opens early. */
public record Release(String setting, Map<String, Instant> opens, List<Early> early) {
    /** A target to which the feature is open from an instant on, whatever the ring. */
    public record Early(Target to, Instant from) {}
}
