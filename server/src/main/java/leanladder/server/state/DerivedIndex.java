package leanladder.server.state;

import java.util.Optional;
import leanladder.workingcopy.WriteSet;

/**
 * A value that is derived from a snapshot: computed when it is first asked for, then kept with the snapshot and updated after edits. {@code update}
 * must give what {@code compute} would give. Two indexes that are equal share one value.
 *
 * @param <V> the value; it must not be modified
 */
public interface DerivedIndex<V> {
    /** Works it out. */
    V compute(Snapshot snapshot);

    /** What of it still holds after edits, where that is cheaper than to work it out anew. */
    default Optional<V> update(V before, Snapshot snapshot, WriteSet edits) {
        return Optional.empty();
    }

    /** How much room it takes beside others, from 1. */
    default int weight(V value) {
        return 1;
    }
}
