package leanladder.store.db;

import java.time.Instant;
import java.util.UUID;

/**
 * A request that writes.
 *
 * @param key tells it from all others; whoever sends the same one again does not write again
 * @param actor who asked
 * @param fingerprint of what was asked, so that a key that is used for something else is noticed
 */
public record Request(String key, String actor, String fingerprint, Instant at) {
    /** One that nobody gave a key. */
    public static Request by(String actor, Instant at) {
        return new Request(UUID.randomUUID().toString(), actor, "", at);
    }
}
