package leanladder.preview;

import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Terms;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * Whose consents count at an instant, as they are given (resolution.md, section 7); whether a ring or a release asks for them is
 * another matter. The same ones count until the next of them begins or ends.
 */
public final class ConsentIndex {
    private static final RoaringBitmap NOBODY = new RoaringBitmap();

    /** By what it is given to and the version of the terms that was read. */
    private final Map<Given, RoaringBitmap> given;

    /** The versions that were read of the terms of a ring or a release; nearly always one. */
    private final Map<Given, Set<Integer>> versions;

    private final Instant since;
    private final Instant until;

    /** What a consent is given to, with a version of its terms; with 0 for all versions. */
    private record Given(Consent.ConsentTarget to, String id, int terms) {}

    private ConsentIndex(Map<Given, RoaringBitmap> given, Instant since, Instant until) {
        this.given = given;
        this.since = since;
        this.until = until;
        this.versions = new HashMap<>();
        given.keySet()
                .forEach(g -> versions.computeIfAbsent(new Given(g.to, g.id, 0), k -> new TreeSet<>())
                        .add(g.terms));
    }

    /** Those of some accounts. Linear in those of them that have given some consent. */
    public static ConsentIndex compute(Directory directory, RoaringBitmap among, Instant at) {
        Map<Given, RoaringBitmap> given = new HashMap<>();
        Instant[] term = {Instant.MIN, Instant.MAX};
        RoaringBitmap.and(directory.consenting(), among).forEach((int n) -> {
            for (Consent consent : directory.account(n).consents()) {
                narrow(term, consent.at(), at);
                if (consent.until().isPresent()) narrow(term, consent.until().get(), at);
                if (consent.holds(at))
                    given.computeIfAbsent(
                                    new Given(consent.to(), consent.id(), consent.terms()), k -> new RoaringBitmap())
                            .add(n);
            }
        });
        return new ConsentIndex(given, term[0], term[1]);
    }

    private static void narrow(Instant[] term, Instant edge, Instant at) {
        if (edge.isAfter(at)) {
            if (edge.isBefore(term[1])) term[1] = edge;
        } else if (edge.isAfter(term[0])) term[0] = edge;
    }

    /** Whether the same ones count at another instant. */
    public boolean holdAt(Instant at) {
        return !at.isBefore(since) && at.isBefore(until);
    }

    /**
     * The same where some accounts are others, and nobody else's consent has begun or ended since. Costs a copy of the sets in which
     * these accounts stand or stood.
     */
    public ConsentIndex patched(Directory directory, Instant at, RoaringBitmap accounts) {
        ConsentIndex fresh = compute(directory, accounts, at);
        return new ConsentIndex(
                patched(given, fresh.given, accounts),
                since.isAfter(fresh.since) ? since : fresh.since,
                until.isBefore(fresh.until) ? until : fresh.until);
    }

    private static Map<Given, RoaringBitmap> patched(
            Map<Given, RoaringBitmap> before, Map<Given, RoaringBitmap> fresh, RoaringBitmap accounts) {
        Map<Given, RoaringBitmap> patched = new HashMap<>(before);
        patched.replaceAll(
                (id, set) -> RoaringBitmap.intersects(set, accounts) ? RoaringBitmap.andNot(set, accounts) : set);
        fresh.forEach((id, set) -> patched.merge(id, set, (a, b) -> RoaringBitmap.or(a, b)));
        return patched;
    }

    /** Who has consented to a ring, having read terms that are good enough. Not to be changed. */
    RoaringBitmap toRing(Ring ring) {
        return given(Consent.ConsentTarget.RING, ring.id(), ring.terms());
    }

    /** Who has consented to a release alone, having read terms that are good enough. Not to be changed. */
    RoaringBitmap toRelease(Release release) {
        return given(Consent.ConsentTarget.RELEASE, release.setting(), release.terms());
    }

    private RoaringBitmap given(Consent.ConsentTarget to, String id, Terms terms) {
        RoaringBitmap all = NOBODY;
        for (int version : versions.getOrDefault(new Given(to, id, 0), Set.of())) {
            if (version < terms.from()) continue;
            RoaringBitmap some = Objects.requireNonNull(given.get(new Given(to, id, version)));
            all = all == NOBODY ? some : RoaringBitmap.or(all, some);
        }
        return all;
    }
}
