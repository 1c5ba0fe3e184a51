package leanladder.server;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Supplier;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.resolve.Solution;
import leanladder.seat.Entitlements;

/**
 * The estate as it stands at one change, with the answers worked out so far. Between two edges of windows, terms, openings and
 * consents nothing changes by itself, so answers are kept by the edge before the instant asked about. Safe for use by several
 * threads.
 */
final class Present {
    private static final int MOMENTS_KEPT = 6;
    private static final int VIEWS_KEPT = 4;

    private final long change;
    private final Ground ground;
    private final Optional<SearchIndex> before;
    private final Object indexing = new Object();
    private volatile SearchIndex index;
    private final TreeSet<Instant> edges;
    private final Map<Question, Moment> moments = new Recent<>(MOMENTS_KEPT);
    private final Map<Object, Object> lists = new Recent<>(VIEWS_KEPT);

    /** The entries that were used last. */
    private static final class Recent<K, V> extends LinkedHashMap<K, V> {
        private static final long serialVersionUID = 1;
        private final int most;

        Recent(int most) {
            super(16, 0.75f, true);
            this.most = most;
        }

        @Override
        protected boolean removeEldestEntry(Map.Entry<K, V> eldest) {
            return size() > most;
        }
    }

    Present(long change, Ground ground) {
        this(change, ground, Optional.empty());
    }

    private Present(long change, Ground ground, Optional<SearchIndex> before) {
        this.change = change;
        this.ground = ground;
        this.edges = edges(ground.estate());
        this.before = before;
    }

    /** The estate that edits make of this one. */
    Present edited(long change, Ground ground) {
        // Does not wait for an index that is being made.
        return new Present(change, ground, Optional.ofNullable(index).or(() -> before));
    }

    /** Whether something begins or ends by itself after the one instant and not after the other. */
    boolean isEdgeBetween(Instant from, Instant to) {
        return !edges.subSet(from, false, to, true).isEmpty();
    }

    /** The next instant after this one at which something begins or ends by itself. */
    Optional<Instant> nextEdge(Instant after) {
        return Optional.ofNullable(edges.higher(after));
    }

    private static TreeSet<Instant> edges(Estate estate) {
        TreeSet<Instant> edges = new TreeSet<>();
        estate.policies().stream()
                .flatMap(p -> p.assignments().stream())
                .map(Assignment::window)
                .forEach(w -> w.edges().forEach(edges::add));
        estate.plans().forEach(p -> {
            p.term().edges().forEach(edges::add);
            p.assignments().forEach(a -> a.window().edges().forEach(edges::add));
        });
        estate.accounts().forEach(a -> a.consents().forEach(c -> edges.add(c.at())));
        estate.catalogue()
                .settings()
                .keySet()
                .forEach(key -> estate.release(key).ifPresent(r -> {
                    edges.addAll(r.opens().values());
                    r.early().forEach(e -> edges.add(e.from()));
                }));
        return edges;
    }

    /** The number of the last change. */
    long change() {
        return change;
    }

    Ground ground() {
        return ground;
    }

    /** Finds what can be named; made when first asked for, from that of the estate before where there is one. */
    SearchIndex index() {
        synchronized (indexing) {
            if (index == null)
                index = before.map(b -> b.after(ground.estate())).orElseGet(() -> new SearchIndex(ground.estate()));
            return index;
        }
    }

    /** What a view made of the estate at no particular instant; made when first asked for, kept while few others are. */
    @SuppressWarnings("unchecked")
    <V> V kept(Object key, Supplier<V> make) {
        synchronized (lists) {
            return (V) lists.computeIfAbsent(key, k -> make.get());
        }
    }

    /** Answers to one question for everybody, worked out as they are asked for. */
    final class Moment {
        private final Entitlements entitlements;
        private final Set<String> touched;
        private final Solution solution;

        private final Map<Object, Object> views = new Recent<>(VIEWS_KEPT);

        private Moment(Question question) {
            entitlements = new Entitlements(ground.estate(), ground.directory(), question.at());
            touched = Climber.touched(ground, question);
            solution = new Solution(ground, question, entitlements);
        }

        Entitlements entitlements() {
            return entitlements;
        }

        /** Uses the solution, alone. */
        synchronized <T> T solve(Function<Solution, T> use) {
            return use.apply(solution);
        }

        /** Uses what a view made of the solution, alone; it is kept for the next time that it is asked for by the same key. */
        @SuppressWarnings("unchecked")
        synchronized <V, T> T view(Object key, Function<Solution, V> make, Function<V, T> use) {
            V view = (V) views.computeIfAbsent(key, k -> make.apply(solution));
            return use.apply(view);
        }
    }

    Moment moment(Question question) {
        Instant edge = Optional.ofNullable(edges.floor(question.at())).orElse(Instant.EPOCH.minusSeconds(1L << 40));
        Question kept = new Question(edge, question.workspace());
        synchronized (moments) {
            return moments.computeIfAbsent(kept, Moment::new);
        }
    }

    /** Prepares the questions about one active account. */
    Climber climber(Question question, leanladder.estate.Account account) {
        Moment moment = moment(question);
        return new Climber(ground, question, moment.entitlements, account, moment.touched);
    }
}
