package leanladder.resolve;

import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.catalogue.Default;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Strictness;
import leanladder.catalogue.Value;
import leanladder.estate.Assignment;
import leanladder.estate.Members;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.estate.Statement;
import leanladder.estate.Track;
import leanladder.estate.Workspace;
import leanladder.preview.ConsentIndex;
import leanladder.preview.ReleaseAudience;
import leanladder.reach.Places;
import leanladder.reach.PolicyReach;
import leanladder.reach.Rung;
import leanladder.seat.Entitlements;
import org.roaringbitmap.RoaringBitmap;

/**
 * All accounts at once: for each setting a {@link Column}, worked out on sets instead of people.
 *
 * <p>What a policy reaches is one set for each rung. For a setting, every (statement, rung) is a step that holds the accounts
 * on which that statement stands there. Walking the steps in the order of precedence and taking from those still undecided
 * decides everybody: first the locked steps from the lowest rung up, then the unlocked ones from the highest rung down
 * (resolution.md, section 4, steps 1 to 3). Caps bend, and gates block, what results; the outcome is a few shares, whatever the
 * number of accounts. The climb ({@link AccountResolver}) answers the same for one account and is written apart; tests hold the two
 * together cell for cell.
 *
 * <p>Columns are worked out when asked for, after those that they depend on, and kept; who asks for one that is being worked out
 * waits for it. Safe for use by several threads. After edits, {@link #update} keeps what they cannot touch and solves again, for
 * those accounts alone, what they can.
 */
public final class ColumnResolver {
    /** Below this part of all accounts, what is worked out for them alone is worked out sooner. */
    private static final int FEW = 16;

    private static final int PATCHES = 4;

    private final CompiledEstate compiledEstate;
    private final EvaluationContext evaluationContext;
    private final Entitlements entitlements;
    private final RoaringBitmap among;
    private final Places places;
    private final Set<String> touched;
    private final ConcurrentHashMap<String, Column> columns;
    private final ConcurrentHashMap<String, PolicyReach> reached = new ConcurrentHashMap<>();
    private final ConcurrentHashMap<String, PolicyReach> reachedInWorkspace = new ConcurrentHashMap<>();
    private final ConcurrentHashMap<Object, RoaringBitmap> unmet = new ConcurrentHashMap<>();
    private final Memo<String, Column> columnMemo;
    private final Memo<String, PolicyReach> reachMemo = new Memo<>(reached);
    private final Memo<String, PolicyReach> reachInWorkspaceMemo = new Memo<>(reachedInWorkspace);
    private final Memo<Object, RoaringBitmap> unmetMemo = new Memo<>(unmet);
    private final Map<String, StaleColumn> patches;
    private final Map<String, StaleReach> staleReach = new ConcurrentHashMap<>();
    /** By the id of the track. */
    private final Map<String, ReleaseAudience> releases = new ConcurrentHashMap<>();

    private final List<ColumnResolver> patching = new CopyOnWriteArrayList<>();

    /** A column of the estate before edits, and the accounts for which it has to be solved again. */
    private record StaleColumn(Column before, RoaringBitmap accounts) {}

    /** Whom a policy reached before edits, wherever they work, and the accounts for which it has to be worked out again. */
    private record StaleReach(PolicyReach before, RoaringBitmap accounts) {}

    /** Prepares the answers to one question for everybody. */
    public ColumnResolver(CompiledEstate compiledEstate, EvaluationContext evaluationContext) {
        this(compiledEstate, evaluationContext, compiledEstate.seats(evaluationContext.at()));
    }

    /** The same with seats that were allocated before, for the same estate and instant. */
    public ColumnResolver(
            CompiledEstate compiledEstate, EvaluationContext evaluationContext, Entitlements entitlements) {
        this(
                compiledEstate,
                evaluationContext,
                entitlements,
                compiledEstate.directory().active(),
                AccountResolver.touched(compiledEstate, evaluationContext),
                Map.of(),
                new ConcurrentHashMap<>());
    }

    private ColumnResolver(
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            Entitlements entitlements,
            RoaringBitmap among,
            Set<String> touched,
            Map<String, StaleColumn> patches,
            ConcurrentHashMap<String, Column> columns) {
        this.compiledEstate = compiledEstate;
        this.evaluationContext = evaluationContext;
        this.entitlements = entitlements;
        this.among = among;
        this.places = Places.of(compiledEstate.estate(), evaluationContext.workspace());
        this.touched = touched;
        this.patches = patches;
        this.columns = columns;
        this.columnMemo = new Memo<>(columns);
    }

    /**
     * The answers for the estate after edits. What the edits cannot touch is kept; for the accounts and settings that they can, it is
     * worked out when asked for.
     *
     * @param edited numbers accounts as this one's does
     * @param asked the same question, or that of a later instant where time alters nothing in between but what the edits can touch
     * @param seats of the edited estate at the question's instant
     * @param policies that are new, gone or not the same
     * @param accounts everyone whom the edits can touch, those who join and leave among them
     * @param keys the settings that they can touch, with all that depend on these
     */
    public ColumnResolver update(
            CompiledEstate edited,
            EvaluationContext asked,
            Entitlements seats,
            Set<String> policies,
            RoaringBitmap accounts,
            Set<String> keys) {
        RoaringBitmap active = edited.directory().active();
        boolean sameRules = policies.isEmpty()
                && edited.estate().catalogue() == compiledEstate.estate().catalogue();
        Set<String> nowTouched = sameRules ? touched : AccountResolver.touched(edited, asked);
        // Of few accounts; and a setting on which a workspace matters now, or no longer, comes out otherwise for
        // everybody.
        boolean few = 2L * accounts.getCardinality() <= active.getCardinality();
        Predicate<String> patchable = key -> few && touched.contains(key) == nowTouched.contains(key);
        Map<String, StaleColumn> stale = new HashMap<>();
        Function<RoaringBitmap, RoaringBitmap> more = memoisedUnion(accounts);
        patches.forEach((key, staleColumn) -> {
            if (columns.containsKey(key)) return;
            if (!keys.contains(key)) stale.put(key, staleColumn);
            else if (patchable.test(key))
                stale.put(key, new StaleColumn(staleColumn.before, more.apply(staleColumn.accounts)));
        });
        ConcurrentHashMap<String, Column> kept = new ConcurrentHashMap<>(columns.size() * 2);
        columns.forEach((key, column) -> {
            if (!keys.contains(key)) kept.put(key, column);
            else if (patchable.test(key)) stale.put(key, new StaleColumn(column, accounts));
        });
        ColumnResolver after =
                new ColumnResolver(edited, asked, seats, active, nowTouched, Collections.unmodifiableMap(stale), kept);
        boolean sameDirectory = edited.directory() == compiledEstate.directory();
        carryReached(policies, accounts, sameDirectory, few, after);
        if (sameDirectory) {
            if (seats == entitlements) after.unmet.putAll(unmet);
            if (edited.estate().hasReleasesOf(compiledEstate.estate()))
                for (Track track : edited.estate().allTracks())
                    if (!keys.contains(track.setting()) && releases.containsKey(track.id()))
                        after.releases.put(track.id(), Objects.requireNonNull(releases.get(track.id())));
        } else edited.patchConsents(compiledEstate, asked.at(), accounts);
        return after;
    }

    /** Adds accounts to sets, of which many are the same object, once for each. */
    private static Function<RoaringBitmap, RoaringBitmap> memoisedUnion(RoaringBitmap accounts) {
        Map<RoaringBitmap, RoaringBitmap> known = new IdentityHashMap<>();
        return set -> known.computeIfAbsent(set, s -> RoaringBitmap.or(s, accounts));
    }

    /** Takes over whom policies reach: that is another only among those whom the edits can touch, and patched where they are few. */
    private void carryReached(
            Set<String> policies, RoaringBitmap accounts, boolean sameDirectory, boolean few, ColumnResolver after) {
        if (sameDirectory) {
            reached.forEach((id, sets) -> {
                if (!policies.contains(id)) after.reached.put(id, sets);
            });
            if (after.places.equals(places))
                reachedInWorkspace.forEach((id, sets) -> {
                    if (!policies.contains(id)) after.reachedInWorkspace.put(id, sets);
                });
        }
        if (!few) return;
        Function<RoaringBitmap, RoaringBitmap> more = memoisedUnion(accounts);
        staleReach.forEach((id, stale) -> {
            if (policies.contains(id) || reached.containsKey(id)) return;
            after.staleReach.put(id, sameDirectory ? stale : new StaleReach(stale.before, more.apply(stale.accounts)));
        });
        if (!sameDirectory)
            reached.forEach((id, sets) -> {
                if (!policies.contains(id)) after.staleReach.put(id, new StaleReach(sets, accounts));
            });
    }

    /** Takes over the columns that another resolver of the same estate and context has worked out. */
    public void adopt(ColumnResolver other) {
        other.columns.forEach(columns::putIfAbsent);
    }

    /**
     * The column before the edits with those whom they can touch solved again. Shares that stay as they are stay the same sets; where
     * all do, so does the column.
     */
    private Column patched(Setting setting, StaleColumn staleColumn) {
        Map<Outcome, RoaringBitmap> fresh = new LinkedHashMap<>();
        for (Segment<Outcome> segment :
                patching(staleColumn.accounts).column(setting.key()).shares())
            fresh.put(segment.what(), segment.accounts());
        List<Segment<Outcome>> all = new ArrayList<>();
        boolean same = true;
        for (Segment<Outcome> segment : staleColumn.before.shares()) {
            RoaringBitmap was = RoaringBitmap.and(segment.accounts(), staleColumn.accounts);
            RoaringBitmap is = fresh.remove(segment.what());
            if (is == null ? was.isEmpty() : was.equals(is)) {
                all.add(segment);
                continue;
            }
            same = false;
            RoaringBitmap now = RoaringBitmap.andNot(segment.accounts(), was);
            if (is != null) now.or(is);
            if (!now.isEmpty()) all.add(new Segment<>(segment.what(), now));
        }
        fresh.forEach((outcome, accounts) -> all.add(new Segment<>(outcome, accounts)));
        return same && fresh.isEmpty() ? staleColumn.before : new Column(all);
    }

    /** The answers for some accounts; settings that are patched for the same ones share what they reach. */
    private ColumnResolver patching(RoaringBitmap accounts) {
        RoaringBitmap wanted = RoaringBitmap.and(among, accounts);
        for (ColumnResolver known : patching) if (known.among.equals(wanted)) return known;
        ColumnResolver fresh = new ColumnResolver(
                compiledEstate, evaluationContext, entitlements, wanted, touched, Map.of(), new ConcurrentHashMap<>());
        if (patching.size() >= PATCHES) patching.clear();
        patching.add(fresh);
        return fresh;
    }

    /** Whom a policy reaches at the question's instant, and in its workspace where that is asked for; worked out once. */
    public PolicyReach reached(Policy policy, boolean inWorkspace) {
        return policy.live()
                ? reach(policy, inWorkspace && evaluationContext.workspace().isPresent())
                : PolicyReach.NOBODY;
    }

    /**
     * The answers for some accounts only, which costs accordingly less; whether they depend on the workspace is not told.
     *
     * @param among active accounts
     */
    public static ColumnResolver among(
            RoaringBitmap among,
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            Entitlements entitlements) {
        return new ColumnResolver(
                compiledEstate, evaluationContext, entitlements, among, Set.of(), Map.of(), new ConcurrentHashMap<>());
    }

    public CompiledEstate compiledEstate() {
        return compiledEstate;
    }

    /** The settings whose outcomes depend on the workspace, when the question names none. */
    public Set<String> touchedByWorkspaces() {
        return touched;
    }

    public Entitlements entitlements() {
        return entitlements;
    }

    /** The column of a setting that exists. A few set operations for each statement on it and on what it depends on. */
    public Column column(String key) {
        Column known = columns.get(key);
        if (known != null) return known;
        for (Setting setting : compiledEstate.estate().catalogue().withDependencies(List.of(key)))
            known = solved(setting);
        return Objects.requireNonNull(known, "A setting is among those it depends on");
    }

    /** Whether the columns of all settings are worked out. */
    public boolean isReady() {
        return columns.size() == compiledEstate.estate().catalogue().settings().size();
    }

    /** The column of a setting whose dependencies are solved. */
    private Column solved(Setting setting) {
        return columnMemo.get(setting.key(), () -> {
            StaleColumn staleColumn = patches.get(setting.key());
            return staleColumn == null ? solve(setting) : patched(setting, staleColumn);
        });
    }

    /**
     * Everyone whose value in force of some setting differs from that in another resolver of the same estate. A fresh set. Resolves
     * both whole; columns that are the same object cost nothing.
     */
    public RoaringBitmap differing(ColumnResolver other) {
        RoaringBitmap differing = new RoaringBitmap();
        for (String key : compiledEstate.estate().catalogue().settings().keySet()) {
            Column here = column(key);
            Column there = other.column(key);
            if (here == there) continue;
            here.inForce()
                    .forEach((value, accounts) -> differing.or(
                            RoaringBitmap.andNot(accounts, there.inForce().getOrDefault(value, new RoaringBitmap()))));
        }
        return differing;
    }

    /**
     * Works out the columns of all settings, on all cores: first what each policy reaches, then the settings in waves, each after
     * those that it depends on.
     */
    public void all() {
        List<Setting> inOrder = compiledEstate
                .estate()
                .catalogue()
                .withDependencies(compiledEstate.estate().catalogue().settings().keySet());
        compiledEstate.estate().policies().parallelStream().filter(Policy::live).forEach(policy -> {
            reach(policy, false);
            if (!places.isNone()) reach(policy, true);
        });
        Map<String, Integer> waves = new HashMap<>();
        List<List<Setting>> byWave = new ArrayList<>();
        for (Setting setting : inOrder) {
            int wave = compiledEstate.estate().catalogue().dependencies(setting.key()).stream()
                    .filter(waves::containsKey)
                    .mapToInt(key -> Objects.requireNonNull(waves.get(key)) + 1)
                    .max()
                    .orElse(0);
            waves.put(setting.key(), wave);
            while (byWave.size() <= wave) byWave.add(new ArrayList<>());
            byWave.get(wave).add(setting);
        }
        for (List<Setting> wave : byWave) {
            if (wave.stream().anyMatch(s -> s.allNeeds().anyMatch(n -> n instanceof Need.ReleaseNeed)))
                compiledEstate.estate().allTracks().forEach(this::releases);
            wave.parallelStream().forEach(this::solved);
        }
    }

    /** A statement on one rung, with the accounts for which it stands there. */
    private record Step(int ranking, Rung rung, String policy, Value value, boolean locked, RoaringBitmap accounts) {
        private Decision decision() {
            return new Decision(value, rung, Optional.of(policy), locked, Optional.empty());
        }
    }

    private Column solve(Setting setting) {
        List<Step> sets = new ArrayList<>();
        List<Step> caps = new ArrayList<>();
        for (RankedStatement rankedStatement : compiledEstate.statementsOn(setting.key())) {
            boolean isSet = rankedStatement.statement() instanceof Statement.Set;
            boolean locked = rankedStatement.statement() instanceof Statement.Set set && set.lock();
            Policy policy = rankedStatement.policy();
            reach(policy, setting)
                    .byRung()
                    .forEach((rung, accounts) -> (isSet ? sets : caps)
                            .add(new Step(
                                    rankedStatement.rank(),
                                    rung,
                                    policy.id(),
                                    rankedStatement.statement().value(),
                                    locked,
                                    accounts)));
        }
        Partition<Decision> decided = decide(setting, sets);
        if (setting.strictness().isPresent())
            applyCaps(decided, caps, setting.strictness().get());
        return applyGates(setting, decided);
    }

    private PolicyReach reach(Policy policy, Setting setting) {
        if (!policy.live()) return PolicyReach.NOBODY;
        return reach(policy, setting.openToWorkspaces() && !places.isNone());
    }

    private PolicyReach reach(Policy policy, boolean inWorkspace) {
        return (inWorkspace ? reachInWorkspaceMemo : reachMemo).get(policy.id(), () -> {
            StaleReach stale = inWorkspace ? null : staleReach.get(policy.id());
            if (stale != null)
                return stale.before.with(
                        stale.accounts, patching(stale.accounts).reach(policy, false));
            List<Assignment> holding = policy.assignments().stream()
                    .filter(a -> a.window().holds(evaluationContext.at()))
                    .toList();
            return PolicyReach.compute(holding, compiledEstate.directory(), among, inWorkspace ? places : Places.NONE);
        });
    }

    private Partition<Decision> decide(Setting setting, List<Step> sets) {
        Comparator<Step> onOneRung = onOneRung(setting);
        List<Step> order = new ArrayList<>();
        sets.stream()
                .filter(Step::locked)
                .sorted(Comparator.comparing(Step::rung).thenComparing(onOneRung))
                .forEach(order::add);
        sets.stream()
                .filter(s -> !s.locked)
                .sorted(Comparator.comparing(Step::rung).reversed().thenComparing(onOneRung))
                .forEach(order::add);
        RoaringBitmap undecided = among.clone();
        List<Segment<Step>> taken = new ArrayList<>();
        for (Step step : order) {
            if (undecided.isEmpty()) break;
            RoaringBitmap here = RoaringBitmap.and(undecided, step.accounts);
            if (here.isEmpty()) continue;
            undecided.andNot(here);
            taken.add(new Segment<>(step, here));
        }
        List<Segment<Value>> builtIn = builtIn(setting);
        List<Segment<Decision>> shares = new ArrayList<>();
        for (Segment<Value> segment : builtIn) {
            RoaringBitmap here = RoaringBitmap.and(segment.accounts(), undecided);
            var decision = new Decision(segment.what(), Rung.BUILTIN, Optional.empty(), false, Optional.empty());
            if (!here.isEmpty()) shares.add(new Segment<>(decision, here));
        }
        for (Segment<Step> segment : taken) {
            if (setting.merge() == Merge.GATHER) shares.addAll(gather(segment, sets, builtIn));
            else shares.add(new Segment<>(segment.what().decision(), segment.accounts()));
        }
        return new Partition<>(shares);
    }

    private static Comparator<Step> onOneRung(Setting setting) {
        Comparator<Step> byRanking = Comparator.comparingInt(Step::ranking);
        if (setting.merge() == Merge.STRICTEST || setting.merge() == Merge.LOOSEST) {
            Comparator<Value> stricterFirst = setting.strictness().orElseThrow().order();
            Comparator<Value> order = setting.merge() == Merge.STRICTEST ? stricterFirst : stricterFirst.reversed();
            return Comparator.comparing(Step::value, order).thenComparing(byRanking);
        }
        return byRanking;
    }

    /** The value of the built-in default for everyone: one share, or those of the setting followed. */
    private List<Segment<Value>> builtIn(Setting setting) {
        if (setting.builtIn() instanceof Default.Follow follow) {
            List<Segment<Value>> shares = new ArrayList<>();
            column(follow.key()).inForce().forEach((value, accounts) -> shares.add(new Segment<>(value, accounts)));
            return shares;
        }
        Value value = ((Default.Fixed) setting.builtIn()).value();
        return List.of(new Segment<>(value, among));
    }

    /**
     * Splits the accounts that one step decides by the whole list that they get (section 4, step 4). Lists are collected as
     * sets of texts, so that shares which come to the same list by different ways are joined again.
     */
    private static List<Segment<Decision>> gather(
            Segment<Step> decider, List<Step> sets, List<Segment<Value>> builtIn) {
        Step winner = decider.what();
        Value.ListValue own = (Value.ListValue) winner.value;
        Partition<Value> lists =
                Partition.whole((Value) own, decider.accounts()).cross(builtIn, (mine, from) -> join(mine, from));
        for (Step step : sets) {
            boolean left = !winner.locked
                    || step.rung.compareTo(winner.rung) < 0
                    || step.rung.equals(winner.rung) && step.locked;
            if (left && step != winner) lists.split(step.accounts, list -> join(list, step.value));
        }
        return lists.map(list -> winner.decision().withValue(list)).shares();
    }

    private static Value join(Value a, Value b) {
        List<String> mine = ((Value.ListValue) a).items();
        List<String> other = ((Value.ListValue) b).items();
        if (mine.containsAll(other)) return a;
        var all = new ArrayList<>(mine);
        all.addAll(other);
        return Value.ListValue.of(all);
    }

    /** The strictest cap of each account, and what is looser bent down to it (section 4, "Caps"). */
    private static void applyCaps(Partition<Decision> decided, List<Step> caps, Strictness strictness) {
        caps.sort(Comparator.comparing(Step::value, strictness.order()).thenComparingInt(Step::ranking));
        RoaringBitmap capped = new RoaringBitmap();
        for (Step cap : caps) {
            RoaringBitmap here = RoaringBitmap.andNot(cap.accounts, capped);
            if (here.isEmpty()) continue;
            decided.split(here, d -> strictness.isLooser(d.value(), cap.value) ? d.cappedBy(cap.policy, cap.value) : d);
            capped.or(here);
        }
    }

    /** The needs that are asked of what is decided, and the strictest consequence of those that are not met (section 5). */
    private Column applyGates(Setting setting, Partition<Decision> decided) {
        record Gated(Decision decided, List<Integer> unmet) {}
        Partition<Gated> gated = decided.map(d -> new Gated(d, List.of()));
        for (int i = 0; i < setting.needs().size(); i++) {
            int need = i;
            RoaringBitmap unmet = unmet(setting.needs().get(need), setting);
            if (unmet.isEmpty()) continue;
            gated.split(unmet, g -> {
                if (!setting.asks(need, g.decided.value())) return g;
                var more = new ArrayList<>(g.unmet);
                more.add(need);
                return new Gated(g.decided, more);
            });
        }
        boolean depends = touched.contains(setting.key());
        return new Column(gated.map(g -> {
                    Decision d = g.decided;
                    boolean blocked = !g.unmet.isEmpty();
                    return new Outcome(
                            blocked ? setting.consequence(g.unmet) : d.value(),
                            d.value(),
                            Standing.of(
                                    blocked,
                                    d.cappedBy().isPresent(),
                                    d.locked(),
                                    d.policy().isPresent()),
                            d.rung(),
                            d.policy(),
                            d.cappedBy(),
                            g.unmet.stream().map(setting.needs()::get).toList(),
                            depends);
                })
                .shares());
    }

    /** Everyone for whom a need of a setting is not met, whatever is decided for them. Not to be changed. */
    public RoaringBitmap failing(Setting setting, Need need) {
        return unmet(need, setting);
    }

    /** Everyone for whom the need is not met; what many settings ask for is worked out once. */
    private RoaringBitmap unmet(Need need, Setting setting) {
        Object shared = need instanceof Need.Entitlement entitlement
                ? entitlement.anyOf()
                : need instanceof Need.AccountKinds accountKinds
                        ? accountKinds.kinds()
                        : need instanceof Need.Device device
                                ? List.of(device.kinds(), device.app(), device.atLeast())
                                : need instanceof Need.WorkspaceRole role ? List.of(role.roles()) : null;
        if (shared == null) return RoaringBitmap.andNot(among, meeting(need, setting));
        return unmetMemo.get(shared, () -> RoaringBitmap.andNot(among, meeting(need, setting)));
    }

    /** Everyone for whom the need is met. */
    private RoaringBitmap meeting(Need need, Setting setting) {
        Optional<Boolean> forAll = compiledEstate.isMetForAll(need, evaluationContext);
        if (forAll.isPresent()) return forAll.get() ? among : new RoaringBitmap();
        RoaringBitmap met = new RoaringBitmap();
        if (need instanceof Need.Entitlement entitlement) {
            entitlement.anyOf().forEach(e -> met.or(entitlements.holding(e)));
        } else if (need instanceof Need.AccountKinds accountKinds) {
            accountKinds.kinds().forEach(k -> met.or(compiledEstate.directory().ofKind(k)));
        } else if (need instanceof Need.ExactSetting exactSetting) {
            met.or(column(exactSetting.setting()).inForce().getOrDefault(exactSetting.value(), new RoaringBitmap()));
        } else if (need instanceof Need.MinimumSetting other) {
            Strictness strictness = compiledEstate
                    .estate()
                    .catalogue()
                    .setting(other.setting())
                    .flatMap(Setting::strictness)
                    .orElseThrow();
            column(other.setting()).inForce().forEach((value, accounts) -> {
                if (!strictness.isLooser(other.value(), value)) met.or(accounts);
            });
        } else if (need instanceof Need.ReleaseNeed) {
            Optional<Release> release = compiledEstate.estate().release(setting.key());
            release.map(compiledEstate.estate()::trackOf)
                    .ifPresent(track -> met.or(releases(track).reachedBy(setting.key())));
        } else if (need instanceof Need.WorkspaceRole role) {
            return inRole(role);
        } else if (need instanceof Need.Device device) {
            met.or(compiledEstate.directory().deviceIndex().having(device));
        } else if (need instanceof Need.AnyOf anyOf) {
            anyOf.needs().forEach(inner -> met.or(meeting(inner, setting)));
        }
        return met;
    }

    /** Everyone who has a role in the question's workspace; everyone where there is none. */
    private RoaringBitmap inRole(Need.WorkspaceRole need) {
        Optional<Workspace> workspace = evaluationContext.workspace().flatMap(compiledEstate.estate()::workspace);
        if (workspace.isEmpty()) return among;
        RoaringBitmap in = new RoaringBitmap();
        if (need.roles().contains(Need.Role.STEWARD))
            in.or(compiledEstate.directory().holding(new Members(workspace.get().stewards(), List.of())));
        if (need.roles().contains(Need.Role.MEMBER))
            in.or(compiledEstate.directory().holding(workspace.get().members()));
        return in;
    }

    /** To whom releases of the main track have come. */
    public ReleaseAudience releases() {
        return releases(compiledEstate.estate().allTracks().get(0));
    }

    /** To whom the releases of the track have come to which that of a setting belongs; of the main track where it has none. */
    public ReleaseAudience releasesWith(String setting) {
        return releases(compiledEstate.estate().trackWith(setting));
    }

    /** To whom the releases of a track have come. */
    public ReleaseAudience releases(Track track) {
        ReleaseAudience known = releases.get(track.id());
        if (known == null) {
            Optional<Column> rings =
                    compiledEstate.estate().catalogue().setting(track.setting()).map(s -> column(s.key()));
            known = new ReleaseAudience(
                    compiledEstate.estate(),
                    track,
                    compiledEstate.directory(),
                    evaluationContext.at(),
                    consentIndex(),
                    rings.map(
                            column -> id -> Optional.ofNullable(column.inForce().get(new Value.Choice(id)))));
            releases.put(track.id(), known);
        }
        return known;
    }

    /** The consents that count; of few accounts only theirs are read. */
    private ConsentIndex consentIndex() {
        RoaringBitmap active = compiledEstate.directory().active();
        return FEW * (long) among.getCardinality() < active.getCardinality()
                ? ConsentIndex.compute(compiledEstate.directory(), among, evaluationContext.at())
                : compiledEstate.consents(evaluationContext.at());
    }
}
