package leanladder.advise;

import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.document.CodePointOrder;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.preview.ReleaseSets;
import leanladder.resolve.Share;
import leanladder.resolve.Solution;
import org.roaringbitmap.RoaringBitmap;

/** Something about previews that testers learn the hard way, said before they do. */
public sealed interface PreviewFinding {
    /** A ring that asks consent and in which nobody who may has consented. */
    record NobodyConsented(Ring ring, int may) implements PreviewFinding {}

    /** A ring in which one account alone has consented, so that nothing for two can be tried. */
    record OneTester(Ring ring, int account) implements PreviewFinding {}

    /** An opening to a ring in which nobody stands, nor in one further in. */
    record EmptyRing(Setting setting, Ring ring, Instant at) implements PreviewFinding {}

    /** A planned opening whose day has passed. */
    record PlanPassed(Setting setting, Ring ring, Instant at) implements PreviewFinding {}

    /** Accounts to which a release has come and who hold no licence for what it needs. */
    record Unlicensed(Setting setting, RoaringBitmap accounts) implements PreviewFinding {}

    /** Everything worth saying, rings first. A few set operations for each ring and each release. */
    static List<PreviewFinding> of(
            Solution solution,
            List<Ring> rings,
            List<Release> releases,
            Map<String, Setting> settings,
            Instant at,
            ZoneId zone) {
        List<PreviewFinding> found = new ArrayList<>();
        if (rings.isEmpty()) return found;
        ReleaseSets sets = solution.releases();
        Map<String, Integer> places = new HashMap<>();
        RoaringBitmap inside = new RoaringBitmap();
        List<Boolean> empty = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) {
            Ring ring = rings.get(i);
            places.put(ring.id(), i);
            RoaringBitmap may = sets.standingIn(i);
            inside.or(may);
            empty.add(inside.isEmpty());
            if (!ring.asksConsent() || may.isEmpty()) continue;
            RoaringBitmap did = RoaringBitmap.and(may, sets.consentedTo(i));
            if (did.isEmpty()) found.add(new NobodyConsented(ring, may.getCardinality()));
            else if (did.getCardinality() == 1) found.add(new OneTester(ring, did.first()));
        }
        releases.stream()
                .sorted(Comparator.comparing(Release::setting, CodePointOrder.TEXTS))
                .forEach(release -> {
                    Setting setting = settings.get(release.setting());
                    release.opens().forEach((ring, opens) -> {
                        int place = places.get(ring);
                        if (empty.get(place)) found.add(new EmptyRing(setting, rings.get(place), opens));
                    });
                    if (release.held().isEmpty())
                        release.planned(zone).forEach((ring, planned) -> {
                            if (planned.isBefore(at) && places.containsKey(ring))
                                found.add(new PlanPassed(setting, rings.get(places.get(ring)), planned));
                        });
                    RoaringBitmap unlicensed = unlicensed(solution, setting);
                    unlicensed.and(sets.reachedBy(release.setting()));
                    if (!unlicensed.isEmpty()) found.add(new Unlicensed(setting, unlicensed));
                });
        return found;
    }

    private static RoaringBitmap unlicensed(Solution solution, Setting setting) {
        RoaringBitmap unlicensed = new RoaringBitmap();
        for (Share<leanladder.resolve.Outcome> share :
                solution.column(setting.key()).shares())
            if (share.what().blockedBy().stream().flatMap(Need::flatten).anyMatch(Need.Entitlement.class::isInstance))
                unlicensed.or(share.accounts());
        return unlicensed;
    }
}
