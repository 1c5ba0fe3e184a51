package leanladder.estate;

import java.time.Instant;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * An account's word that it wants previews, given at an instant (resolution.md, section 7): to a ring, or to one release alone.
 *
 * @param id of the ring, or the key of the release's setting
 * @param until when it ends, where it does
 * @param terms the version of the terms that was read; 0 where none was
 */
public record Consent(ConsentTarget to, String id, Instant at, Optional<Instant> until, int terms) {
    /** To what a consent is given. */
    public enum ConsentTarget {
        RING("ring"),
        RELEASE("release");

        private final String member;

        ConsentTarget(String member) {
            this.member = member;
        }

        /** The member of the estate file that names it. */
        public String member() {
            return member;
        }
    }

    /** Whether it has been given by then, and has not ended. */
    public boolean holds(Instant then) {
        return !at.isAfter(then) && until.map(then::isBefore).orElse(true);
    }

    /** Whether it is given to this ring. */
    public boolean isToRing(String ring) {
        return to == ConsentTarget.RING && id.equals(ring);
    }

    /** Whether the version that was read is good enough for these terms. */
    public boolean accepts(Terms required) {
        return terms >= required.from();
    }

    /** Whether it is given to the release of this setting alone. */
    public boolean isToRelease(String setting) {
        return to == ConsentTarget.RELEASE && id.equals(setting);
    }

    /** The instants at which it begins and ends to count. */
    public Stream<Instant> edges() {
        return Stream.concat(Stream.of(at), until.stream());
    }
}
