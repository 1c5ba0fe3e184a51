package leanladder.server.state;

import com.github.benmanes.caffeine.cache.AsyncCache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.Set;
import java.util.function.Supplier;
import leanladder.estate.Account;
import leanladder.estate.Policy;
import leanladder.reach.PolicyReach;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.seat.Entitlements;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/** The answers to one question for everybody, worked out as they are asked for. Safe for use by several threads at once. */
public final class InstantResolution {
    private static final int VIEWS_KEPT = 8;

    private final CompiledEstate compiledEstate;
    private final EvaluationContext evaluationContext;
    private final Set<String> touched;
    private final ColumnResolver columnResolver;
    private final AsyncCache<Object, Object> views = Caffeine.newBuilder()
            .maximumSize(VIEWS_KEPT)
            .executor(Runnable::run)
            .buildAsync();

    InstantResolution(CompiledEstate compiledEstate, EvaluationContext evaluationContext, Entitlements entitlements) {
        this(compiledEstate, evaluationContext, new ColumnResolver(compiledEstate, evaluationContext, entitlements));
    }

    private InstantResolution(
            CompiledEstate compiledEstate, EvaluationContext evaluationContext, ColumnResolver columnResolver) {
        this.compiledEstate = compiledEstate;
        this.evaluationContext = evaluationContext;
        this.columnResolver = columnResolver;
        touched = columnResolver.touchedByWorkspaces();
    }

    /** A question put to the estate after edits; what these cannot touch is kept. @see ColumnResolver#update */
    InstantResolution after(
            CompiledEstate edited,
            EvaluationContext asked,
            Entitlements seats,
            WriteSet edits,
            RoaringBitmap accounts,
            Set<String> keys) {
        return new InstantResolution(
                edited, asked, columnResolver.update(edited, asked, seats, edits.policies(), accounts, keys));
    }

    /** Takes over what another resolution of the same estate and context has computed. */
    void adopt(InstantResolution other) {
        columnResolver.adopt(other.columnResolver);
    }

    /** Who holds which seat. */
    public Entitlements entitlements() {
        return columnResolver.entitlements();
    }

    /** The outcomes of all accounts, setting by setting. */
    public ColumnResolver columnResolver() {
        return columnResolver;
    }

    /** Prepares the questions about one active account. */
    public AccountResolver climber(Account account) {
        return new AccountResolver(compiledEstate, evaluationContext, columnResolver.entitlements(), account, touched);
    }

    /** Whom a policy reaches, asked as if working in the question's workspace where one is named. */
    public PolicyReach reached(Policy policy) {
        return columnResolver.reached(policy, true);
    }

    /** Whom a policy reaches, wherever they work. */
    public PolicyReach reachedAnywhere(Policy policy) {
        return columnResolver.reached(policy, false);
    }

    /** What a view makes of the outcomes; it is kept for the next time that it is asked for by the same key. */
    @SuppressWarnings("unchecked")
    public <V> V view(Object key, Supplier<V> make) {
        return (V) SingleFlight.get(views.asMap(), key, make::get);
    }
}
