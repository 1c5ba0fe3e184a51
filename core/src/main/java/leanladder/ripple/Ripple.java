package leanladder.ripple;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.edit.session.EditSession;
import leanladder.estate.Plan;
import leanladder.resolve.Column;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.PerAccountColumns;
import leanladder.resolve.Segment;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import leanladder.seat.SeatLedger;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/**
 * What edits change at one instant: the in-force values before and after (words.md: ripple). Only what the edits can affect is resolved, see {@link
 * RippleScope}. The columns before and after are compared segment by segment, not account by account.
 */
public final class Ripple {
    /** How a value changed. */
    public enum Effect {
        /** It got looser on an ordered setting. */
        GAIN,
        /** It got stricter on an ordered setting. */
        LOSE,
        /** It changed otherwise. */
        OTHER
    }

    /** Accounts whose value of one setting changes in the same way. */
    public record ValueChange(Setting setting, Value from, Value to, Effect effect, RoaringBitmap accounts) {}

    /** Accounts for whom a setting is blocked after the edits, by the same needs. */
    public record Block(Setting setting, Value decided, List<Need> needs, RoaringBitmap accounts) {}

    /** How the seats of a plan pass on; sets of account numbers. */
    public record Seats(Plan plan, RoaringBitmap given, RoaringBitmap returned, int waitingBefore, int waitingAfter) {}

    /** How one setting comes out otherwise. */
    private record Alteration(List<ValueChange> moves, List<Block> blocks, RoaringBitmap decidedElsewhere) {}

    /** Accounts up to which it is quicker to climb for each. */
    private static final int FEW = 32;

    private final CompiledEstate before;
    private final CompiledEstate after;
    private final EvaluationContext evaluationContext;
    private final RippleScope rippleScope;
    private final Entitlements seatsBefore;
    private final Entitlements seatsAfter;
    private final SeatLedger seatLedger;
    private final RoaringBitmap touched;
    private final Set<String> touchedKeys;
    private final Map<Setting, Alteration> alterations = new LinkedHashMap<>();
    private final List<ValueChange> moves = new ArrayList<>();
    private final List<Block> blocks = new ArrayList<>();
    private final List<Seats> seats;
    private final RoaringBitmap changed = new RoaringBitmap();
    private final RoaringBitmap gaining = new RoaringBitmap();
    private final RoaringBitmap losing = new RoaringBitmap();
    private final RoaringBitmap decidedElsewhere = new RoaringBitmap();
    private final RoaringBitmap blocked = new RoaringBitmap();
    private final RoaringBitmap joining;
    private final RoaringBitmap leaving;

    /**
     * Compares an estate with what edits make of it.
     *
     * @param after the estate that the edit session led to, see {@link EditSession#compile}
     */
    public Ripple(EditSession editSession, CompiledEstate after, EvaluationContext evaluationContext) {
        this(editSession, after, evaluationContext, editSession.base().seats(evaluationContext.at()));
    }

    /**
     * The same with seats that are known.
     *
     * @param seatsBefore the allocations of the estate before, at the question's instant
     */
    public Ripple(
            EditSession editSession,
            CompiledEstate after,
            EvaluationContext evaluationContext,
            Entitlements seatsBefore) {
        this(
                editSession.base(),
                after,
                evaluationContext,
                seatsBefore,
                new RippleScope(editSession.base(), after, editSession.writeSet()));
    }

    private Ripple(
            CompiledEstate before,
            CompiledEstate after,
            EvaluationContext evaluationContext,
            Entitlements seatsBefore,
            RippleScope rippleScope) {
        this(
                before,
                after,
                evaluationContext,
                seatsBefore,
                rippleScope,
                ledger(before, rippleScope.plans(), evaluationContext.at()));
    }

    /** The ledger that edits find when they are published: what became of these plans until then is not theirs. */
    private static SeatLedger ledger(CompiledEstate before, Set<String> plans, Instant at) {
        return before.seatLedger()
                .advanceTo(
                        before.estate().plans().stream()
                                .filter(p -> plans.contains(p.id()))
                                .toList(),
                        before.directory(),
                        at);
    }

    /** @param ledger out of which the seats after the edits are given */
    private Ripple(
            CompiledEstate before,
            CompiledEstate after,
            EvaluationContext evaluationContext,
            Entitlements seatsBefore,
            RippleScope rippleScope,
            SeatLedger seatLedger) {
        this.before = before;
        this.after = after;
        this.evaluationContext = evaluationContext;
        this.rippleScope = rippleScope;
        this.seatsBefore = seatsBefore;
        seats = new ArrayList<>();
        this.seatLedger = seatLedger;
        seatsAfter = seatsBefore.with(
                after.estate(),
                after.directory(),
                seatLedger,
                evaluationContext.at(),
                rippleScope.plans(),
                rippleScope.accounts());
        RoaringBitmap passed = new RoaringBitmap();
        Set<String> carried = passOn(passed);
        Set<String> keys = new HashSet<>(rippleScope.settings());
        keys.addAll(carried);
        touched = RoaringBitmap.or(rippleScope.accounts(), passed);
        touchedKeys = withDependents(keys);
        List<Setting> settings = comparable(touchedKeys);
        RoaringBitmap asked = asked();
        RoaringBitmap was = RoaringBitmap.and(asked, before.directory().active());
        RoaringBitmap is = RoaringBitmap.and(asked, after.directory().active());
        leaving = RoaringBitmap.andNot(was, is);
        joining = RoaringBitmap.andNot(is, was);
        compareAll(
                was,
                is,
                settings,
                evaluationContext.workspace().isPresent() ? key -> asked : touchedIn(passed, carried));
        sumUp();
    }

    /** The ripple of more edits of policies beside those of another one, of whose settings the rest is taken over. */
    private Ripple(Ripple less, EditSession editSession, CompiledEstate after, Set<String> settings) {
        before = less.before;
        this.after = after;
        evaluationContext = less.evaluationContext;
        rippleScope = new RippleScope(before, after, editSession.writeSet());
        seatsBefore = less.seatsBefore;
        seatLedger = less.seatLedger;
        seatsAfter = less.seatsAfter;
        seats = less.seats;
        joining = less.joining;
        leaving = less.leaving;
        touched = RoaringBitmap.or(less.touched, rippleScope.accounts());
        touchedKeys = withDependents(settings);
        List<Setting> again = comparable(touchedKeys);
        alterations.putAll(less.alterations);
        again.forEach(alterations::remove);
        touchedKeys.addAll(less.touchedKeys);
        RoaringBitmap asked = asked();
        asked.and(after.directory().active());
        asked.and(before.directory().active());
        compareAll(asked, asked, again, key -> asked);
        sumUp();
    }

    /**
     * The ripple after more edits; what they cannot touch is taken over, so that it costs what these edits touch, not all of them.
     *
     * @param editSession the session of this ripple with more edits applied
     * @param more what those edits touch
     */
    public Ripple with(EditSession editSession, CompiledEstate after, WriteSet more) {
        if (more.isEmpty()) return this;
        if (more.touchesParts() || evaluationContext.workspace().isPresent())
            return new Ripple(editSession, after, evaluationContext, seatsBefore);
        return new Ripple(this, editSession, after, more.settings());
    }

    /** These settings and all that depend on them, before or after the edits. */
    private Set<String> withDependents(Set<String> keys) {
        Set<String> all = new HashSet<>(keys);
        for (CompiledEstate side : List.of(before, after))
            all.addAll(keysOf(side.estate().catalogue().withDependents(keys)));
        return all;
    }

    /**
     * The settings of these keys as they are after the edits, each after those that it depends on. One that the edits add or remove is not
     * among them: nobody has a value of it on one side.
     */
    private List<Setting> comparable(Collection<String> keys) {
        return after.estate().catalogue().inOrder(keys).stream()
                .filter(s -> before.estate().catalogue().setting(s.key()).isPresent())
                .toList();
    }

    private static Set<String> keysOf(List<Setting> settings) {
        Set<String> keys = new HashSet<>();
        settings.forEach(s -> keys.add(s.key()));
        return keys;
    }

    /** Everyone whom the edits can touch, as far as the question's workspace is concerned. A fresh set. */
    private RoaringBitmap asked() {
        RoaringBitmap asked = touched.clone();
        evaluationContext.workspace().ifPresent(w -> {
            RoaringBitmap members = membersOf(w);
            // A policy that names the workspace reaches whoever asks as if working there.
            if (rippleScope.workspaces().contains(w)) asked.or(members);
            asked.and(members);
        });
        return asked;
    }

    /** Who is touched in a setting: whoever only gets or loses a seat, in nothing but what it carries. */
    private Function<String, RoaringBitmap> touchedIn(RoaringBitmap passed, Set<String> carried) {
        if (carried.isEmpty()) return key -> rippleScope.accounts();
        Set<String> edited = withDependents(rippleScope.settings());
        Set<String> seated = withDependents(carried);
        return key -> {
            if (!edited.contains(key)) return passed;
            return seated.contains(key) ? touched : rippleScope.accounts();
        };
    }

    /** @param whom who is touched in a setting */
    private void compareAll(
            RoaringBitmap was, RoaringBitmap is, List<Setting> settings, Function<String, RoaringBitmap> whom) {
        if (was.isEmpty() && is.isEmpty()) return;
        if (was.getCardinality() <= FEW && was.equals(is) && rippleScope.audiencesUnchanged())
            compareFew(was, settings, whom);
        else compare(settings, columns(was, before, seatsBefore, whom), columns(is, after, seatsAfter, whom));
    }

    /** Whom the policies reach is found once for both sides; where only words on previews differ, no more is climbed than these release. */
    private void compareFew(RoaringBitmap few, List<Setting> settings, Function<String, RoaringBitmap> whom) {
        PerAccountColumns was = new PerAccountColumns(few, before, evaluationContext, seatsBefore);
        PerAccountColumns is = was.after(after, seatsAfter);
        List<Setting> compared = settings;
        Function<String, RoaringBitmap> looked = whom;
        if (rippleScope.onlyConsentsChanged()) {
            Map<String, RoaringBitmap> otherwise = was.releasedOtherwise(is);
            was.climb(otherwise);
            is.climb(otherwise);
            compared = settings.stream()
                    .filter(s -> otherwise.containsKey(s.key()))
                    .toList();
            looked = otherwise::get;
        }
        Function<String, RoaringBitmap> those = looked;
        compare(compared, key -> was.column(key, those.apply(key)), key -> is.column(key, those.apply(key)));
    }

    private void compare(List<Setting> settings, Function<String, Column> was, Function<String, Column> is) {
        for (Setting setting : settings) {
            Alteration alteration = compare(setting, was.apply(setting.key()), is.apply(setting.key()));
            boolean none =
                    alteration.moves.isEmpty() && alteration.blocks.isEmpty() && alteration.decidedElsewhere.isEmpty();
            if (!none) alterations.put(setting, alteration);
        }
    }

    private Function<String, Column> columns(
            RoaringBitmap accounts,
            CompiledEstate compiledEstate,
            Entitlements seats,
            Function<String, RoaringBitmap> whom) {
        if (accounts.getCardinality() > FEW)
            return ColumnResolver.among(accounts, compiledEstate, evaluationContext, seats)::column;
        PerAccountColumns climbed = new PerAccountColumns(accounts, compiledEstate, evaluationContext, seats);
        return key -> climbed.column(key, whom.apply(key));
    }

    private void sumUp() {
        List<String> keys = alterations.keySet().stream().map(Setting::key).toList();
        for (Setting setting : comparable(keys)) {
            Alteration alteration = alterations.get(setting);
            if (alteration == null) continue;
            for (ValueChange valueChange : alteration.moves) {
                moves.add(valueChange);
                changed.or(valueChange.accounts);
                if (valueChange.effect == Effect.GAIN) gaining.or(valueChange.accounts);
                if (valueChange.effect == Effect.LOSE) losing.or(valueChange.accounts);
            }
            for (Block block : alteration.blocks) {
                blocks.add(block);
                blocked.or(block.accounts);
            }
            decidedElsewhere.or(alteration.decidedElsewhere);
        }
        decidedElsewhere.andNot(changed);
    }

    /** Everyone whom the edits, and seats that pass on by them, can touch. Not to be changed. */
    public RoaringBitmap touched() {
        return touched;
    }

    /** The settings that they can touch, with all that depend on these. */
    public Set<String> touchedKeys() {
        return touchedKeys;
    }

    /**
     * The settings that they can touch at any time: those of {@link #touchedKeys}, and those that ask for what a plan carries whose
     * seats can pass on by them later.
     */
    public Set<String> keysAtAnyTime() {
        if (rippleScope.plans().isEmpty()) return touchedKeys;
        Set<String> keys = withDependents(rippleScope.settingsAskingFor(rippleScope.components()));
        keys.addAll(touchedKeys);
        return keys;
    }

    /** The seats as they are after the edits. */
    public Entitlements seatsAfter() {
        return seatsAfter;
    }

    private RoaringBitmap membersOf(String workspace) {
        return after.directory()
                .holding(after.estate().workspace(workspace).orElseThrow().members());
    }

    /** Puts those who get or lose what a seat carries into a set; gives the settings that ask for that. */
    private Set<String> passOn(RoaringBitmap accounts) {
        if (seatsBefore == seatsAfter) return Set.of();
        Set<String> touched = new HashSet<>();
        for (String id : new TreeSet<>(rippleScope.plans())) {
            Optional<Allocation> old = seatsBefore.allocation(id);
            Optional<Allocation> fresh = seatsAfter.allocation(id);
            if (old.isEmpty() && fresh.isEmpty()) continue;
            RoaringBitmap was = old.map(Allocation::seated).orElseGet(RoaringBitmap::new);
            RoaringBitmap is = fresh.map(Allocation::seated).orElseGet(RoaringBitmap::new);
            RoaringBitmap given = RoaringBitmap.andNot(is, was);
            RoaringBitmap returned = RoaringBitmap.andNot(was, is);
            int waitingBefore = old.map(Ripple::waiting).orElse(0);
            int waitingAfter = fresh.map(Ripple::waiting).orElse(0);
            if (!given.isEmpty() || !returned.isEmpty() || waitingBefore != waitingAfter)
                seats.add(new Seats(fresh.or(() -> old).get().plan(), given, returned, waitingBefore, waitingAfter));
            Set<String> components = new TreeSet<>();
            old.ifPresent(a -> components.addAll(a.plan().components()));
            fresh.ifPresent(a -> components.addAll(a.plan().components()));
            for (String component : components) {
                RoaringBitmap passed = RoaringBitmap.xor(seatsBefore.holding(component), seatsAfter.holding(component));
                if (passed.isEmpty()) continue;
                accounts.or(passed);
                touched.add(component);
            }
        }
        return touched.isEmpty() ? Set.of() : rippleScope.settingsAskingFor(touched);
    }

    private static int waiting(Allocation allocation) {
        return allocation.claimants().getCardinality() - allocation.seated().getCardinality();
    }

    private static Alteration compare(Setting setting, Column was, Column willBe) {
        List<ValueChange> moves = new ArrayList<>();
        for (Map.Entry<Value, RoaringBitmap> from : was.inForce().entrySet()) {
            for (Map.Entry<Value, RoaringBitmap> to : willBe.inForce().entrySet()) {
                if (from.getKey().equals(to.getKey())) continue;
                RoaringBitmap accounts = RoaringBitmap.and(from.getValue(), to.getValue());
                if (accounts.isEmpty()) continue;
                Effect effect = effect(setting, from.getKey(), to.getKey());
                moves.add(new ValueChange(setting, from.getKey(), to.getKey(), effect, accounts));
            }
        }
        RoaringBitmap elsewhere = new RoaringBitmap();
        for (Segment<Outcome> from : was.shares())
            for (Segment<Outcome> to : willBe.shares())
                if (from.what().value().equals(to.what().value())
                        && !from.what().isDecidedLike(to.what()))
                    elsewhere.or(RoaringBitmap.and(from.accounts(), to.accounts()));
        return new Alteration(moves, stillBlocked(setting, was, willBe), elsewhere);
    }

    /** Those for whom the edits decide something that a gate then blocks: it was decided otherwise, or by another, before. */
    private static List<Block> stillBlocked(Setting setting, Column was, Column willBe) {
        List<Block> blocks = new ArrayList<>();
        for (Segment<Outcome> to : willBe.shares()) {
            if (to.what().blockedBy().isEmpty()) continue;
            RoaringBitmap here = new RoaringBitmap();
            for (Segment<Outcome> from : was.shares())
                if (!from.what().decided().equals(to.what().decided())
                        || !from.what().policy().equals(to.what().policy()))
                    here.or(RoaringBitmap.and(from.accounts(), to.accounts()));
            if (!here.isEmpty())
                blocks.add(new Block(setting, to.what().decided(), to.what().blockedBy(), here));
        }
        return blocks;
    }

    /**
     * The ripple of the same edits at a later instant, see {@link #later}.
     *
     * @param more everyone for whom then some setting changes that did not change before
     */
    public record Later(Instant at, Ripple ripple, RoaringBitmap more) {}

    /**
     * What the same edits alter at every later instant at which something that they touch begins or ends by itself, where they
     * alter more than before. Costs a ripple for each such instant.
     */
    public static List<Later> later(
            EditSession editSession, CompiledEstate after, EvaluationContext evaluationContext) {
        RippleScope rippleScope = new RippleScope(editSession.base(), after, editSession.writeSet());
        List<Later> later = new ArrayList<>();
        Map<Setting, RoaringBitmap> seen = new HashMap<>();
        Ripple now = new Ripple(editSession, after, evaluationContext);
        now.newIn(seen);
        SeatLedger seatLedger = now.ledgerAfter();
        for (Instant edge : rippleScope.edgesAfter(evaluationContext.at())) {
            EvaluationContext then = new EvaluationContext(edge, evaluationContext.workspace());
            var seats = editSession.base().seats(edge);
            Ripple ripple = new Ripple(editSession.base(), after, then, seats, rippleScope, seatLedger);
            RoaringBitmap more = ripple.newIn(seen);
            if (!more.isEmpty()) later.add(new Later(edge, ripple, more));
        }
        return later;
    }

    /** The ledger as it is once the edits are published at the question's instant. */
    private SeatLedger ledgerAfter() {
        return seatLedger.asOf().isEmpty()
                ? seatLedger
                : seatsPassedOn(evaluationContext.at()).ledger();
    }

    /**
     * The seats that pass on when the edits are published at an instant, and the ledger as it is then.
     *
     * @param at such that no edge of a plan lies between it and the question's instant
     */
    public SeatLedger.Moved seatsPassedOn(Instant at) {
        return seatLedger.reallocate(seatsAfter, rippleScope.plans(), at);
    }

    /**
     * The seats that pass on when edits are published at an instant, and the ledger as it is then.
     *
     * @param after the estate that the edit session led to
     */
    public static SeatLedger.Moved seatsPassedOn(EditSession editSession, CompiledEstate after, Instant at) {
        Set<String> plans = new RippleScope(editSession.base(), after, editSession.writeSet()).plans();
        SeatLedger seatLedger = ledger(editSession.base(), plans, at);
        return seatLedger.reallocate(after.withLedger(seatLedger).seats(plans, at), plans, at);
    }

    /** Everyone who has a change of some setting that is not among those seen; afterwards it is. */
    private RoaringBitmap newIn(Map<Setting, RoaringBitmap> seen) {
        RoaringBitmap more = new RoaringBitmap();
        for (ValueChange valueChange : moves) {
            RoaringBitmap known = seen.computeIfAbsent(valueChange.setting, s -> new RoaringBitmap());
            more.or(RoaringBitmap.andNot(valueChange.accounts, known));
            known.or(valueChange.accounts);
        }
        return more;
    }

    /** What the same edits alter for the members of each workspace that they name, as if working there; by workspace id. */
    public static Map<String, Ripple> inWorkspaces(EditSession editSession, CompiledEstate after, Instant at) {
        Map<String, Ripple> ripples = new LinkedHashMap<>();
        for (String workspace : new RippleScope(editSession.base(), after, editSession.writeSet()).workspaces())
            if (editSession.base().estate().workspace(workspace).isPresent()
                    && after.estate().workspace(workspace).isPresent())
                ripples.put(
                        workspace, new Ripple(editSession, after, new EvaluationContext(at, Optional.of(workspace))));
        return ripples;
    }

    /**
     * What it is to have one value of a setting and then another: to gain where the other is looser. A value that the setting does not offer
     * any more is neither.
     */
    public static Effect effect(Setting setting, Value from, Value to) {
        return setting.strictness()
                .filter(s -> setting.type().orders(from) && setting.type().orders(to))
                .map(s -> s.isLooser(to, from) ? Effect.GAIN : Effect.LOSE)
                .orElse(Effect.OTHER);
    }

    /** The estate before. */
    public CompiledEstate before() {
        return before;
    }

    /** The estate after. */
    public CompiledEstate after() {
        return after;
    }

    /** What is asked about. */
    public EvaluationContext evaluationContext() {
        return evaluationContext;
    }

    /** What the edits decide and a gate blocks, by setting. */
    public List<Block> blocks() {
        return blocks;
    }

    /** Everyone for whom the edits decide something that a gate then blocks. */
    public RoaringBitmap blocked() {
        return blocked;
    }

    /** The plans whose seats pass on, or for which more or fewer wait. */
    public List<Seats> seats() {
        return seats;
    }

    /** Accounts that have outcomes only after the edits. They are not among {@link #changed()}. */
    public RoaringBitmap joining() {
        return joining;
    }

    /** Accounts that have no outcomes any more. They are not among {@link #changed()}. */
    public RoaringBitmap leaving() {
        return leaving;
    }

    /** Every way in which a value changes, by setting after those it depends on. */
    public List<ValueChange> moves() {
        return moves;
    }

    /** Everyone whose in-force value of some setting changes. Not to be changed, like all sets here. */
    public RoaringBitmap changed() {
        return changed;
    }

    /** Everyone with no change of value for whom another statement decides, or the standing differs. */
    public RoaringBitmap decidedElsewhere() {
        return decidedElsewhere;
    }

    /** Whether the account gains, loses, does both, or changes otherwise. The four parts add up to {@link #changed()}. */
    public Optional<Effect> effectOn(int account) {
        boolean gains = gaining.contains(account);
        boolean loses = losing.contains(account);
        if (gains && loses) return Optional.empty();
        return Optional.of(gains ? Effect.GAIN : loses ? Effect.LOSE : Effect.OTHER);
    }

    /** Those who gain and do not lose. A fresh set. */
    public RoaringBitmap gainOnly() {
        return RoaringBitmap.andNot(gaining, losing);
    }

    /** Those who lose and do not gain. A fresh set. */
    public RoaringBitmap loseOnly() {
        return RoaringBitmap.andNot(losing, gaining);
    }

    /** Those who gain in one setting and lose in another. A fresh set. */
    public RoaringBitmap both() {
        return RoaringBitmap.and(gaining, losing);
    }

    /** Those who neither gain nor lose. A fresh set. */
    public RoaringBitmap otherOnly() {
        return RoaringBitmap.andNot(changed, RoaringBitmap.or(gaining, losing));
    }
}
