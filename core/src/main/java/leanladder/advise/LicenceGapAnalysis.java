package leanladder.advise;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Plan;
import leanladder.resolve.Column;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.seat.Allocation;
import org.roaringbitmap.RoaringBitmap;

/**
 * What it would take for some accounts to have some settings: which needs they fail, and which licence plans would fill the gap.
 * Whatever is decided, the needs are held against all of them (resolution.md, sections 5 and 6). Costs a few set operations for each
 * need and each plan.
 */
public final class LicenceGapAnalysis {
    /**
     * A need that some fail.
     *
     * @param settings that have it
     * @param failing everyone who fails it
     * @param alone those of them who fail nothing else, but what is asked for itself
     * @param within whether it asks for another of the settings that are asked about: once they are turned on together, it is met
     */
    public record Gap(Need need, List<Setting> settings, RoaringBitmap failing, RoaringBitmap alone, boolean within) {}

    /**
     * A plan that would fill a gap of licences.
     *
     * @param filled of those who lack a licence, everyone to whom a seat of it would give all that they lack
     * @param leftOut of these, everyone who is seated and for whom a rule leaves out what they lack
     * @param fresh of these, everyone who would need a seat
     * @param free seats that nobody holds
     * @param ahead how many others wait, and get a free seat first
     */
    public record Offer(
            Plan plan, RoaringBitmap filled, RoaringBitmap leftOut, RoaringBitmap fresh, int free, int ahead) {
        /**
         * Seats that would have to be bought.
         *
         * @param byName whether they are named outright, and so claim before all who wait
         */
        public int shortBy(boolean byName) {
            return Math.max(0, fresh.getCardinality() + (byName ? 0 : ahead) - free);
        }
    }

    private final RoaringBitmap who;
    private final RoaringBitmap ready;
    private final RoaringBitmap inForce;
    private final RoaringBitmap turnedOff;
    private final RoaringBitmap unlicensed;
    private final List<Gap> gaps = new ArrayList<>();
    private final List<Offer> offers = new ArrayList<>();

    /**
     * Looks at all needs of some settings.
     *
     * @param who active accounts
     * @param at the instant of the resolver's context
     */
    public LicenceGapAnalysis(
            ColumnResolver columnResolver, Collection<Setting> settings, RoaringBitmap who, Instant at) {
        this.who = who;
        Map<Need, List<Setting>> needs = new LinkedHashMap<>();
        for (Setting setting : settings)
            for (Need need : setting.needs())
                needs.computeIfAbsent(need, n -> new ArrayList<>()).add(setting);
        Map<Need, RoaringBitmap> failing = new LinkedHashMap<>();
        needs.forEach((need, having) -> {
            RoaringBitmap all = new RoaringBitmap();
            having.forEach(s -> all.or(RoaringBitmap.and(who, columnResolver.failing(s, need))));
            if (!all.isEmpty()) failing.put(need, all);
        });
        Set<String> keys = settings.stream().map(Setting::key).collect(Collectors.toSet());
        Predicate<Need> within = need -> asksFor(need, keys);
        ready = who.clone();
        failing.forEach((need, all) -> {
            if (!within.test(need)) ready.andNot(all);
        });
        failing.forEach((need, all) -> {
            RoaringBitmap alone = all.clone();
            failing.forEach((other, theirs) -> {
                if (other != need && !within.test(other)) alone.andNot(theirs);
            });
            gaps.add(new Gap(need, Objects.requireNonNull(needs.get(need)), all, alone, within.test(need)));
        });
        inForce = who.clone();
        turnedOff = new RoaringBitmap();
        for (Setting setting : settings) {
            inForce.and(inForce(setting, columnResolver));
            for (Segment<Outcome> segment : columnResolver.column(setting.key()).shares())
                if (isOff(setting, segment.what().decided())) turnedOff.or(segment.accounts());
        }
        turnedOff.and(who);
        unlicensed = new RoaringBitmap();
        Map<Set<String>, RoaringBitmap> lacking = new LinkedHashMap<>();
        failing.forEach((need, all) -> {
            if (!(need instanceof Need.Entitlement entitlement)) return;
            unlicensed.or(all);
            lacking.put(new LinkedHashSet<>(entitlement.anyOf()), all);
        });
        if (!lacking.isEmpty()) offer(columnResolver, lacking, at);
    }

    /** Whether a need is met once one of these settings has the value that it asks for. */
    private static boolean asksFor(Need need, Set<String> keys) {
        if (need instanceof Need.ExactSetting exactSetting) return keys.contains(exactSetting.setting());
        if (need instanceof Need.MinimumSetting other) return keys.contains(other.setting());
        return need instanceof Need.AnyOf any && any.needs().stream().anyMatch(n -> asksFor(n, keys));
    }

    /** Everyone for whom a setting has a value in force that is not what it falls back to. */
    private static RoaringBitmap inForce(Setting setting, ColumnResolver columnResolver) {
        Column column = columnResolver.column(setting.key());
        RoaringBitmap on = new RoaringBitmap();
        column.inForce().forEach((value, accounts) -> {
            if (!isOff(setting, value)) on.or(accounts);
        });
        return on;
    }

    private static boolean isOff(Setting setting, Value value) {
        return setting.fallback().filter(value::equals).isPresent()
                || setting.strictness().filter(s -> s.strictEnd().equals(value)).isPresent();
    }

    private void offer(ColumnResolver columnResolver, Map<Set<String>, RoaringBitmap> lacking, Instant at) {
        for (Allocation allocation : columnResolver.entitlements().allocations()) {
            Plan plan = allocation.plan();
            if (!plan.term().holds(at)) continue;
            RoaringBitmap filled = unlicensed.clone();
            boolean helps = false;
            for (var lack : lacking.entrySet()) {
                boolean carries = lack.getKey().stream().anyMatch(plan.components()::contains);
                if (carries) helps = true;
                else filled.andNot(lack.getValue());
            }
            if (!helps) continue;
            filled.and(columnResolver
                    .compiledEstate()
                    .directory()
                    .ofKinds(allocation.plan().kinds()));
            if (filled.isEmpty()) continue;
            RoaringBitmap leftOut = RoaringBitmap.and(filled, allocation.seated());
            RoaringBitmap fresh = RoaringBitmap.andNot(filled, allocation.seated());
            RoaringBitmap others = RoaringBitmap.andNot(allocation.claimants(), allocation.seated());
            others.andNot(fresh);
            int free = allocation.seats() - allocation.seated().getCardinality();
            offers.add(new Offer(plan, filled, leftOut, fresh, free, others.getCardinality()));
        }
        offers.sort(Comparator.comparingInt((Offer o) -> -o.filled.getCardinality())
                .thenComparingInt(o -> o.shortBy(false))
                .thenComparing(o -> o.plan.id()));
    }

    /** Everyone who is asked about. */
    public RoaringBitmap who() {
        return who;
    }

    /** Those who fail nothing, but what is asked for itself: what is decided for them works. */
    public RoaringBitmap ready() {
        return ready;
    }

    /** Those for whom all of the settings are in force now. */
    public RoaringBitmap inForce() {
        return inForce;
    }

    /** Those for whom one of the settings is decided as what it falls back to, whatever needs are met. */
    public RoaringBitmap turnedOff() {
        return turnedOff;
    }

    /** Those who lack a licence. */
    public RoaringBitmap unlicensed() {
        return unlicensed;
    }

    /** The needs that some fail, in the order of the catalogue. */
    public List<Gap> gaps() {
        return gaps;
    }

    /** The plans that would fill the gap of licences, those first that fill most of it. */
    public List<Offer> offers() {
        return offers;
    }
}
