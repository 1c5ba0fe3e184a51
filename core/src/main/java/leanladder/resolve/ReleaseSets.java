package leanladder.resolve;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Consent;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * To whom releases have come, for all accounts at once (resolution.md, section 7). Rings are prefix unions: who stands in a
 * ring or further in, and who has consented to it or further in, is worked out once and serves every release.
 */
final class ReleaseSets {
    private final Ground ground;
    private final Instant at;
    private final List<RoaringBitmap> standingInOrFurtherIn = new ArrayList<>();
    private final List<RoaringBitmap> consentedToOrFurtherIn = new ArrayList<>();
    private final boolean someRingAsks;

    /** @param ringColumn the column of the ring setting, where the catalogue has one */
    ReleaseSets(Ground ground, Instant at, Optional<Column> ringColumn) {
        this.ground = ground;
        this.at = at;
        List<Ring> rings = ground.estate().rings();
        someRingAsks = rings.stream().anyMatch(Ring::asksConsent);
        List<RoaringBitmap> consented = consents(ground.directory(), rings);
        RoaringBitmap standing = new RoaringBitmap();
        RoaringBitmap agreed = new RoaringBitmap();
        for (int i = 0; i < rings.size(); i++) {
            String id = rings.get(i).id();
            boolean outermost = i == rings.size() - 1;
            if (ringColumn.isPresent()) {
                RoaringBitmap here = ringColumn.get().inForce().get(new leanladder.catalogue.Value.Choice(id));
                if (here != null) standing = RoaringBitmap.or(standing, here);
            } else if (outermost) {
                standing = ground.directory().active();
            }
            agreed = RoaringBitmap.or(agreed, consented.get(i));
            standingInOrFurtherIn.add(standing);
            consentedToOrFurtherIn.add(agreed);
        }
    }

    private List<RoaringBitmap> consents(Directory directory, List<Ring> rings) {
        List<RoaringBitmap> consented = new ArrayList<>();
        rings.forEach(r -> consented.add(new RoaringBitmap()));
        for (int n = 0; n < directory.size(); n++) {
            for (Consent consent : directory.account(n).consents()) {
                if (consent.at().isAfter(at)) continue;
                for (int i = 0; i < rings.size(); i++)
                    if (rings.get(i).asksConsent() && rings.get(i).id().equals(consent.ring()))
                        consented.get(i).add(n);
            }
        }
        return consented;
    }

    /** Everyone to whom the setting's own release has come. */
    RoaringBitmap reachedBy(String setting) {
        RoaringBitmap come = new RoaringBitmap();
        Optional<Release> release = ground.estate().release(setting);
        if (release.isEmpty()) return come;
        List<Ring> rings = ground.estate().rings();
        for (int j = 0; j < rings.size(); j++) {
            Instant opens = release.get().opens().get(rings.get(j).id());
            if (opens == null || opens.isAfter(at)) continue;
            RoaringBitmap inside = standingInOrFurtherIn.get(j);
            come.or(rings.get(j).asksConsent() ? RoaringBitmap.and(inside, consentedToOrFurtherIn.get(j)) : inside);
        }
        for (Release.Early early : release.get().early()) {
            if (early.from().isAfter(at)) continue;
            RoaringBitmap target = ground.directory().holding(early.to());
            if (someRingAsks) target.and(consentedToOrFurtherIn.get(rings.size() - 1));
            come.or(target);
        }
        come.and(ground.directory().active());
        return come;
    }
}
