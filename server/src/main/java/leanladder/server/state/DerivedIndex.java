package leanladder.server.state;

import java.util.Optional;
import leanladder.workingcopy.WriteSet;

/**
 * Something that is worked out of a snapshot when it is first asked for, and kept with it. Two that are equal are the same.
 *
 * @param <V> what it comes to; not to be changed
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
