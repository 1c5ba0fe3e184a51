package leanladder.store.db;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.UUID;
import java.util.stream.Stream;

/**
 * A request that writes.
 *
 * @param key tells it from all others; whoever sends the same one again does not write again
 * @param actor who asked
 * @param fingerprint of what was asked, so that a key that is used for something else is noticed
 * @param others requests that are carried out by the same writing
 */
public record WriteRequest(String key, String actor, String fingerprint, Instant at, List<WriteRequest> others) {
    /** One that is carried out by itself. */
    public WriteRequest(String key, String actor, String fingerprint, Instant at) {
        this(key, actor, fingerprint, at, List.of());
    }

    /** The same, with others that are carried out by the same writing. */
    public WriteRequest with(List<WriteRequest> more) {
        return new WriteRequest(key, actor, fingerprint, at, List.copyOf(more));
    }

    /** This one and the others, by key. */
    List<WriteRequest> all() {
        return Stream.concat(Stream.of(this), others.stream())
                .sorted(Comparator.comparing(WriteRequest::key))
                .toList();
    }

    /** One that nobody gave a key. */
    public static WriteRequest by(String actor, Instant at) {
        return new WriteRequest(UUID.randomUUID().toString(), actor, "", at);
    }
}
