package leanladder.preview;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.reach.AccountReach;

/**
 * What became of a release for one account (resolution.md, section 7): ring by ring outwards, then the early openings. {@link
 * ReleaseAudience} answers the same for all accounts at once and is written apart.
 */
public sealed interface Arrival {
    /** Whether the release has come to the account. */
    default boolean hasArrived() {
        return this instanceof RingArrival || this instanceof EarlyArrival;
    }

    /** It has come, by being open to a ring. */
    record RingArrival(Ring ring, Instant since) implements Arrival {}

    /** It has come, by an early opening to a target that holds the account. */
    record EarlyArrival(Target target, Instant since) implements Arrival {}

    /** It is open to the account, which has not consented. */
    record MissingConsent(Optional<Ring> standsIn) implements Arrival {}

    /** It is not open to the account. @param standsIn empty where the track has no rings */
    record MissingOpening(Optional<Ring> standsIn, Optional<Opening> next) implements Arrival {}

    /** The setting has no release. */
    record MissingRelease() implements Arrival {}

    /**
     * An opening to come.
     *
     * @param ring empty where it is an early one
     */
    record Opening(Optional<Ring> ring, Instant at) {}

    /**
     * Finds out about one account. Linear in the rings and the early openings.
     *
     * @param rings of the release's track, from the innermost outwards
     * @param mine where the account's ring stands among them
     */
    static Arrival compute(
            List<Ring> rings, int mine, Optional<Release> release, AccountReach accountReach, Instant at) {
        if (release.isEmpty()) return new MissingRelease();
        Account account = accountReach.account();
        boolean open = false;
        Optional<Opening> next = Optional.empty();
        for (int j = Math.max(0, mine); j < rings.size(); j++) {
            Ring ring = rings.get(j);
            Instant opens = release.get().opens().get(ring.id());
            if (opens == null) continue;
            if (opens.isAfter(at)) {
                if (next.isEmpty()) next = Optional.of(new Opening(Optional.of(ring), opens));
            } else if (!ring.asksConsent() || hasConsented(account, rings, j, release.get(), at))
                return new RingArrival(ring, opens);
            else open = true;
        }
        boolean someRingAsks = rings.stream().anyMatch(Ring::asksConsent);
        for (Release.EarlyAccess earlyAccess : release.get().early()) {
            if (!accountReach.isHeldBy(earlyAccess.to())) continue;
            if (earlyAccess.from().isAfter(at)) {
                if (next.isEmpty()) next = Optional.of(new Opening(Optional.empty(), earlyAccess.from()));
            } else if (!someRingAsks || hasConsented(account, rings, rings.size() - 1, release.get(), at))
                return new EarlyArrival(earlyAccess.to(), earlyAccess.from());
            else open = true;
        }
        Optional<Ring> standsIn = rings.isEmpty() ? Optional.empty() : Optional.of(rings.get(mine));
        return open ? new MissingConsent(standsIn) : new MissingOpening(standsIn, next);
    }

    /** Whether the account has a consent that counts to a ring up to this one, or to the release alone where that is allowed. */
    private static boolean hasConsented(Account account, List<Ring> rings, int outermost, Release release, Instant at) {
        for (Consent consent : account.consents()) {
            if (!consent.holds(at)) continue;
            if (release.oneByOne() && consent.isToRelease(release.setting()) && consent.accepts(release.terms()))
                return true;
            for (int i = 0; i <= outermost; i++)
                if (rings.get(i).asksConsent()
                        && consent.isToRing(rings.get(i).id())
                        && consent.accepts(rings.get(i).terms())) return true;
        }
        return false;
    }
}
