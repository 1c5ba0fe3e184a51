package leanladder.server.state;

import com.github.benmanes.caffeine.cache.AsyncCache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Instant;
import java.util.Collection;
import java.util.HashSet;
import java.util.Map;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import leanladder.catalogue.Setting;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.reach.Directory;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.seat.Entitlements;
import leanladder.seat.SeatLedger;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/**
 * The compiled estate at one change, or after a draft. Between two transition times nothing changes by itself, so results are cached by the last
 * transition before the instant of the query. A snapshot that is created from another one by edits keeps everything that the edits cannot affect.
 * Thread-safe. A thread that asks for a value which is being computed waits for that value only.
 */
public final class Snapshot {
    private static final int MOMENTS_KEPT = 6;
    private static final int FACETS_KEPT = 64;
    private static final Instant BEFORE_ALL_EDGES = Instant.EPOCH.minusSeconds(1L << 40);

    private final long change;
    private final Instant at;
    private final CompiledEstate compiledEstate;
    private final TransitionTimes transitionTimes;
    private final AsyncCache<EvaluationContext, InstantResolution> resolutions = Caffeine.newBuilder()
            .maximumSize(MOMENTS_KEPT)
            .executor(Runnable::run)
            .buildAsync();
    private final AsyncCache<DerivedIndex<?>, Object> derivedIndexes = Caffeine.newBuilder()
            .maximumWeight(FACETS_KEPT)
            .weigher((DerivedIndex<?> derivedIndex, Object value) -> weight(derivedIndex, value))
            .executor(Runnable::run)
            .buildAsync();

    /**
     * An estate that was read whole.
     *
     * @param change the number of the last change
     * @param at when that was published
     */
    public Snapshot(long change, Instant at, CompiledEstate compiledEstate) {
        this(change, at, compiledEstate, TransitionTimes.compute(compiledEstate.estate()));
    }

    private Snapshot(long change, Instant at, CompiledEstate compiledEstate, TransitionTimes transitionTimes) {
        this.change = change;
        this.at = at;
        this.compiledEstate = compiledEstate;
        this.transitionTimes = transitionTimes;
    }

    @SuppressWarnings("unchecked")
    private static <V> int weight(DerivedIndex<V> derivedIndex, Object value) {
        return derivedIndex.weight((V) value);
    }

    /** The number of the last change. */
    public long change() {
        return change;
    }

    /** When the last change was published. */
    public Instant at() {
        return at;
    }

    /** The estate, prepared for questions. */
    public CompiledEstate compiledEstate() {
        return compiledEstate;
    }

    public Estate estate() {
        return compiledEstate.estate();
    }

    public Directory directory() {
        return compiledEstate.directory();
    }

    /** Whether something begins or ends by itself after the one instant and not after the other. */
    public boolean isEdgeBetween(Instant from, Instant to) {
        return transitionTimes.isBetween(from, to);
    }

    /** The instants after the one and before the other at which something begins or ends by itself, the earliest first. */
    public NavigableSet<Instant> edgesBetween(Instant from, Instant before) {
        return transitionTimes.between(from, before);
    }

    /** The moments that are at hand. */
    private Map<EvaluationContext, InstantResolution> known() {
        return resolutions.synchronous().asMap();
    }

    /** The answers to a question. */
    public InstantResolution resolutionAt(EvaluationContext evaluationContext) {
        EvaluationContext asked = lastTransitionBefore(evaluationContext);
        return SingleFlight.get(
                resolutions.asMap(),
                asked,
                () -> new InstantResolution(compiledEstate, asked, compiledEstate.seats(asked.at())));
    }

    /**
     * Prepares the questions about one active account at an instant of the past, by when all seats had passed on as this estate says:
     * of others nothing has to be known.
     */
    public AccountResolver resolvePast(EvaluationContext evaluationContext, Account account) {
        EvaluationContext asked = lastTransitionBefore(evaluationContext);
        InstantResolution known = known().get(asked);
        return known != null
                ? known.climber(account)
                : new AccountResolver(compiledEstate, asked, compiledEstate.seatsOf(account, asked.at()), account);
    }

    /** The value of a derived index. The first caller computes it; others wait. */
    @SuppressWarnings("unchecked")
    public <V> V get(DerivedIndex<V> derivedIndex) {
        return (V) SingleFlight.get(derivedIndexes.asMap(), derivedIndex, () -> derivedIndex.compute(this));
    }

    /** The value of a derived index, where it is known. */
    @SuppressWarnings("unchecked")
    <V> Optional<V> known(DerivedIndex<V> derivedIndex) {
        return Optional.ofNullable(derivedIndexes.getIfPresent(derivedIndex))
                .filter(CompletableFuture::isDone)
                .filter(f -> !f.isCompletedExceptionally())
                .map(f -> (V) f.join());
    }

    /**
     * The estate that edits on this one make.
     *
     * @param editSession started from this snapshot's estate, with the edits applied
     * @param ledger as it is once the seats have passed on
     * @param known the edits' ripple, where somebody has asked for it
     * @param now the instant for which what is kept matters most
     */
    public Snapshot edited(
            EditSession editSession,
            SeatLedger seatLedger,
            Optional<Ripple> known,
            long number,
            Instant published,
            Instant now) {
        CompiledEstate after = editSession.compile().withLedger(seatLedger);
        WriteSet edits = editSession.writeSet();
        Snapshot edited = new Snapshot(number, published, after, transitionTimes.after(after.estate(), edits));
        if (edits.touchesParts()) edited.keepPatched(this, editSession, known, now);
        else edited.keep(this, edits, now);
        edited.keepDerivedIndexes(this, edits);
        return edited;
    }

    /**
     * Takes over what edits leave of the facets of the snapshot before. One that is still being worked out there is waited for by
     * itself: whoever started anew at each change would never be done where changes come quickly.
     */
    private void keepDerivedIndexes(Snapshot before, WriteSet edits) {
        before.derivedIndexes.asMap().forEach((derivedIndex, value) -> keep(derivedIndex, value, edits));
    }

    @SuppressWarnings("unchecked")
    private <V> void keep(DerivedIndex<V> derivedIndex, CompletableFuture<Object> before, WriteSet edits) {
        if (!before.isDone())
            derivedIndexes.put(
                    derivedIndex,
                    before.thenApply(value ->
                            derivedIndex.update((V) value, this, edits).orElseGet(() -> derivedIndex.compute(this))));
        else if (!before.isCompletedExceptionally())
            derivedIndex
                    .update((V) before.join(), this, edits)
                    .ifPresent(value -> derivedIndexes.put(derivedIndex, CompletableFuture.completedFuture(value)));
    }

    /**
     * After edits of policies alone every answer is kept whose setting they cannot touch, and every seat. What begins with the edits
     * themselves, such as a window from now on, concerns only what they touch: the answers for now are kept across it.
     */
    private void keep(Snapshot before, WriteSet edits, Instant now) {
        Set<String> keys = new HashSet<>();
        for (Setting setting : compiledEstate.estate().catalogue().withDependents(edits.settings()))
            keys.add(setting.key());
        EvaluationContext was = before.lastTransitionBefore(EvaluationContext.at(now));
        EvaluationContext is = lastTransitionBefore(EvaluationContext.at(now));
        before.known().forEach((evaluationContext, instantResolution) -> {
            known().put(evaluationContext, kept(instantResolution, evaluationContext, edits, keys));
            if (evaluationContext.equals(was) && !is.equals(was))
                known().put(is, kept(instantResolution, is, edits, keys));
        });
    }

    private InstantResolution kept(
            InstantResolution before, EvaluationContext evaluationContext, WriteSet edits, Set<String> keys) {
        return before.after(
                compiledEstate,
                evaluationContext,
                before.entitlements(),
                edits,
                compiledEstate.directory().active(),
                keys);
    }

    /** The same question at the last edge before it: between two, nothing differs. */
    private EvaluationContext lastTransitionBefore(EvaluationContext evaluationContext) {
        return new EvaluationContext(
                transitionTimes.until(evaluationContext.at()).orElse(BEFORE_ALL_EDGES), evaluationContext.workspace());
    }

    /**
     * After edits of the directory the answers for now are kept, but for those whom the edits can touch. What begins with the edits
     * themselves, such as a consent given now, concerns nobody else.
     */
    private void keepPatched(Snapshot before, EditSession editSession, Optional<Ripple> asked, Instant now) {
        InstantResolution known = before.known().get(before.lastTransitionBefore(EvaluationContext.at(now)));
        if (known == null) return;
        EvaluationContext is = lastTransitionBefore(EvaluationContext.at(now));
        Ripple ripple = asked.filter(r -> r.evaluationContext().workspace().isEmpty()
                        && !r.evaluationContext().at().isBefore(is.at())
                        && !transitionTimes.isBetween(now, r.evaluationContext().at()))
                .orElseGet(
                        () -> new Ripple(editSession, compiledEstate, EvaluationContext.at(now), known.entitlements()));
        RoaringBitmap touched = ripple.touched();
        // Seats that passed on are held since now, and the ledger says so.
        Set<String> passed = new HashSet<>();
        compiledEstate.seatLedger().since(before.compiledEstate.seatLedger()).forEach(m -> passed.add(m.plan()));
        Entitlements seats = ripple.seatsAfter().after(compiledEstate.seatLedger(), passed);
        known().put(is, known.after(compiledEstate, is, seats, editSession.writeSet(), touched, ripple.touchedKeys()));
    }

    /**
     * The estate as it stood after another change. What was worked out of what is the same in both is shared.
     *
     * @param editSession started from this snapshot's estate, with what was different put in place
     * @param seats that were held otherwise
     */
    Snapshot restored(EditSession editSession, Collection<SeatLedger.Seat> seats, long number, Instant published) {
        CompiledEstate stood = editSession.compile();
        SeatLedger seatLedger = stood.seatLedger().restored(seats, stood.directory(), published);
        CompiledEstate then = stood.withLedger(seatLedger);
        Snapshot restored =
                new Snapshot(number, published, then, transitionTimes.after(then.estate(), editSession.writeSet()));
        restored.keepDerivedIndexes(this, editSession.writeSet());
        return restored;
    }

    /** This estate after seats passed on by themselves, as a change of the clock says. What was foretold is kept. */
    Snapshot withTransition(SeatLedger seatLedger, WriteSet touched, long number, Instant published) {
        Snapshot passed = new Snapshot(number, published, compiledEstate.withLedger(seatLedger), transitionTimes);
        passed.known().putAll(known());
        passed.keepDerivedIndexes(this, touched);
        return passed;
    }

    /**
     * This estate, made by edits on the present one, as it stands once they are published. What was worked out of it before is
     * taken over, with what could be kept of the present one meanwhile.
     */
    public Snapshot published(Snapshot fresh) {
        known().forEach((evaluationContext, instantResolution) -> {
            InstantResolution there = fresh.known().get(evaluationContext);
            if (there == null) fresh.known().put(evaluationContext, instantResolution);
            else there.adopt(instantResolution);
        });
        derivedIndexes
                .asMap()
                .forEach((derivedIndex, value) -> fresh.derivedIndexes.asMap().putIfAbsent(derivedIndex, value));
        return fresh;
    }
}
