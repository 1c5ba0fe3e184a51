package leanladder.preview;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.reach.Position;

/**
 * What became of a release for one account (resolution.md, section 7): ring by ring outwards, then the early openings. {@link
 * ReleaseSets} answers the same for all accounts at once and is written apart.
 */
public sealed interface Arrival {
    /** Whether the release has come to the account. */
    default boolean hasCome() {
        return this instanceof ToRing || this instanceof ToTarget;
    }

    /** It has come, by being open to a ring. */
    record ToRing(Ring ring, Instant since) implements Arrival {}

    /** It has come, by an early opening to a target that holds the account. */
    record ToTarget(Target target, Instant since) implements Arrival {}

    /** It is open to the account, which has not consented. */
    record NotConsented(Ring standsIn) implements Arrival {}

    /** It is not open to the account. */
    record NotOpen(Ring standsIn, Optional<Opening> next) implements Arrival {}

    /** The setting has no release. */
    record NoRelease() implements Arrival {}

    /**
     * An opening to come.
     *
     * @param ring empty where it is an early one
     */
    record Opening(Optional<Ring> ring, Instant at) {}

    /**
     * Finds out about one account. Linear in the rings and the early openings.
     *
     * @param rings from the innermost outwards, at least one
     * @param mine where the account's ring stands among them
     */
    static Arrival of(List<Ring> rings, int mine, Optional<Release> release, Position position, Instant at) {
        if (release.isEmpty()) return new NoRelease();
        Account account = position.account();
        boolean open = false;
        Optional<Opening> next = Optional.empty();
        for (int j = mine; j < rings.size(); j++) {
            Ring ring = rings.get(j);
            Instant opens = release.get().opens().get(ring.id());
            if (opens == null) continue;
            if (opens.isAfter(at)) {
                if (next.isEmpty()) next = Optional.of(new Opening(Optional.of(ring), opens));
            } else if (!ring.asksConsent() || hasConsented(account, rings, j, release.get(), at))
                return new ToRing(ring, opens);
            else open = true;
        }
        boolean someRingAsks = rings.stream().anyMatch(Ring::asksConsent);
        for (Release.Early early : release.get().early()) {
            if (!position.isHeldBy(early.to())) continue;
            if (early.from().isAfter(at)) {
                if (next.isEmpty()) next = Optional.of(new Opening(Optional.empty(), early.from()));
            } else if (!someRingAsks || hasConsented(account, rings, rings.size() - 1, release.get(), at))
                return new ToTarget(early.to(), early.from());
            else open = true;
        }
        return open ? new NotConsented(rings.get(mine)) : new NotOpen(rings.get(mine), next);
    }

    /** Whether the account has a consent that counts to a ring up to this one, or to the release alone where that is allowed. */
    private static boolean hasConsented(Account account, List<Ring> rings, int outermost, Release release, Instant at) {
        for (Consent consent : account.consents()) {
            if (!consent.holds(at)) continue;
            if (release.oneByOne() && consent.isToRelease(release.setting())) return true;
            for (int i = 0; i <= outermost; i++)
                if (rings.get(i).asksConsent() && consent.isToRing(rings.get(i).id())) return true;
        }
        return false;
    }
}
