package leanladder.server.live;

import com.github.benmanes.caffeine.cache.AsyncCache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.Set;
import java.util.function.Supplier;
import leanladder.change.overlay.Footprint;
import leanladder.estate.Account;
import leanladder.estate.Policy;
import leanladder.reach.ReachedSets;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.resolve.Solution;
import leanladder.seat.Entitlements;
import org.roaringbitmap.RoaringBitmap;

/** The answers to one question for everybody, worked out as they are asked for. Safe for use by several threads at once. */
public final class Moment {
    private static final int VIEWS_KEPT = 8;

    private final Ground ground;
    private final Question question;
    private final Set<String> touched;
    private final Solution solution;
    private final AsyncCache<Object, Object> views = Caffeine.newBuilder()
            .maximumSize(VIEWS_KEPT)
            .executor(Runnable::run)
            .buildAsync();

    Moment(Ground ground, Question question, Entitlements entitlements) {
        this(ground, question, new Solution(ground, question, entitlements));
    }

    private Moment(Ground ground, Question question, Solution solution) {
        this.ground = ground;
        this.question = question;
        this.solution = solution;
        touched = solution.touchedByWorkspaces();
    }

    /** A question put to the estate after edits; what these cannot touch is kept. @see Solution#after */
    Moment after(
            Ground edited,
            Question asked,
            Entitlements seats,
            Footprint edits,
            RoaringBitmap accounts,
            Set<String> keys) {
        return new Moment(edited, asked, solution.after(edited, asked, seats, edits.policies(), accounts, keys));
    }

    /** Takes over what another moment of the same estate and question has worked out. */
    void adopt(Moment other) {
        solution.adopt(other.solution);
    }

    /** Who holds which seat. */
    public Entitlements entitlements() {
        return solution.entitlements();
    }

    /** The outcomes of all accounts, setting by setting. */
    public Solution solution() {
        return solution;
    }

    /** Prepares the questions about one active account. */
    public Climber climber(Account account) {
        return new Climber(ground, question, solution.entitlements(), account, touched);
    }

    /** Whom a policy reaches, asked as if working in the question's workspace where one is named. */
    public ReachedSets reached(Policy policy) {
        return solution.reached(policy, true);
    }

    /** Whom a policy reaches, wherever they work. */
    public ReachedSets reachedAnywhere(Policy policy) {
        return solution.reached(policy, false);
    }

    /** What a view makes of the outcomes; it is kept for the next time that it is asked for by the same key. */
    @SuppressWarnings("unchecked")
    public <V> V view(Object key, Supplier<V> make) {
        return (V) Once.get(views.asMap(), key, make::get);
    }
}
