package leanladder.server.live;

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
import leanladder.change.Book;
import leanladder.change.Ripple;
import leanladder.change.overlay.Footprint;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.reach.Directory;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.seat.Entitlements;
import leanladder.seat.Ledger;
import org.roaringbitmap.RoaringBitmap;

/**
 * An estate as it stands at one change, or would stand after a draft, compiled to answer. Between two edges of windows, terms,
 * openings and consents nothing changes by itself, so answers are kept by the edge before the instant asked about. One that is
 * made of another by edits keeps whatever these cannot touch. Safe for use by several threads; who asks for what is being worked out
 * waits for it, and for nothing else.
 */
public final class Snapshot {
    private static final int MOMENTS_KEPT = 6;
    private static final int FACETS_KEPT = 64;
    private static final Instant BEFORE_ALL_EDGES = Instant.EPOCH.minusSeconds(1L << 40);

    private final long change;
    private final Instant at;
    private final Ground ground;
    private final Edges edges;
    private final AsyncCache<Question, Moment> moments = Caffeine.newBuilder()
            .maximumSize(MOMENTS_KEPT)
            .executor(Runnable::run)
            .buildAsync();
    private final AsyncCache<Facet<?>, Object> facets = Caffeine.newBuilder()
            .maximumWeight(FACETS_KEPT)
            .weigher((Facet<?> facet, Object value) -> weight(facet, value))
            .executor(Runnable::run)
            .buildAsync();

    /**
     * An estate that was read whole.
     *
     * @param change the number of the last change
     * @param at when that was published
     */
    public Snapshot(long change, Instant at, Ground ground) {
        this(change, at, ground, Edges.of(ground.estate()));
    }

    private Snapshot(long change, Instant at, Ground ground, Edges edges) {
        this.change = change;
        this.at = at;
        this.ground = ground;
        this.edges = edges;
    }

    @SuppressWarnings("unchecked")
    private static <V> int weight(Facet<V> facet, Object value) {
        return facet.weight((V) value);
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
    public Ground ground() {
        return ground;
    }

    public Estate estate() {
        return ground.estate();
    }

    public Directory directory() {
        return ground.directory();
    }

    /** Whether something begins or ends by itself after the one instant and not after the other. */
    public boolean isEdgeBetween(Instant from, Instant to) {
        return edges.isBetween(from, to);
    }

    /** The instants after the one and before the other at which something begins or ends by itself, the earliest first. */
    public NavigableSet<Instant> edgesBetween(Instant from, Instant before) {
        return edges.between(from, before);
    }

    /** The moments that are at hand. */
    private Map<Question, Moment> known() {
        return moments.synchronous().asMap();
    }

    /** The answers to a question. */
    public Moment moment(Question question) {
        Question asked = nearest(question);
        return Once.get(moments.asMap(), asked, () -> new Moment(ground, asked, ground.seats(asked.at())));
    }

    /**
     * Prepares the questions about one active account at an instant of the past, by when all seats had passed on as this estate says:
     * of others nothing has to be known.
     */
    Climber past(Question question, Account account) {
        Question asked = nearest(question);
        Moment known = known().get(asked);
        return known != null
                ? known.climber(account)
                : new Climber(ground, asked, ground.seatsOf(account, asked.at()), account);
    }

    /** What a facet comes to; worked out when first asked for, by whoever asks first. */
    @SuppressWarnings("unchecked")
    public <V> V get(Facet<V> facet) {
        return (V) Once.get(facets.asMap(), facet, () -> facet.of(this));
    }

    /** What a facet comes to, where that is known. */
    @SuppressWarnings("unchecked")
    <V> Optional<V> known(Facet<V> facet) {
        return Optional.ofNullable(facets.getIfPresent(facet))
                .filter(CompletableFuture::isDone)
                .filter(f -> !f.isCompletedExceptionally())
                .map(f -> (V) f.join());
    }

    /**
     * The estate that edits on this one make.
     *
     * @param book opened on this snapshot's ground, with the edits carried out
     * @param ledger as it is once the seats have passed on
     * @param known the edits' ripple, where somebody has asked for it
     * @param now the instant for which what is kept matters most
     */
    public Snapshot edited(
            Book book, Ledger ledger, Optional<Ripple> known, long number, Instant published, Instant now) {
        Ground after = book.after().withLedger(ledger);
        Footprint edits = book.footprint();
        Snapshot edited = new Snapshot(number, published, after, edges.after(after.estate(), edits));
        if (edits.touchesParts()) edited.keepPatched(this, book, known, now);
        else edited.keep(this, edits, now);
        edited.keepFacets(this, edits);
        return edited;
    }

    /**
     * Takes over what edits leave of the facets of the snapshot before. One that is still being worked out there is waited for by
     * itself: whoever started anew at each change would never be done where changes come quickly.
     */
    private void keepFacets(Snapshot before, Footprint edits) {
        before.facets.asMap().forEach((facet, value) -> keep(facet, value, edits));
    }

    @SuppressWarnings("unchecked")
    private <V> void keep(Facet<V> facet, CompletableFuture<Object> before, Footprint edits) {
        if (!before.isDone())
            facets.put(
                    facet,
                    before.thenApply(
                            value -> facet.after((V) value, this, edits).orElseGet(() -> facet.of(this))));
        else if (!before.isCompletedExceptionally())
            facet.after((V) before.join(), this, edits)
                    .ifPresent(value -> facets.put(facet, CompletableFuture.completedFuture(value)));
    }

    /**
     * After edits of policies alone every answer is kept whose setting they cannot touch, and every seat. What begins with the edits
     * themselves, such as a window from now on, concerns only what they touch: the answers for now are kept across it.
     */
    private void keep(Snapshot before, Footprint edits, Instant now) {
        Set<String> keys = new HashSet<>();
        for (Setting setting : ground.estate().catalogue().withDependents(edits.settings())) keys.add(setting.key());
        Question was = before.nearest(Question.at(now));
        Question is = nearest(Question.at(now));
        before.known().forEach((question, moment) -> {
            known().put(question, kept(moment, question, edits, keys));
            if (question.equals(was) && !is.equals(was)) known().put(is, kept(moment, is, edits, keys));
        });
    }

    private Moment kept(Moment before, Question question, Footprint edits, Set<String> keys) {
        return before.after(
                ground,
                question,
                before.entitlements(),
                edits,
                ground.directory().active(),
                keys);
    }

    /** The same question at the last edge before it: between two, nothing differs. */
    private Question nearest(Question question) {
        return new Question(edges.until(question.at()).orElse(BEFORE_ALL_EDGES), question.workspace());
    }

    /**
     * After edits of the directory the answers for now are kept, but for those whom the edits can touch. What begins with the edits
     * themselves, such as a consent given now, concerns nobody else.
     */
    private void keepPatched(Snapshot before, Book book, Optional<Ripple> asked, Instant now) {
        Moment known = before.known().get(before.nearest(Question.at(now)));
        if (known == null) return;
        Question is = nearest(Question.at(now));
        Ripple ripple = asked.filter(r -> r.question().workspace().isEmpty()
                        && !r.question().at().isBefore(is.at())
                        && !edges.isBetween(now, r.question().at()))
                .orElseGet(() -> new Ripple(book, ground, Question.at(now), known.entitlements()));
        RoaringBitmap touched = ripple.touched();
        // Seats that passed on are held since now, and the ledger says so.
        Set<String> passed = new HashSet<>();
        ground.ledger().since(before.ground.ledger()).forEach(m -> passed.add(m.plan()));
        Entitlements seats = ripple.seatsAfter().after(ground.ledger(), passed);
        known().put(is, known.after(ground, is, seats, book.footprint(), touched, ripple.touchedKeys()));
    }

    /**
     * The estate as it stood after another change. What was worked out of what is the same in both is shared.
     *
     * @param book opened on this snapshot's ground, with what stood otherwise put in place
     * @param seats that were held otherwise
     */
    Snapshot restored(Book book, Collection<Ledger.Seat> seats, long number, Instant published) {
        Ground stood = book.after();
        Ledger ledger = stood.ledger().restored(seats, stood.directory(), published);
        Ground then = stood.withLedger(ledger);
        Snapshot restored = new Snapshot(number, published, then, edges.after(then.estate(), book.footprint()));
        restored.keepFacets(this, book.footprint());
        return restored;
    }

    /** This estate after seats passed on by themselves, as a change of the clock says. What was foretold is kept. */
    Snapshot passed(Ledger ledger, Footprint touched, long number, Instant published) {
        Snapshot passed = new Snapshot(number, published, ground.withLedger(ledger), edges);
        passed.known().putAll(known());
        passed.keepFacets(this, touched);
        return passed;
    }

    /**
     * This estate, made by edits on the present one, as it stands once they are published. What was worked out of it before is
     * taken over, with what could be kept of the present one meanwhile.
     */
    public Snapshot published(Snapshot fresh) {
        known().forEach((question, moment) -> {
            Moment there = fresh.known().get(question);
            if (there == null) fresh.known().put(question, moment);
            else there.adopt(moment);
        });
        facets.asMap().forEach((facet, value) -> fresh.facets.asMap().putIfAbsent(facet, value));
        return fresh;
    }
}
