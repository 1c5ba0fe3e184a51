package leanladder.resolve;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Default;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Strictness;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Track;
import leanladder.reach.AccountReach;
import leanladder.reach.MatchPath;
import leanladder.reach.Places;
import leanladder.reach.Rung;
import leanladder.seat.Entitlements;
import org.jspecify.annotations.Nullable;

/**
 * One account, one question: the outcome of any setting, and the whole climb to it, read off the rules of resolution.md in
 * the order in which they are written. {@link ColumnResolver} answers for all accounts at once and is written apart.
 *
 * <p>Where the account stands, and which policies reach it, is found once and serves every setting. Not safe for use by
 * several threads.
 */
public final class AccountResolver {
    private final CompiledEstate compiledEstate;
    private final EvaluationContext evaluationContext;
    private final Account account;
    private final AccountReach accountReach;
    private final Places places;
    private final Gates gates;
    private final BitSet targetIndex;
    private final List<Optional<MatchPath>> matchPaths;
    private final List<Optional<MatchPath>> workspaceMatchPaths;
    /** Outcomes of the settings that others depend on. */
    private final Map<String, Outcome> prerequisites = new HashMap<>();

    private final java.util.Set<String> touched;

    /**
     * Prepares the questions about one account.
     *
     * @param entitlements of the same estate and instant
     * @throws IllegalArgumentException when the account is inactive, for then it has no outcomes
     */
    public AccountResolver(
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            Entitlements entitlements,
            Account account) {
        this(compiledEstate, evaluationContext, entitlements, account, touched(compiledEstate, evaluationContext));
    }

    /** The same with the settings that a workspace could touch already known, see {@link #touched}. */
    public AccountResolver(
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            Entitlements entitlements,
            Account account,
            java.util.Set<String> touched) {
        if (!account.active()) throw new IllegalArgumentException("An inactive account has no outcomes");
        this.compiledEstate = compiledEstate;
        this.evaluationContext = evaluationContext;
        this.account = account;
        this.accountReach = new AccountReach(compiledEstate.directory(), account);
        this.touched = touched;
        this.places = Places.of(compiledEstate.estate(), evaluationContext.workspace());
        this.targetIndex = compiledEstate.policyTargetIndex(accountReach);
        int policies = compiledEstate.estate().policies().size();
        this.matchPaths = new ArrayList<>(Collections.nCopies(policies, null));
        this.workspaceMatchPaths = new ArrayList<>(
                Collections.nCopies(evaluationContext.workspace().isPresent() ? policies : 0, null));
        this.gates = new Gates(compiledEstate, evaluationContext, entitlements, accountReach, this::valueInForce);
    }

    private AccountResolver(
            AccountResolver before, CompiledEstate compiledEstate, Entitlements entitlements, Account account) {
        this.compiledEstate = compiledEstate;
        this.evaluationContext = before.evaluationContext;
        this.account = account;
        this.accountReach = before.accountReach.as(account);
        this.touched = before.touched;
        this.places = before.places;
        this.targetIndex = before.targetIndex;
        this.matchPaths = before.matchPaths;
        this.workspaceMatchPaths = before.workspaceMatchPaths;
        this.gates = new Gates(compiledEstate, evaluationContext, entitlements, accountReach, this::valueInForce);
    }

    /**
     * The same question about the account after edits that alter no policy, and neither a group nor a unit; what the policies reach is found
     * once for both. Neither is to be used by another thread than the other.
     */
    AccountResolver after(CompiledEstate edited, Entitlements entitlements, Account account) {
        return new AccountResolver(this, edited, entitlements, account);
    }

    /** The settings whose outcomes depend on the workspace, when the question names none. */
    public static Set<String> touched(CompiledEstate compiledEstate, EvaluationContext evaluationContext) {
        return evaluationContext.workspace().isEmpty()
                ? compiledEstate.touchedByWorkspaces(evaluationContext.at())
                : Set.of();
    }

    public AccountReach accountReach() {
        return accountReach;
    }

    /** Where the account's ring stands among those of a track; -1 where it has none (resolution.md, section 7). */
    public int ring(Track track) {
        return gates.ring(track);
    }

    /** Whether the release of a setting has come to the account (resolution.md, section 7). */
    boolean hasArrived(String setting) {
        return gates.arrival(setting).hasArrived();
    }

    /** The outcome of a setting of the catalogue. Linear in the statements on it and on what it depends on. */
    public Outcome outcome(Setting setting) {
        if (!compiledEstate.estate().catalogue().hasDependents(setting.key()))
            return weigh(setting).outcome();
        Outcome known = prerequisites.get(setting.key());
        if (known == null) {
            known = weigh(setting).outcome();
            prerequisites.put(setting.key(), known);
        }
        return known;
    }

    /** The climb to the outcome of a setting of the catalogue. */
    public Climb climb(Setting setting) {
        CandidateList candidateList = weigh(setting);
        List<Climb.Entry> weighed = new ArrayList<>(candidateList.inPlay());
        for (RankedStatement rankedStatement : compiledEstate.statementsOn(setting.key()))
            if (matchPath(rankedStatement.rank(), workspaceFor(setting)).isEmpty())
                findMismatch(rankedStatement, setting).ifPresent(weighed::add);
        weighed.sort(Comparator.<Climb.Entry, Rung>comparing(w -> w.matchPath().rung())
                .thenComparingInt(w -> w.rankedStatement().rank())
                .thenComparing(w -> w.rankedStatement().statement() instanceof Statement.Cap));
        return new Climb(
                account,
                setting,
                evaluationContext,
                candidateList.outcome(),
                weighed,
                candidateList.follows(),
                candidateList.gates);
    }

    /** A statement that reaches the account. */
    private record Candidate(StatementColumns on, int index, MatchPath matchPath) {
        Rung rung() {
            return matchPath.rung();
        }

        Value value() {
            return on.value(index);
        }

        boolean locked() {
            return on.isLock(index);
        }

        int rank() {
            return on.rank(index);
        }

        RankedStatement rankedStatement() {
            return on.at(index);
        }

        String policy() {
            return rankedStatement().policy().id();
        }
    }

    private final class CandidateList {
        final Setting setting;
        final List<Candidate> sets = new ArrayList<>();
        final List<Candidate> caps = new ArrayList<>();
        List<Candidate> left = List.of();
        Optional<Candidate> winner = Optional.empty();
        Optional<Candidate> bindingCap = Optional.empty();
        List<Climb.Gate> gates = List.of();

        @Nullable
        Outcome outcome;

        CandidateList(Setting setting) {
            this.setting = setting;
        }

        Outcome outcome() {
            return Objects.requireNonNull(outcome, "Asked before it was judged");
        }

        /** The setting followed, where the built-in default counted and follows one. */
        Optional<String> follows() {
            boolean counted = winner.isEmpty() || setting.merge() == Merge.GATHER;
            return counted && setting.builtIn() instanceof Default.Follow follow
                    ? Optional.of(follow.key())
                    : Optional.empty();
        }

        List<Climb.Entry> inPlay() {
            List<Climb.Entry> weighed = new ArrayList<>();
            for (Candidate c : sets) weighed.add(judged(c, verdict(c)));
            for (Candidate c : caps)
                weighed.add(judged(c, bindingCap.filter(b -> b == c).isPresent() ? Verdict.BINDS : Verdict.SLACK));
            return weighed;
        }

        private Climb.Entry judged(Candidate c, Verdict verdict) {
            return new Climb.Entry(c.rankedStatement(), c.matchPath, verdict, Optional.empty(), Optional.empty());
        }

        private Verdict verdict(Candidate c) {
            if (winner.get() == c) return Verdict.DECIDES;
            if (!left.contains(c)) return Verdict.CUT;
            if (setting.merge() == Merge.GATHER) return Verdict.ADDS;
            return c.rung().compareTo(winner.get().rung()) < 0 ? Verdict.LOWER : Verdict.TIE;
        }
    }

    private static final Comparator<Candidate> RANKING = Comparator.comparingInt(Candidate::rank);

    private CandidateList weigh(Setting setting) {
        CandidateList w = new CandidateList(setting);
        Places workspace = workspaceFor(setting);
        StatementColumns on = compiledEstate.statementColumns(setting.key());
        for (int i = 0; i < on.size(); i++) {
            Optional<MatchPath> way = matchPath(on.rank(i), workspace);
            if (way.isPresent()) (on.isCap(i) ? w.caps : w.sets).add(new Candidate(on, i, way.get()));
        }
        w.left = w.sets.size() < 2 ? w.sets : afterLocks(w.sets);
        w.winner = winner(setting, w.left);
        Value decided = setting.merge() == Merge.GATHER
                ? gathered(setting, w.left)
                : w.winner.map(Candidate::value).orElseGet(() -> builtIn(setting));
        if (!w.caps.isEmpty() && setting.strictness().isPresent()) {
            Strictness strictness = setting.strictness().get();
            Value before = decided;
            w.bindingCap = w.caps.stream()
                    .min(Comparator.comparing(Candidate::value, strictness.order())
                            .thenComparingInt(Candidate::rank))
                    .filter(c -> strictness.isLooser(before, c.value()));
            if (w.bindingCap.isPresent()) decided = w.bindingCap.get().value();
        }
        List<Need> unmet = new ArrayList<>(0);
        Value inForce = decided;
        if (!setting.needs().isEmpty())
            w.gates = new ArrayList<>(setting.needs().size());
        for (int i = 0; i < setting.needs().size(); i++) {
            if (!setting.asks(i, decided)) continue;
            Climb.Gate gate = gates.gate(setting.needs().get(i), setting);
            w.gates.add(gate);
            if (gate.met()) continue;
            unmet.add(gate.need());
            Value consequence = setting.consequences().get(i);
            boolean isFirst = unmet.size() == 1;
            inForce = isFirst || setting.strictness().isEmpty()
                    ? consequence
                    : setting.strictness().get().strictest(inForce, consequence);
        }
        w.outcome = new Outcome(
                inForce,
                decided,
                Standing.of(
                        !unmet.isEmpty(),
                        w.bindingCap.isPresent(),
                        w.winner.filter(Candidate::locked).isPresent(),
                        w.winner.isPresent()),
                w.winner.map(Candidate::rung).orElse(Rung.BUILTIN),
                w.winner.map(Candidate::policy),
                w.bindingCap.map(Candidate::policy),
                List.copyOf(unmet),
                touched.contains(setting.key()));
        return w;
    }

    private static List<Candidate> afterLocks(List<Candidate> all) {
        Rung lowest = null;
        for (Candidate c : all) if (c.locked() && (lowest == null || c.rung().compareTo(lowest) < 0)) lowest = c.rung();
        if (lowest == null) return all;
        List<Candidate> left = new ArrayList<>();
        for (Candidate c : all) {
            int against = c.rung().compareTo(lowest);
            if (against < 0 || against == 0 && c.locked()) left.add(c);
        }
        return left;
    }

    private Optional<Candidate> winner(Setting setting, List<Candidate> left) {
        if (left.size() < 2) return left.isEmpty() ? Optional.empty() : Optional.of(left.get(0));
        Comparator<Candidate> ranking = RANKING;
        Comparator<Candidate> best = ranking;
        if (setting.merge() == Merge.STRICTEST || setting.merge() == Merge.LOOSEST) {
            Comparator<Candidate> stricterFirst = Comparator.comparing(
                    Candidate::value, setting.strictness().orElseThrow().order());
            best = (setting.merge() == Merge.STRICTEST ? stricterFirst : stricterFirst.reversed())
                    .thenComparing(ranking);
        }
        Candidate winner = left.get(0);
        for (Candidate c : left) {
            int higher = c.rung().compareTo(winner.rung());
            if (higher > 0 || higher == 0 && best.compare(c, winner) < 0) winner = c;
        }
        return Optional.of(winner);
    }

    private Value gathered(Setting setting, List<Candidate> left) {
        List<String> items = new ArrayList<>(((Value.ListValue) builtIn(setting)).items());
        for (Candidate c : left) items.addAll(((Value.ListValue) c.value()).items());
        return Value.ListValue.of(items);
    }

    private Value builtIn(Setting setting) {
        if (setting.builtIn() instanceof Default.Follow follow) return valueInForce(follow.key());
        return ((Default.Fixed) setting.builtIn()).value();
    }

    /** What is in force for another setting; those it depends on are answered first, so that long chains do not nest. */
    private Value valueInForce(String key) {
        Outcome known = prerequisites.get(key);
        if (known != null) return known.value();
        Outcome last = null;
        for (Setting setting : compiledEstate.estate().catalogue().chain(key)) last = outcome(setting);
        return Objects.requireNonNull(last, "A setting is among those it depends on")
                .value();
    }

    private Places workspaceFor(Setting setting) {
        return setting.openToWorkspaces() ? places : Places.NONE;
    }

    private Optional<MatchPath> matchPath(int rank, Places workspace) {
        if (!targetIndex.get(rank)) return Optional.empty();
        List<Optional<MatchPath>> known = workspace.isNone() ? matchPaths : workspaceMatchPaths;
        Optional<MatchPath> way = known.get(rank);
        if (way == null) {
            Policy policy = compiledEstate.estate().policies().get(rank);
            way = policy.live() ? accountReach.reach(policy.assignments(), workspace, this::holds) : Optional.empty();
            known.set(rank, way);
        }
        return way;
    }

    private boolean holds(Assignment a) {
        return a.window().holds(evaluationContext.at());
    }

    private Optional<Climb.Entry> findMismatch(RankedStatement rankedStatement, Setting setting) {
        return NonMatchReason.find(
                        rankedStatement.policy(), accountReach, workspaceFor(setting), evaluationContext.at())
                .map(m -> new Climb.Entry(rankedStatement, m.matchPath(), m.verdict(), m.by(), m.window()));
    }
}
