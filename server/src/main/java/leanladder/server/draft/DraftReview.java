package leanladder.server.draft;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.advise.CostChange;
import leanladder.advise.SeatFinding;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.HiddenCharacters;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.reach.Directory;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.seat.SeatLedger;
import leanladder.server.draft.RippleFormatter.MoveCount;
import leanladder.server.draft.RippleFormatter.RippleCounts;
import leanladder.server.state.RebasedDraft;
import leanladder.server.usage.UsageReader;
import leanladder.settle.SettleTime;
import leanladder.text.EstateFormatter;
import leanladder.text.SeatChangeReason;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/**
 * The review of a draft before publishing: what changes, for whom, when, and what deserves attention.
 *
 * @param actor who would publish it
 * @param usage who used what lately
 */
public record DraftReview(RebasedDraft rebasedDraft, String actor, UsageReader usage) {
    /** How many of each plan are named whose seats pass on, given and returned apart. */
    private static final int SEATS_NAMED = 20;

    private static final int MOST_NAMES = 10;
    private static final int A_FIFTH = 5;
    private static final int DEEPEST = 4;
    private static final int MOST_UNITS = 120;

    /**
     * A unit in which values change.
     *
     * @param depth how far it stands below the first unit of the list
     * @param accounts whose values change, in it and below it; gain, lose, both and other add up to it
     * @param everyone how many there are
     */
    public record UnitPart(
            String id, String name, int depth, int accounts, int gain, int lose, int both, int other, int everyone) {}

    /** Accounts for whom a setting is decided and then blocked by the same needs. */
    public record BlockedSetting(
            String setting, String title, String decided, String needs, boolean licence, int accounts) {}

    /** Somebody whose seat passes on. @param because why */
    public record SeatMove(String account, String displayName, boolean given, String because) {}

    /**
     * How the seats of a plan pass on.
     *
     * @param carries what a seat of it carries now, in words; empty where it carries nothing
     * @param who some of those whose seats pass on, by name, returned ones first
     */
    public record SeatMoves(
            String planId,
            String plan,
            int seats,
            int given,
            int returned,
            int waitingBefore,
            int waitingAfter,
            List<String> carries,
            List<SeatMove> who) {}

    /**
     * How what the seats of a plan cost alters.
     *
     * @param when from when on, in words; empty where it does at once
     * @param seats how many seats more are paid for; negative for fewer
     * @param more how much more in each period, a decimal number; negative for less
     */
    public record PlanCost(
            String planId, String plan, String when, int seats, String more, String currency, String per) {}

    /** What comes later by itself. @param more accounts that change then and did not before */
    public record LaterRipple(@JsonUnwrapped RippleCounts counts, Instant at, String when, int more) {}

    /** What changes for the members of a workspace, as if working there. */
    public record WorkspaceRipple(@JsonUnwrapped RippleCounts counts, String id, String name) {}

    /** When what changes in an app will have taken effect, and what people must do then. */
    public record Settling(String app, long minMinutes, long maxMinutes, Optional<String> then) {}

    /** What is worth a second look. */
    public enum CautionKind {
        LOOSENED,
        MANY,
        LOCKED,
        MISLEADING,
        UNLICENSED,
        REDUNDANT,
        ONESELF
    }

    /**
     * What people lose that somebody uses.
     *
     * @param accounts for how many the value becomes stricter @param used how many of them used it in the last 30 days; empty where no client reports that
     * @param items how many items are shared outside by it; turning it off does not revoke them
     */
    public record UsedSetting(
            String setting, String title, int accounts, Optional<Integer> used, Optional<Long> items) {}

    /** Something worth a second look. */
    public record Caution(CautionKind what, String title, String words, int accounts) {}

    /** The whole page. @param where the units in which values change, each above those below it */
    public record Review(
            @JsonUnwrapped RippleCounts counts,
            long base,
            int everyone,
            List<MoveCount> moves,
            List<UnitPart> where,
            List<BlockedSetting> blockedBy,
            List<UsedSetting> used,
            List<SeatMoves> seats,
            List<PlanCost> costs,
            List<ReleaseChangeFormatter.ReleaseMove> releases,
            List<LaterRipple> later,
            List<WorkspaceRipple> workspaces,
            List<Settling> settling,
            List<Caution> cautions) {}

    /** Tells it. Costs a ripple for each later edge that the edits touch. */
    public Review review() {
        Ripple ripple = rebasedDraft.ripple();
        EstateFormatter estateFormatter = new EstateFormatter(ripple.after().estate(), rebasedDraft.now());
        List<Ripple.ValueChange> largestFirst = new ArrayList<>(ripple.moves());
        largestFirst.sort(
                Comparator.comparingInt((Ripple.ValueChange m) -> m.accounts().getCardinality())
                        .reversed());
        return new Review(
                RippleFormatter.from(rebasedDraft).counts(),
                rebasedDraft.base().change(),
                ripple.before().directory().active().getCardinality(),
                largestFirst.stream()
                        .map(m -> RippleFormatter.counted(m, estateFormatter))
                        .toList(),
                where(ripple),
                blocked(ripple, estateFormatter),
                used(ripple),
                seats(ripple),
                costs(ripple, estateFormatter),
                new ReleaseChangeFormatter(rebasedDraft, estateFormatter).moves(),
                later(estateFormatter),
                workspaces(),
                settling(
                        ripple.moves().stream().map(Ripple.ValueChange::setting).toList(),
                        ripple.after().estate().catalogue()),
                cautions(ripple));
    }

    /** What becomes stricter for somebody who used it lately, most users first. */
    private List<UsedSetting> used(Ripple ripple) {
        LocalDate since = UsageReader.firstRecentDay(rebasedDraft.now());
        Map<Setting, RoaringBitmap> losing = new LinkedHashMap<>();
        for (Ripple.ValueChange change : ripple.moves())
            if (Ripple.effect(change.setting(), change.from(), change.to()) == Ripple.Effect.LOSE)
                losing.computeIfAbsent(change.setting(), s -> new RoaringBitmap())
                        .or(change.accounts());
        Set<String> reported =
                losing.isEmpty() ? Set.of() : usage.table().reported().keySet();
        List<UsedSetting> used = new ArrayList<>();
        losing.forEach((setting, accounts) -> {
            Optional<Long> items = usage.table().items(setting.key()).map(i -> i.items());
            Optional<Integer> users = reported.contains(setting.key())
                    ? Optional.of(RoaringBitmap.andCardinality(
                            accounts,
                            usage.users(setting.key(), since, ripple.after().directory())))
                    : Optional.empty();
            if (users.isEmpty() && items.isEmpty()) return;
            used.add(new UsedSetting(setting.key(), setting.title(), accounts.getCardinality(), users, items));
        });
        used.sort(Comparator.comparingInt((UsedSetting u) -> u.used().orElse(0))
                .reversed()
                .thenComparing(UsedSetting::title));
        return used;
    }

    /** The tree of units in which values change, from the lowest unit that holds them all, as deep as can be looked over. */
    private static List<UnitPart> where(Ripple ripple) {
        Directory directory = ripple.after().directory();
        RoaringBitmap changed = ripple.changed();
        Unit top = directory.tree().unit(directory.tree().root());
        if (changed.isEmpty()) return List.of();
        Optional<Unit> deeper = Optional.of(top);
        while (deeper.isPresent()) {
            top = deeper.get();
            deeper = directory.tree().children(top.id()).stream()
                    .filter(child -> contains(directory.inOrBelow(child.id()), changed))
                    .findFirst();
        }
        List<UnitPart> parts = List.of();
        for (int deepest = DEEPEST; deepest >= 0; deepest--) {
            parts = new ArrayList<>();
            add(parts, top, 0, deepest, ripple, directory);
            if (parts.size() <= MOST_UNITS) break;
        }
        return parts;
    }

    private static void add(
            List<UnitPart> parts, Unit unit, int depth, int deepest, Ripple ripple, Directory directory) {
        RoaringBitmap here = directory.inOrBelow(unit.id());
        int accounts = RoaringBitmap.andCardinality(here, ripple.changed());
        if (accounts == 0) return;
        parts.add(new UnitPart(
                unit.id(),
                unit.name(),
                depth,
                accounts,
                RoaringBitmap.andCardinality(here, ripple.gainOnly()),
                RoaringBitmap.andCardinality(here, ripple.loseOnly()),
                RoaringBitmap.andCardinality(here, ripple.both()),
                RoaringBitmap.andCardinality(here, ripple.otherOnly()),
                RoaringBitmap.andCardinality(here, directory.active())));
        if (depth == deepest) return;
        List<Unit> children = new ArrayList<>(directory.tree().children(unit.id()));
        children.sort(Comparator.comparingInt(
                        (Unit c) -> RoaringBitmap.andCardinality(directory.inOrBelow(c.id()), ripple.changed()))
                .reversed());
        for (Unit child : children) add(parts, child, depth + 1, deepest, ripple, directory);
    }

    private static boolean contains(RoaringBitmap whole, RoaringBitmap part) {
        return RoaringBitmap.andCardinality(whole, part) == part.getCardinality();
    }

    private static List<BlockedSetting> blocked(Ripple ripple, EstateFormatter estateFormatter) {
        return ripple.blocks().stream()
                .map(block -> new BlockedSetting(
                        block.setting().key(),
                        block.setting().title(),
                        estateFormatter.value(block.setting(), block.decided()),
                        block.needs().stream()
                                .map(n -> need(n, estateFormatter))
                                .collect(Collectors.joining("; ")),
                        block.needs().stream().anyMatch(Need.Entitlement.class::isInstance),
                        block.accounts().getCardinality()))
                .toList();
    }

    private static String need(Need need, EstateFormatter estateFormatter) {
        return need instanceof Need.ReleaseNeed
                ? "the release has not come to them, or they have not agreed to previews themselves"
                : estateFormatter.need(need);
    }

    private static List<SeatMoves> seats(Ripple ripple) {
        return ripple.seats().stream()
                .map(seats -> new SeatMoves(
                        seats.plan().id(),
                        seats.plan().name(),
                        seats.plan().seats(ripple.evaluationContext().at()),
                        seats.given().getCardinality(),
                        seats.returned().getCardinality(),
                        seats.waitingBefore(),
                        seats.waitingAfter(),
                        carried(seats.plan(), ripple),
                        moved(seats, ripple)))
                .toList();
    }

    private List<PlanCost> costs(Ripple ripple, EstateFormatter estateFormatter) {
        return CostChange.between(
                        ripple.before().estate(),
                        ripple.after().estate(),
                        rebasedDraft.editSession().writeSet().plans(),
                        rebasedDraft.now())
                .stream()
                .map(change -> new PlanCost(
                        change.plan().id(),
                        change.plan().name(),
                        change.from().map(estateFormatter::day).orElse(""),
                        change.seats(),
                        change.more().toPlainString(),
                        change.currency(),
                        change.per()))
                .toList();
    }

    /** Those who are given a seat of a plan by the draft that carries nothing which their seat of another does not, or the other way round. */
    private static void redundant(Ripple ripple, List<Caution> told) {
        Map<String, RoaringBitmap> given = new HashMap<>();
        for (Ripple.Seats seats : ripple.seats())
            if (!seats.given().isEmpty()) given.put(seats.plan().id(), seats.given());
        if (given.isEmpty()) return;
        for (SeatFinding.RedundantSeat redundant : SeatFinding.redundant(ripple.seatsAfter())) {
            RoaringBitmap fresh = RoaringBitmap.and(
                    redundant.accounts(),
                    RoaringBitmap.or(
                            given.getOrDefault(redundant.plan().id(), new RoaringBitmap()),
                            given.getOrDefault(redundant.other().id(), new RoaringBitmap())));
            int accounts = fresh.getCardinality();
            if (accounts > 0)
                told.add(new Caution(
                        CautionKind.REDUNDANT,
                        redundant.plan().name(),
                        String.format("%,d", accounts) + " of those who get a seat then "
                                + (accounts == 1 ? "holds" : "hold") + " two: it carries nothing that a seat of "
                                + redundant.other().name() + " does not.",
                        accounts));
        }
    }

    private static List<String> carried(Plan plan, Ripple ripple) {
        if (!plan.term().holds(ripple.evaluationContext().at())) return List.of();
        var names = ripple.after().estate().catalogue().entitlements();
        return plan.components().stream().map(c -> names.getOrDefault(c, c)).toList();
    }

    private static List<SeatMove> moved(Ripple.Seats seats, Ripple ripple) {
        SeatChangeReason telling = new SeatChangeReason(
                ripple.before(),
                ripple.after(),
                ripple.evaluationContext().at(),
                false,
                new SeatLedger.Move(seats.plan().id(), seats.given(), seats.returned()));
        List<SeatMove> moved = new ArrayList<>();
        seats.returned().stream()
                .limit(SEATS_NAMED)
                .forEach(n -> moved.add(moved(ripple.before(), n, false, telling.returned(n))));
        seats.given().stream()
                .limit(SEATS_NAMED)
                .forEach(n -> moved.add(moved(ripple.after(), n, true, telling.given(n))));
        return moved;
    }

    private static SeatMove moved(CompiledEstate compiledEstate, int number, boolean given, String because) {
        var account = compiledEstate.directory().account(number);
        return new SeatMove(account.id(), account.displayName(), given, because);
    }

    private List<LaterRipple> later(EstateFormatter estateFormatter) {
        return Ripple.later(
                        rebasedDraft.editSession(),
                        rebasedDraft.editSession().compile(),
                        EvaluationContext.at(rebasedDraft.now()))
                .stream()
                .map(then -> new LaterRipple(
                        RippleFormatter.counts(then.ripple()),
                        then.at(),
                        estateFormatter.moment(then.at()),
                        then.more().getCardinality()))
                .toList();
    }

    private List<WorkspaceRipple> workspaces() {
        List<WorkspaceRipple> told = new ArrayList<>();
        Ripple.inWorkspaces(
                        rebasedDraft.editSession(), rebasedDraft.editSession().compile(), rebasedDraft.now())
                .forEach((id, ripple) -> told.add(new WorkspaceRipple(
                        RippleFormatter.counts(ripple),
                        id,
                        ripple.after().estate().workspace(id).orElseThrow().name())));
        return told;
    }

    /** By app; the longest of each app counts. */
    public static List<Settling> settling(List<Setting> moved, Catalogue catalogue) {
        Map<String, Settling> byApp = new LinkedHashMap<>();
        for (Setting setting : moved) {
            if (!setting.source().path("settles").isObject()) continue;
            SettleTime settleTime = SettleTime.from(setting);
            String app = setting.app().map(catalogue.apps()::get).orElse("Other");
            byApp.merge(
                    app,
                    new Settling(
                            app,
                            settleTime.least().toMinutes(),
                            settleTime.most().toMinutes(),
                            settleTime.then().map(SettleTime.RequiredUserAction::word)),
                    (a, b) -> new Settling(
                            app,
                            Math.min(a.minMinutes, b.minMinutes),
                            Math.max(a.maxMinutes, b.maxMinutes),
                            a.maxMinutes >= b.maxMinutes ? a.then : b.then));
        }
        return List.copyOf(byApp.values());
    }

    private List<Caution> cautions(Ripple ripple) {
        List<Caution> told = new ArrayList<>();
        Map<Setting, Integer> loosened = new LinkedHashMap<>();
        for (Ripple.ValueChange valueChange : ripple.moves())
            if (valueChange.effect() == Ripple.Effect.GAIN)
                loosened.merge(valueChange.setting(), valueChange.accounts().getCardinality(), Integer::sum);
        loosened.forEach((setting, accounts) -> Optional.of(
                        setting.source().path("caution").asText(""))
                .filter(c -> !c.isEmpty())
                .ifPresent(c -> told.add(new Caution(CautionKind.LOOSENED, setting.title(), c, accounts))));
        int everyone = ripple.before().directory().active().getCardinality();
        int touched = ripple.changed().getCardinality();
        if (everyone >= A_FIFTH && touched * (long) A_FIFTH > everyone)
            told.add(new Caution(
                    CautionKind.MANY,
                    "More than a fifth of the organisation",
                    Math.round(100.0 * touched / everyone) + " % of all accounts get another value.",
                    touched));
        locks().forEach((title, sentence) -> told.add(new Caution(CautionKind.LOCKED, title, sentence, 0)));
        misleadingNames().forEach(told::add);
        unlicensed(ripple, told);
        redundant(ripple, told);
        oneself(ripple)
                .ifPresent(account -> told.add(
                        new Caution(CautionKind.ONESELF, account.displayName(), "This changes your own settings.", 1)));
        return told;
    }

    /** Names that the draft gives and that can pass for others, see {@link HiddenCharacters}. */
    private List<Caution> misleadingNames() {
        Estate after = rebasedDraft.editSession().compile().estate();
        WriteSet touched = rebasedDraft.editSession().writeSet();
        Stream<String> names = Stream.of(
                        touched.accounts().stream()
                                .flatMap(id -> after.account(id).stream())
                                .flatMap(a -> Stream.of(a.displayName(), a.userName())),
                        touched.units().stream()
                                .flatMap(id -> after.unit(id).stream())
                                .map(Unit::name),
                        touched.groups().stream()
                                .flatMap(id -> after.group(id).stream())
                                .map(Group::name),
                        touched.workspaces().stream()
                                .flatMap(id -> after.workspace(id).stream())
                                .map(Workspace::name),
                        touched.policies().stream()
                                .flatMap(id -> after.policy(id).stream())
                                .map(Policy::name))
                .flatMap(n -> n);
        List<Caution> misleading = new ArrayList<>();
        names.forEach(name -> HiddenCharacters.in(name)
                .filter(hidden -> misleading.size() < MOST_NAMES)
                .ifPresent(hidden -> misleading.add(new Caution(
                        CautionKind.MISLEADING,
                        name,
                        "This name holds the character " + hidden
                                + ", which cannot be seen and lets it look like another name.",
                        0))));
        return misleading;
    }

    /** For each setting that is turned on for some who hold no licence for it: for how many, and how many seats are free. */
    private void unlicensed(Ripple ripple, List<Caution> told) {
        EstateFormatter estateFormatter = new EstateFormatter(ripple.after().estate(), rebasedDraft.now());
        Map<Setting, Map<Value, RoaringBitmap>> lacking = new LinkedHashMap<>();
        Map<Setting, Set<String>> components = new LinkedHashMap<>();
        for (Ripple.Block block : ripple.blocks())
            for (Need need : block.needs())
                if (need instanceof Need.Entitlement entitlement) {
                    lacking.computeIfAbsent(block.setting(), s -> new LinkedHashMap<>())
                            .computeIfAbsent(block.decided(), v -> new RoaringBitmap())
                            .or(block.accounts());
                    components
                            .computeIfAbsent(block.setting(), s -> new LinkedHashSet<>())
                            .addAll(entitlement.anyOf());
                }
        lacking.forEach((setting, byValue) -> byValue.forEach((value, accounts) -> {
            int works = ripple.moves().stream()
                    .filter(m -> m.setting().equals(setting) && m.to().equals(value))
                    .mapToInt(m -> m.accounts().getCardinality())
                    .sum();
            int without = accounts.getCardinality();
            int free = ripple.seatsAfter().allocations().stream()
                    .filter(a -> a.isInTerm()
                            && a.plan().components().stream()
                                    .anyMatch(Objects.requireNonNull(components.get(setting))::contains))
                    .mapToInt(a -> a.seats() - a.seated().getCardinality())
                    .sum();
            told.add(new Caution(
                    CautionKind.UNLICENSED,
                    setting.title(),
                    estateFormatter.value(setting, value) + " for " + String.format("%,d", works + without) + "; "
                            + String.format("%,d", without) + (without == 1 ? " holds" : " hold") + " no plan with "
                            + Objects.requireNonNull(components.get(setting)).stream()
                                    .map(estateFormatter::component)
                                    .collect(Collectors.joining(" or "))
                            + "; "
                            + (free == 0
                                    ? "no seat is free."
                                    : free == 1 ? "one seat is free." : String.format("%,d seats are free.", free)),
                    without));
        }));
    }

    /** What happens to locks, as a sentence by the title of the setting. */
    private Map<String, String> locks() {
        Estate was = rebasedDraft.base().estate();
        Estate is = rebasedDraft.editSession().compile().estate();
        Map<String, Statement> before = locked(was);
        Map<String, Statement> after = locked(is);
        Map<String, Statement> all = new LinkedHashMap<>(before);
        all.putAll(after);
        Map<String, String> told = new LinkedHashMap<>();
        all.forEach((key, statement) -> {
            Statement old = before.get(key);
            Statement now = after.get(key);
            if (Objects.equals(old, now)) return;
            String sentence = old == null
                    ? "It is locked: what is set above the lock no longer counts."
                    : now == null
                            ? "It is unlocked: what is set above the lock counts again."
                            : "It is locked to another value.";
            was.catalogue().setting(statement.setting()).ifPresent(s -> told.putIfAbsent(s.title(), sentence));
        });
        return told;
    }

    /** The locked statements of policies that are not paused, by policy and setting. */
    private static Map<String, Statement> locked(Estate estate) {
        Map<String, Statement> locked = new LinkedHashMap<>();
        for (Policy policy : estate.policies())
            if (policy.live())
                for (Statement statement : policy.statements())
                    if (statement instanceof Statement.Set set && set.lock())
                        locked.put(policy.id() + " " + statement.setting(), statement);
        return locked;
    }

    private Optional<Account> oneself(Ripple ripple) {
        String author = actor.toLowerCase(Locale.ROOT);
        Directory directory = ripple.after().directory();
        for (int n : RoaringBitmap.or(ripple.changed(), ripple.leaving()).toArray()) {
            Account account = directory.account(n);
            if (account.displayName().toLowerCase(Locale.ROOT).equals(author)
                    || account.userName().toLowerCase(Locale.ROOT).equals(author)) return Optional.of(account);
        }
        return Optional.empty();
    }
}
