package leanladder.preview;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import leanladder.estate.Estate;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * To whom the releases of one track have come, for all accounts at once (resolution.md, section 7). Rings are prefix unions: who stands in a
 * ring or further in, and who has consented to it or further in, is worked out once and serves every release.
 */
public final class ReleaseAudience {
    private static final RoaringBitmap NOBODY = new RoaringBitmap();

    private final Estate estate;
    private final List<Ring> rings;
    private final Directory directory;
    private final Instant at;
    private final List<RoaringBitmap> standingInOrFurtherIn = new ArrayList<>();
    private final List<RoaringBitmap> consentedToOrFurtherIn = new ArrayList<>();
    private final Map<Integer, RoaringBitmap> willing = new ConcurrentHashMap<>();
    private final ConsentIndex consentIndex;
    private final boolean someRingAsks;

    /**
     * Prepares the answers. A few set operations for each ring.
     *
     * @param track whose rings and releases are asked about
     * @param inRing who stands in a ring, by its id, as the ring setting has it; empty where the catalogue has no such setting
     */
    public ReleaseAudience(
            Estate estate,
            Track track,
            Directory directory,
            Instant at,
            ConsentIndex consentIndex,
            Optional<Function<String, Optional<RoaringBitmap>>> inRing) {
        this.estate = estate;
        this.directory = directory;
        this.at = at;
        this.consentIndex = consentIndex;
        this.rings = track.rings();
        someRingAsks = rings.stream().anyMatch(Ring::asksConsent);
        RoaringBitmap standing = new RoaringBitmap();
        RoaringBitmap agreed = new RoaringBitmap();
        for (int i = 0; i < rings.size(); i++) {
            String id = rings.get(i).id();
            boolean outermost = i == rings.size() - 1;
            if (inRing.isPresent()) {
                Optional<RoaringBitmap> here = inRing.get().apply(id);
                if (here.isPresent()) standing = RoaringBitmap.or(standing, here.get());
            } else if (outermost) {
                standing = directory.active();
            }
            if (rings.get(i).asksConsent()) agreed = RoaringBitmap.or(agreed, consentIndex.toRing(rings.get(i)));
            standingInOrFurtherIn.add(standing);
            consentedToOrFurtherIn.add(agreed);
        }
    }

    /** Everyone who has given their word to this release alone, where that counts. */
    private RoaringBitmap alone(Release release) {
        return release.oneByOne() ? consentIndex.toRelease(release) : NOBODY;
    }

    /** The consents that count. */
    public ConsentIndex consentIndex() {
        return consentIndex;
    }

    /** Everyone who stands in a ring. A fresh set. */
    public RoaringBitmap standingIn(int ring) {
        RoaringBitmap standing = standingInOrFurtherIn.get(ring).clone();
        if (ring > 0) standing.andNot(standingInOrFurtherIn.get(ring - 1));
        standing.and(directory.active());
        return standing;
    }

    /** Everyone who stands in a ring or in one further in. Not to be changed. */
    public RoaringBitmap standingInOrFurtherIn(int ring) {
        return standingInOrFurtherIn.get(ring);
    }

    /** Everyone who has given their word to this release alone, where that counts. Not to be changed. */
    public RoaringBitmap consentedAlone(String setting) {
        return estate.release(setting).map(this::alone).orElse(NOBODY);
    }

    /** Everyone whose word counts for a ring: given to it, or to one further in. Not to be changed. */
    public RoaringBitmap consentedTo(int ring) {
        return consentedToOrFurtherIn.get(ring);
    }

    /** Everyone to whom the setting's own release would have come if all who are asked had consented. Not to be changed. */
    public RoaringBitmap openTo(String setting) {
        return estate.release(setting).map(r -> openTo(r, false)).orElse(NOBODY);
    }

    /** Everyone to whom the setting's own release has come. Not to be changed. */
    public RoaringBitmap reachedBy(String setting) {
        return estate.release(setting).map(r -> openTo(r, true)).orElse(NOBODY);
    }

    /**
     * Whoever stands further in stands in an outer ring as well, and so does every consent: of the rings that are open, the outermost
     * that asks nobody and the outermost that asks decide by themselves.
     */
    private RoaringBitmap openTo(Release release, boolean asking) {
        int toAll = -1;
        int toWilling = -1;
        for (int j = 0; j < rings.size(); j++) {
            Instant opens = release.opens().get(rings.get(j).id());
            if (opens == null || opens.isAfter(at)) continue;
            if (asking && rings.get(j).asksConsent()) toWilling = j;
            else toAll = j;
        }
        RoaringBitmap alone = alone(release);
        RoaringBitmap come = toAll < 0 ? NOBODY : standingInOrFurtherIn.get(toAll);
        if (toWilling > toAll) {
            come = union(come, willing(toWilling));
            if (!alone.isEmpty())
                come = RoaringBitmap.or(come, RoaringBitmap.and(standingInOrFurtherIn.get(toWilling), alone));
        }
        for (Release.EarlyAccess earlyAccess : release.early()) {
            if (earlyAccess.from().isAfter(at)) continue;
            RoaringBitmap target = directory.holding(earlyAccess.to());
            if (asking && someRingAsks)
                target.and(RoaringBitmap.or(consentedToOrFurtherIn.get(rings.size() - 1), alone));
            target.and(directory.active());
            come = RoaringBitmap.or(come, target);
        }
        return come;
    }

    /** Everyone who stands in a ring or further in, and has consented to it or further in; worked out once for all releases. */
    private RoaringBitmap willing(int ring) {
        return willing.computeIfAbsent(
                ring, j -> RoaringBitmap.and(standingInOrFurtherIn.get(j), consentedToOrFurtherIn.get(j)));
    }

    private static RoaringBitmap union(RoaringBitmap one, RoaringBitmap other) {
        return one.isEmpty() ? other : RoaringBitmap.or(one, other);
    }
}
