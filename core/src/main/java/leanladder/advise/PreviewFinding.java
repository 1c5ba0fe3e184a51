package leanladder.advise;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Estate;
import leanladder.estate.Invitation;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.json.CodePointOrder;
import leanladder.preview.ReleaseAudience;
import leanladder.reach.Directory;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import org.roaringbitmap.RoaringBitmap;

/** Something about previews that testers learn the hard way, said before they do. */
public sealed interface PreviewFinding {
    /** For how long somebody who was asked is waited for before it is said. */
    Duration PATIENCE = Duration.ofDays(7);

    /** Several rings, and no setting by which a policy could put anybody into one: everyone stands in the outermost. */
    record NoRingSetting(Ring outermost) implements PreviewFinding {}

    /** A ring that asks consent and in which nobody who may has consented. */
    record NoConsents(Ring ring, RoaringBitmap may) implements PreviewFinding {}

    /** A ring in which one account alone has consented, so that nothing for two can be tried. */
    record OneTester(Ring ring, int account, RoaringBitmap others) implements PreviewFinding {}

    /** Accounts that were asked to join a ring longer ago than is waited for, and have said neither yes nor no. */
    record OpenInvitations(Ring ring, RoaringBitmap accounts) implements PreviewFinding {}

    /** An opening to a ring in which nobody stands, nor in one further in. */
    record EmptyRing(Setting setting, Ring ring, Instant at) implements PreviewFinding {}

    /** A planned opening whose day has passed. */
    record MissedPlannedDate(Setting setting, Ring ring, Instant at) implements PreviewFinding {}

    /** A release that has stood in a ring for longer than in the one before, and moves on by nothing that is to come. */
    record StalledRelease(
            Setting setting, Ring ring, Duration here, Ring before, Duration there, Ring next, boolean held)
            implements PreviewFinding {}

    /** A release that takes several to be tried, and which fewer have. @param may those who could have it and have not consented */
    record BelowMinimumAudience(Setting setting, int have, int atLeast, RoaringBitmap may) implements PreviewFinding {}

    /** A release for kinds of device on which a ring that it is open to tries nothing. */
    record UntestedDevices(Setting setting, Ring ring, List<String> devices) implements PreviewFinding {}

    /** Accounts to which a release has come and who hold no licence for what it needs. */
    record Unlicensed(Setting setting, RoaringBitmap accounts) implements PreviewFinding {}

    /** Everything worth saying, rings first. A few set operations for each ring and each release; linear in those who may. */
    static List<PreviewFinding> findAll(ColumnResolver columnResolver, Estate estate, Directory directory, Instant at) {
        List<PreviewFinding> found = new ArrayList<>();
        for (Track track : estate.allTracks()) findAll(track, columnResolver, estate, directory, at, found);
        return found;
    }

    private static void findAll(
            Track track,
            ColumnResolver columnResolver,
            Estate estate,
            Directory directory,
            Instant at,
            List<PreviewFinding> found) {
        List<Ring> rings = track.rings();
        if (rings.isEmpty()) return;
        if (rings.size() > 1 && estate.catalogue().setting(track.setting()).isEmpty())
            found.add(new NoRingSetting(rings.get(rings.size() - 1)));
        ReleaseAudience sets = columnResolver.releases(track);
        RoaringBitmap inside = new RoaringBitmap();
        List<Boolean> empty = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) {
            Ring ring = rings.get(i);
            RoaringBitmap may = sets.standingIn(i);
            inside.or(may);
            empty.add(inside.isEmpty());
            if (!ring.asksConsent() || may.isEmpty()) continue;
            RoaringBitmap did = RoaringBitmap.and(may, sets.consentedTo(i));
            RoaringBitmap open = RoaringBitmap.andNot(may, did);
            if (did.isEmpty()) found.add(new NoConsents(ring, open));
            else if (did.getCardinality() == 1) found.add(new OneTester(ring, did.first(), open));
            RoaringBitmap unanswered = unanswered(directory, ring, open, at);
            if (!unanswered.isEmpty()) found.add(new OpenInvitations(ring, unanswered));
        }
        Map<String, Setting> settings = estate.catalogue().settings();
        estate.releases().stream()
                .filter(release -> release.track().equals(track.id()))
                .sorted(Comparator.comparing(Release::setting, CodePointOrder.TEXTS))
                .forEach(release -> {
                    Setting setting = Objects.requireNonNull(settings.get(release.setting()));
                    for (int i = 0; i < rings.size(); i++) {
                        Instant opens = release.opens().get(rings.get(i).id());
                        if (opens == null) continue;
                        if (empty.get(i)) found.add(new EmptyRing(setting, rings.get(i), opens));
                        List<String> untried = untried(release, rings.get(i));
                        if (!untried.isEmpty()) found.add(new UntestedDevices(setting, rings.get(i), untried));
                    }
                    Map<String, Instant> planned =
                            release.planned(estate.organisation().zone());
                    if (release.held().isEmpty())
                        for (Ring ring : rings)
                            if (planned.containsKey(ring.id())
                                    && planned.get(ring.id()).isBefore(at))
                                found.add(new MissedPlannedDate(
                                        setting, ring, Objects.requireNonNull(planned.get(ring.id()))));
                    lingers(setting, release, planned, rings, at).ifPresent(found::add);
                    RoaringBitmap come = sets.reachedBy(release.setting());
                    int have = come.getCardinality();
                    RoaringBitmap unlicensed = new RoaringBitmap();
                    for (Segment<Outcome> segment :
                            columnResolver.column(setting.key()).shares()) {
                        List<Need> unmet = segment.what().blockedBy();
                        if (unmet.isEmpty()) continue;
                        have -= RoaringBitmap.andCardinality(come, segment.accounts());
                        if (unmet.stream().flatMap(Need::flatten).anyMatch(Need.Entitlement.class::isInstance))
                            unlicensed.or(RoaringBitmap.and(come, segment.accounts()));
                    }
                    if (have < release.atLeast()) {
                        RoaringBitmap may = RoaringBitmap.andNot(sets.openTo(release.setting()), come);
                        if (have + may.getCardinality() > 0)
                            found.add(new BelowMinimumAudience(setting, have, release.atLeast(), may));
                    }
                    if (!unlicensed.isEmpty()) found.add(new Unlicensed(setting, unlicensed));
                });
    }

    private static RoaringBitmap unanswered(Directory directory, Ring ring, RoaringBitmap open, Instant at) {
        RoaringBitmap unanswered = new RoaringBitmap();
        Instant longAgo = at.minus(PATIENCE);
        RoaringBitmap asked = RoaringBitmap.and(directory.asked(), open);
        asked.forEach((int n) -> {
            for (Invitation one : directory.account(n).asked())
                if (one.isToRing(ring.id())
                        && one.declined().isEmpty()
                        && !one.at().isAfter(longAgo)) unanswered.add(n);
        });
        return unanswered;
    }

    private static List<String> untried(Release release, Ring ring) {
        List<String> untried = new ArrayList<>(release.devices());
        if (ring.devices().isEmpty()) return List.of();
        untried.removeAll(ring.devices());
        return untried;
    }

    private static Optional<PreviewFinding> lingers(
            Setting setting, Release release, Map<String, Instant> planned, List<Ring> rings, Instant at) {
        int last = -1;
        int before = -1;
        for (int i = 0; i < rings.size(); i++) {
            Instant opens = release.opens().get(rings.get(i).id());
            if (opens == null) continue;
            if (opens.isAfter(at)) return Optional.empty();
            before = last;
            last = i;
        }
        if (before < 0 || last + 1 >= rings.size()) return Optional.empty();
        for (int i = last + 1; i < rings.size(); i++) {
            Instant plan = planned.get(rings.get(i).id());
            if (plan != null && plan.isAfter(at) && release.held().isEmpty()) return Optional.empty();
        }
        Instant since = release.opens().get(rings.get(last).id());
        Duration here = Duration.between(since, at);
        Duration there = Duration.between(release.opens().get(rings.get(before).id()), since);
        return here.compareTo(there) <= 0 || there.isNegative()
                ? Optional.empty()
                : Optional.of(new StalledRelease(
                        setting,
                        rings.get(last),
                        here,
                        rings.get(before),
                        there,
                        rings.get(last + 1),
                        release.held().isPresent()));
    }
}
