package leanladder.server.draft;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.change.Ripple;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.seat.Ledger;
import leanladder.server.draft.RippleTelling.CountedMove;
import leanladder.server.draft.RippleTelling.RippleCounts;
import leanladder.server.live.Proposal;
import leanladder.settle.Settles;
import leanladder.tell.SeatTelling;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/**
 * A draft told as a page that one reads before publishing: what changes, for whom, when, and what is worth a second look.
 *
 * @param actor who would publish it
 */
public record ReadingOver(Proposal proposal, String actor) {
    /** How many of each plan are named whose seats pass on, given and returned apart. */
    private static final int SEATS_NAMED = 20;

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
    public record Blocked(String setting, String title, String decided, String needs, boolean licence, int accounts) {}

    /** Somebody whose seat passes on. @param because why */
    public record SeatMoved(String account, String displayName, boolean given, String because) {}

    /**
     * How the seats of a plan pass on.
     *
     * @param carries what a seat of it carries now, in words; empty where it carries nothing
     * @param who some of those whose seats pass on, by name, returned ones first
     */
    public record SeatsPassed(
            String planId,
            String plan,
            int seats,
            int given,
            int returned,
            int waitingBefore,
            int waitingAfter,
            List<String> carries,
            List<SeatMoved> who) {}

    /** What comes later by itself. @param more accounts that change then and did not before */
    public record Later(@JsonUnwrapped RippleCounts counts, Instant at, String when, int more) {}

    /** What changes for the members of a workspace, as if working there. */
    public record InWorkspace(@JsonUnwrapped RippleCounts counts, String id, String name) {}

    /** When what changes in an app will have taken effect, and what people must do then. */
    public record Settling(String app, long minMinutes, long maxMinutes, Optional<String> then) {}

    /** What is worth a second look. */
    public enum What {
        LOOSENED,
        MANY,
        LOCKED,
        UNLICENSED,
        ONESELF
    }

    /** Something worth a second look. */
    public record Caution(What what, String title, String words, int accounts) {}

    /** The whole page. @param where the units in which values change, each above those below it */
    public record Reading(
            @JsonUnwrapped RippleCounts counts,
            long base,
            int everyone,
            List<CountedMove> moves,
            List<UnitPart> where,
            List<Blocked> blockedBy,
            List<SeatsPassed> seats,
            List<ReleaseTelling.ReleaseMove> releases,
            List<Later> later,
            List<InWorkspace> workspaces,
            List<Settling> settling,
            List<Caution> cautions) {}

    /** Tells it. Costs a ripple for each later edge that the edits touch. */
    public Reading reading() {
        Ripple ripple = proposal.ripple();
        Wording wording = new Wording(ripple.after().estate(), proposal.now());
        List<Ripple.Move> largestFirst = new ArrayList<>(ripple.moves());
        largestFirst.sort(
                Comparator.comparingInt((Ripple.Move m) -> m.accounts().getCardinality())
                        .reversed());
        return new Reading(
                RippleTelling.counts(ripple),
                proposal.base().change(),
                ripple.before().directory().active().getCardinality(),
                largestFirst.stream()
                        .map(m -> RippleTelling.counted(m, wording))
                        .toList(),
                where(ripple),
                blocked(ripple, wording),
                seats(ripple),
                new ReleaseTelling(proposal, wording).moves(),
                later(wording),
                workspaces(),
                settling(
                        ripple.moves().stream().map(Ripple.Move::setting).toList(),
                        ripple.after().estate().catalogue()),
                cautions(ripple));
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

    private static List<Blocked> blocked(Ripple ripple, Wording wording) {
        return ripple.blocks().stream()
                .map(block -> new Blocked(
                        block.setting().key(),
                        block.setting().title(),
                        wording.value(block.setting(), block.decided()),
                        block.needs().stream().map(n -> need(n, wording)).collect(Collectors.joining("; ")),
                        block.needs().stream().anyMatch(Need.Entitlement.class::isInstance),
                        block.accounts().getCardinality()))
                .toList();
    }

    private static String need(Need need, Wording wording) {
        return need instanceof Need.Released
                ? "the release has not come to them, or they have not agreed to previews themselves"
                : wording.need(need);
    }

    private static List<SeatsPassed> seats(Ripple ripple) {
        return ripple.seats().stream()
                .map(seats -> new SeatsPassed(
                        seats.plan().id(),
                        seats.plan().name(),
                        seats.plan().seats(ripple.question().at()),
                        seats.given().getCardinality(),
                        seats.returned().getCardinality(),
                        seats.waitingBefore(),
                        seats.waitingAfter(),
                        carried(seats.plan(), ripple),
                        moved(seats, ripple)))
                .toList();
    }

    private static List<String> carried(Plan plan, Ripple ripple) {
        if (!plan.term().holds(ripple.question().at())) return List.of();
        var names = ripple.after().estate().catalogue().entitlements();
        return plan.components().stream().map(c -> names.getOrDefault(c, c)).toList();
    }

    private static List<SeatMoved> moved(Ripple.Seats seats, Ripple ripple) {
        SeatTelling telling = new SeatTelling(
                ripple.before(),
                ripple.after(),
                ripple.question().at(),
                false,
                new Ledger.Move(seats.plan().id(), seats.given(), seats.returned()));
        List<SeatMoved> moved = new ArrayList<>();
        seats.returned().stream()
                .limit(SEATS_NAMED)
                .forEach(n -> moved.add(moved(ripple.before(), n, false, telling.returned(n))));
        seats.given().stream()
                .limit(SEATS_NAMED)
                .forEach(n -> moved.add(moved(ripple.after(), n, true, telling.given(n))));
        return moved;
    }

    private static SeatMoved moved(Ground ground, int number, boolean given, String because) {
        var account = ground.directory().account(number);
        return new SeatMoved(account.id(), account.displayName(), given, because);
    }

    private List<Later> later(Wording wording) {
        return Ripple.later(proposal.book(), proposal.book().after(), Question.at(proposal.now())).stream()
                .map(then -> new Later(
                        RippleTelling.counts(then.ripple()),
                        then.at(),
                        wording.moment(then.at()),
                        then.more().getCardinality()))
                .toList();
    }

    private List<InWorkspace> workspaces() {
        List<InWorkspace> told = new ArrayList<>();
        Ripple.inWorkspaces(proposal.book(), proposal.book().after(), proposal.now())
                .forEach((id, ripple) -> told.add(new InWorkspace(
                        RippleTelling.counts(ripple),
                        id,
                        ripple.after().estate().workspace(id).orElseThrow().name())));
        return told;
    }

    /** By app; the longest of each app counts. */
    public static List<Settling> settling(List<Setting> moved, Catalogue catalogue) {
        Map<String, Settling> byApp = new LinkedHashMap<>();
        for (Setting setting : moved) {
            if (!setting.source().path("settles").isObject()) continue;
            Settles settles = Settles.of(setting);
            String app = setting.app().map(catalogue.apps()::get).orElse("Other");
            byApp.merge(
                    app,
                    new Settling(
                            app,
                            settles.least().toMinutes(),
                            settles.most().toMinutes(),
                            settles.then().map(Settles.Then::word)),
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
        for (Ripple.Move move : ripple.moves())
            if (move.effect() == Ripple.Effect.GAIN)
                loosened.merge(move.setting(), move.accounts().getCardinality(), Integer::sum);
        loosened.forEach((setting, accounts) -> Optional.of(
                        setting.source().path("caution").asText(""))
                .filter(c -> !c.isEmpty())
                .ifPresent(c -> told.add(new Caution(What.LOOSENED, setting.title(), c, accounts))));
        int everyone = ripple.before().directory().active().getCardinality();
        int touched = ripple.changed().getCardinality();
        if (everyone >= A_FIFTH && touched * (long) A_FIFTH > everyone)
            told.add(new Caution(
                    What.MANY,
                    "More than a fifth of the organisation",
                    Math.round(100.0 * touched / everyone) + " % of all accounts get another value.",
                    touched));
        for (String title : locked())
            told.add(new Caution(
                    What.LOCKED,
                    title,
                    "A lock is put or taken away: whatever stands above it is cut off, or counts again.",
                    0));
        unlicensed(ripple, told);
        oneself(ripple)
                .ifPresent(account -> told.add(
                        new Caution(What.ONESELF, account.displayName(), "This changes your own settings.", 1)));
        return told;
    }

    /** For each setting that is turned on for some who hold no licence for it: for how many, and how many seats are free. */
    private void unlicensed(Ripple ripple, List<Caution> told) {
        Wording wording = new Wording(ripple.after().estate(), proposal.now());
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
                    .filter(a ->
                            a.isInTerm() && a.plan().components().stream().anyMatch(components.get(setting)::contains))
                    .mapToInt(a -> a.seats() - a.seated().getCardinality())
                    .sum();
            told.add(new Caution(
                    What.UNLICENSED,
                    setting.title(),
                    wording.value(setting, value) + " for " + String.format("%,d", works + without) + "; "
                            + String.format("%,d", without) + (without == 1 ? " holds" : " hold") + " no plan with "
                            + components.get(setting).stream()
                                    .map(wording::component)
                                    .collect(Collectors.joining(" or "))
                            + "; "
                            + (free == 0
                                    ? "no seat is free."
                                    : free == 1 ? "one seat is free." : String.format("%,d seats are free.", free)),
                    without));
        }));
    }

    /** Titles of settings on which a locked statement comes, goes or becomes another by the edits. */
    private List<String> locked() {
        Map<String, Statement> before = locked(proposal.base().estate());
        Map<String, Statement> after = locked(proposal.book().after().estate());
        Map<String, Statement> all = new LinkedHashMap<>(before);
        all.putAll(after);
        return all.entrySet().stream()
                .filter(e -> !Objects.equals(before.get(e.getKey()), after.get(e.getKey())))
                .map(e -> proposal.base()
                        .estate()
                        .catalogue()
                        .setting(e.getValue().setting()))
                .flatMap(Optional::stream)
                .map(Setting::title)
                .distinct()
                .toList();
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
