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
public record Request(String key, String actor, String fingerprint, Instant at, List<Request> others) {
    /** One that is carried out by itself. */
    public Request(String key, String actor, String fingerprint, Instant at) {
        this(key, actor, fingerprint, at, List.of());
    }

    /** The same, with others that are carried out by the same writing. */
    public Request with(List<Request> more) {
        return new Request(key, actor, fingerprint, at, List.copyOf(more));
    }

    /** This one and the others, by key. */
    List<Request> all() {
        return Stream.concat(Stream.of(this), others.stream())
                .sorted(Comparator.comparing(Request::key))
                .toList();
    }

    /** One that nobody gave a key. */
    public static Request by(String actor, Instant at) {
        return new Request(UUID.randomUUID().toString(), actor, "", at);
    }
}
