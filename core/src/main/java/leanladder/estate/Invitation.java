package leanladder.estate;

import java.time.Instant;
import java.util.Optional;

/**
 * That an account was asked to join a preview, which decides nothing: a ring, or one release alone.
 *
 * @param declined when it said no, where it did
 */
public record Invitation(Consent.ConsentTarget to, String id, Instant at, Optional<Instant> declined) {
    /** Whether it is about this ring. */
    public boolean isToRing(String ring) {
        return to == Consent.ConsentTarget.RING && id.equals(ring);
    }
}
