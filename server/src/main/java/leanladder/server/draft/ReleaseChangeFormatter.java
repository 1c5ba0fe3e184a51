package leanladder.server.draft;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeSet;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Release;
import leanladder.preview.ReleaseAudience;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.state.RebasedDraft;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** What a draft does to releases: to how many more it opens each, or from how many it draws it back, and who will not have it yet. */
final class ReleaseChangeFormatter {
    private final RebasedDraft rebasedDraft;
    private final EstateFormatter estateFormatter;

    ReleaseChangeFormatter(RebasedDraft rebasedDraft, EstateFormatter estateFormatter) {
        this.rebasedDraft = rebasedDraft;
        this.estateFormatter = estateFormatter;
    }

    /**
     * How a release moves.
     *
     * @param at from when on; now, or the first opening to come that the draft alters
     * @param opened to how many more it is open then @param drawnBack from how many it is drawn back
     * @param unconsented how many of those it is opened to have not consented
     * @param unlicensed how many of them hold no plan with what it needs
     */
    public record ReleaseMove(
            String setting,
            String title,
            Instant at,
            int opened,
            int drawnBack,
            int unconsented,
            int unlicensed,
            String words) {}

    List<ReleaseMove> moves() {
        List<ReleaseMove> moves = new ArrayList<>();
        for (String setting :
                new TreeSet<>(rebasedDraft.editSession().writeSet().releases()))
            move(setting).ifPresent(moves::add);
        return moves;
    }

    private Optional<ReleaseMove> move(String key) {
        Optional<Setting> setting = rebasedDraft.snapshot().estate().catalogue().setting(key);
        if (setting.isEmpty()) return Optional.empty();
        Instant now = rebasedDraft.now();
        Instant at =
                altered(key).stream().filter(i -> i.isAfter(now)).findFirst().orElse(now);
        Optional<ReleaseMove> present = move(setting.get(), now);
        return present.isPresent() || at.equals(now) ? present : move(setting.get(), at);
    }

    /** The instants of openings that the draft adds, takes away or moves, the earliest first. */
    private TreeSet<Instant> altered(String key) {
        TreeSet<Instant> altered = new TreeSet<>();
        Optional<Release> before = rebasedDraft.base().estate().release(key);
        Optional<Release> after = rebasedDraft.snapshot().estate().release(key);
        Map<String, Instant> was = before.map(Release::opens).orElse(Map.of());
        Map<String, Instant> is = after.map(Release::opens).orElse(Map.of());
        was.forEach((ring, instant) -> {
            if (!Objects.equals(is.get(ring), instant)) altered.add(instant);
        });
        is.forEach((ring, instant) -> {
            if (!Objects.equals(was.get(ring), instant)) altered.add(instant);
        });
        after.ifPresent(r -> r.early().stream()
                .filter(e -> before.stream().noneMatch(b -> b.early().contains(e)))
                .forEach(e -> altered.add(e.from())));
        before.ifPresent(r -> r.early().stream()
                .filter(e -> after.stream().noneMatch(a -> a.early().contains(e)))
                .forEach(e -> altered.add(e.from())));
        return altered;
    }

    private Optional<ReleaseMove> move(Setting setting, Instant at) {
        EvaluationContext evaluationContext = EvaluationContext.at(at);
        ReleaseAudience before = rebasedDraft
                .base()
                .resolutionAt(evaluationContext)
                .columnResolver()
                .releasesWith(setting.key());
        ColumnResolver columnResolver =
                rebasedDraft.snapshot().resolutionAt(evaluationContext).columnResolver();
        ReleaseAudience after = columnResolver.releasesWith(setting.key());
        RoaringBitmap was = before.openTo(setting.key());
        RoaringBitmap is = after.openTo(setting.key());
        RoaringBitmap opened = RoaringBitmap.andNot(is, was);
        int drawnBack = RoaringBitmap.andNotCardinality(was, is);
        if (opened.isEmpty() && drawnBack == 0) return Optional.empty();
        int unconsented = RoaringBitmap.andNotCardinality(opened, after.reachedBy(setting.key()));
        RoaringBitmap unlicensed = new RoaringBitmap();
        for (Segment<Outcome> segment : columnResolver.column(setting.key()).shares())
            if (segment.what().blockedBy().stream().flatMap(Need::flatten).anyMatch(Need.Entitlement.class::isInstance))
                unlicensed.or(segment.accounts());
        unlicensed.and(opened);
        return Optional.of(new ReleaseMove(
                setting.key(),
                setting.title(),
                at,
                opened.getCardinality(),
                drawnBack,
                unconsented,
                unlicensed.getCardinality(),
                words(setting, at, opened.getCardinality(), drawnBack, unconsented, unlicensed.getCardinality())));
    }

    private String words(Setting setting, Instant at, int opened, int drawnBack, int unconsented, int unlicensed) {
        List<String> parts = new ArrayList<>();
        if (opened > 0) parts.add(String.format("Opens %s to %,d more", setting.title(), opened));
        if (drawnBack > 0)
            parts.add(String.format(
                    opened > 0 ? "draws it back from %2$,d" : "Draws %1$s back from %2$,d",
                    setting.title(),
                    drawnBack));
        if (unconsented > 0)
            parts.add(String.format("%,d of them %s not consented", unconsented, unconsented == 1 ? "has" : "have"));
        if (unlicensed > 0)
            parts.add(
                    String.format("%,d %s no plan with what it needs", unlicensed, unlicensed == 1 ? "holds" : "hold"));
        String words = String.join("; ", parts);
        return at.isAfter(rebasedDraft.now()) ? words + ", from " + estateFormatter.moment(at) + " on" : words;
    }
}
