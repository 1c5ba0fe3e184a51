package leanladder.estate;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * When the feature behind a setting opens to rings, by ring id, and to whom it opens early (resolution.md, section 7).
 *
 * @param oneByOne whether people may take it alone, with a consent to it instead of to their ring
 * @param source as the estate file writes it, with the members that only screens use
 */
public record Release(
        String setting, Map<String, Instant> opens, List<Early> early, boolean oneByOne, ObjectNode source) {
    /** A target to which the feature is open from an instant on, whatever the ring. */
    public record Early(Target to, Instant from) {}

    /** The instants at which it opens to somebody. */
    public Stream<Instant> edges() {
        return Stream.concat(opens.values().stream(), early.stream().map(Early::from));
    }

    /** Two releases are the same when they decide the same and are written alike. */
    @Override
    public boolean equals(Object other) {
        return other instanceof Release r && setting.equals(r.setting) && source.equals(r.source);
    }

    @Override
    public int hashCode() {
        return setting.hashCode();
    }
}
