package leanladder.preview;

import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import leanladder.estate.Consent;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * Whose consents count at an instant, as they are given (resolution.md, section 7); whether a ring or a release asks for them is
 * another matter. The same ones count until the next of them begins or ends.
 */
public final class ConsentIndex {
    private static final RoaringBitmap NOBODY = new RoaringBitmap();

    private final Map<String, RoaringBitmap> toRings;
    private final Map<String, RoaringBitmap> toReleases;
    private final Instant since;
    private final Instant until;

    private ConsentIndex(
            Map<String, RoaringBitmap> toRings, Map<String, RoaringBitmap> toReleases, Instant since, Instant until) {
        this.toRings = toRings;
        this.toReleases = toReleases;
        this.since = since;
        this.until = until;
    }

    /** Those of some accounts. Linear in those of them that have given some consent. */
    public static ConsentIndex compute(Directory directory, RoaringBitmap among, Instant at) {
        Map<String, RoaringBitmap> toRings = new HashMap<>();
        Map<String, RoaringBitmap> toReleases = new HashMap<>();
        Instant[] term = {Instant.MIN, Instant.MAX};
        RoaringBitmap.and(directory.consenting(), among).forEach((int n) -> {
            for (Consent consent : directory.account(n).consents()) {
                narrow(term, consent.at(), at);
                if (consent.until().isPresent()) narrow(term, consent.until().get(), at);
                if (consent.holds(at))
                    (consent.to() == Consent.ConsentTarget.RING ? toRings : toReleases)
                            .computeIfAbsent(consent.id(), k -> new RoaringBitmap())
                            .add(n);
            }
        });
        return new ConsentIndex(toRings, toReleases, term[0], term[1]);
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
                patched(toRings, fresh.toRings, accounts),
                patched(toReleases, fresh.toReleases, accounts),
                since.isAfter(fresh.since) ? since : fresh.since,
                until.isBefore(fresh.until) ? until : fresh.until);
    }

    private static Map<String, RoaringBitmap> patched(
            Map<String, RoaringBitmap> before, Map<String, RoaringBitmap> fresh, RoaringBitmap accounts) {
        Map<String, RoaringBitmap> patched = new HashMap<>(before);
        patched.replaceAll(
                (id, set) -> RoaringBitmap.intersects(set, accounts) ? RoaringBitmap.andNot(set, accounts) : set);
        fresh.forEach((id, set) -> patched.merge(id, set, (a, b) -> RoaringBitmap.or(a, b)));
        return patched;
    }

    /** Who has consented to a ring. Not to be changed. */
    RoaringBitmap toRing(String id) {
        return toRings.getOrDefault(id, NOBODY);
    }

    /** Who has consented to the release of a setting alone. Not to be changed. */
    RoaringBitmap toRelease(String setting) {
        return toReleases.getOrDefault(setting, NOBODY);
    }
}
