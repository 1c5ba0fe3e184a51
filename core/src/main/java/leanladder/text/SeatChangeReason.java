package leanladder.text;

import java.time.Instant;
import java.util.Optional;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Plan;
import leanladder.estate.Target;
import leanladder.reach.AccountReach;
import leanladder.reach.MatchPath;
import leanladder.reach.Places;
import leanladder.resolve.CompiledEstate;
import leanladder.seat.SeatLedger;

/**
 * Why a seat passed on, in words that follow "because": read off the estate before and after, at the instant at which it did. An
 * allocation of the plan before is made once for all of its seats.
 */
public final class SeatChangeReason {
    /** What the journal counts in: an instant that it writes may come so much after the edge itself. */
    private static final long MICRO = 1_000;

    private final CompiledEstate before;
    private final CompiledEstate after;
    private final Instant at;
    private final boolean byTime;
    private final SeatLedger.Move move;
    private final Optional<Plan> planBefore;
    private final Optional<Plan> planAfter;

    /** @param byTime whether nobody edited anything: an edge of the plan was passed */
    public SeatChangeReason(
            CompiledEstate before, CompiledEstate after, Instant at, boolean byTime, SeatLedger.Move move) {
        this.before = before;
        this.after = after;
        this.at = at;
        this.byTime = byTime;
        this.move = move;
        planBefore = before.estate().plan(move.plan());
        planAfter = after.estate().plan(move.plan());
    }

    /** What stood before an edge is asked about just before it. */
    private Instant then() {
        return byTime ? at.minusNanos(MICRO) : at;
    }

    /** Whether an account wanted a seat before. */
    private boolean wanted(Account was) {
        return was.active()
                && planBefore.orElseThrow().kinds().contains(was.kind())
                && way(before, planBefore, was).isPresent();
    }

    /** What happened and why, as one sentence without its full stop; of several reasons, that of the first seat. */
    public String sentence() {
        int given = move.given().getCardinality();
        int returned = move.returned().getCardinality();
        String both = (returned == 0 ? "" : count(returned) + (returned == 1 ? " is" : " are") + " returned")
                + (given > 0 && returned > 0 ? " and " : "")
                + (given == 0 ? "" : count(given) + (given == 1 ? " is" : " are") + " given");
        String why = returned > 0
                ? returned(move.returned().first())
                : given(move.given().first());
        return plan() + ": " + both + ", because " + why;
    }

    private static String count(int seats) {
        return seats == 1 ? "one seat" : seats + " seats";
    }

    /** What the plan is called. */
    public String plan() {
        return planAfter.or(() -> planBefore).map(Plan::name).orElse(move.plan());
    }

    /** Why the account of this number was given a seat. */
    public String given(int number) {
        Account account = after.directory().account(number);
        if (planBefore.isEmpty()) return "the plan is new";
        Optional<Account> was = before.estate().account(account.id());
        if (was.filter(this::wanted).isPresent()) return aSeatWasFree();
        if (was.isEmpty()) return account.displayName() + " is new in " + unit(after, account);
        if (!was.get().active()) return account.displayName() + " is active again";
        if (!was.get().unit().equals(account.unit()))
            return account.displayName() + " moved to " + unit(after, account);
        Optional<MatchPath> way = way(after, planAfter, account);
        Optional<String> joined = way.flatMap(w -> group(w)).filter(g -> !isIn(before, g, account));
        if (joined.isPresent())
            return account.displayName() + " joined "
                    + joined.map(g -> group(after, g)).get();
        String target = way.map(w -> Target.parse(w.via().get(0)).orElseThrow())
                .map(t -> name(after, t))
                .orElse("the account");
        if (!byTime && way.filter(w -> includes(planBefore, w)).isPresent())
            return account.displayName() + " is in " + target + " now";
        return byTime ? "the rule for " + target + " began" : plan() + " includes " + target;
    }

    private String aSeatWasFree() {
        int more = planAfter.map(p -> p.seats(at)).orElse(0)
                - planBefore.orElseThrow().seats(then());
        if (more > 0) return byTime ? "a purchase of " + count(more) + " began" : seats(more) + " bought";
        int returned = move.returned().getCardinality();
        if (returned == 1)
            return "the seat of "
                    + after.directory().account(move.returned().first()).displayName() + " came free";
        return returned > 1 ? returned + " seats came free" : "others claim later now";
    }

    private static String seats(int count) {
        return count == 1 ? "one more seat was" : count + " more seats were";
    }

    /** Why the account of this number gave its seat back. */
    public String returned(int number) {
        Account was = before.directory().account(number);
        if (planAfter.isEmpty()) return "the plan is no more";
        Optional<Account> is = after.estate().account(was.id());
        if (is.isEmpty()) return was.displayName() + " is no more";
        if (!is.get().active()) return was.displayName() + " was deactivated";
        if (!planAfter.get().kinds().contains(is.get().kind())) return "the plan is not for that kind of account";
        Optional<String> barred = new AccountReach(after.directory(), is.get())
                .barredBy(planAfter.get().assignments(), a -> a.window().holds(at));
        if (barred.isPresent() && (byTime || !excepts(planBefore, barred.get())))
            return plan() + " excepts " + name(after, Target.parse(barred.get()).orElseThrow());
        if (!was.unit().equals(is.get().unit())) return was.displayName() + " moved to " + unit(after, is.get());
        Optional<MatchPath> way = way(before, planBefore, was);
        Optional<String> left = way.flatMap(w -> group(w)).filter(g -> !isIn(after, g, is.get()));
        if (left.isPresent())
            return was.displayName() + " left "
                    + left.map(g -> group(before, g)).get();
        String target = way.map(w -> Target.parse(w.via().get(0)).orElseThrow())
                .map(t -> name(before, t))
                .orElse("the account");
        if (!byTime && way.filter(w -> includes(planAfter, w)).isPresent())
            return was.displayName() + " is no longer in " + target;
        return byTime ? "the rule for " + target + " ended" : plan() + " no longer includes " + target;
    }

    /** Whether a plan includes what a way begins at. */
    private static boolean includes(Optional<Plan> plan, MatchPath way) {
        return plan.isPresent()
                && plan.get().assignments().stream()
                        .anyMatch(a -> a.include()
                                && a.target().text().equals(way.via().get(0)));
    }

    private static boolean excepts(Optional<Plan> plan, String target) {
        return plan.isPresent()
                && plan.get().assignments().stream()
                        .anyMatch(a -> !a.include() && a.target().text().equals(target));
    }

    private Optional<MatchPath> way(CompiledEstate compiledEstate, Optional<Plan> plan, Account account) {
        Instant then = compiledEstate == before ? then() : at;
        return plan.flatMap(p -> new AccountReach(compiledEstate.directory(), account)
                .reach(
                        p.assignments(),
                        Places.NONE,
                        (Assignment a) -> a.window().holds(then)));
    }

    /** The outermost group through which a way leads; its id. */
    private static Optional<String> group(MatchPath matchPath) {
        return Optional.of(matchPath.via().get(0))
                .filter(v -> v.startsWith("group:"))
                .map(v -> v.substring("group:".length()));
    }

    private static boolean isIn(CompiledEstate compiledEstate, String group, Account account) {
        var members = compiledEstate.directory().members(group);
        return members != null
                && compiledEstate.estate().account(account.id()).isPresent()
                && members.contains(compiledEstate.directory().number(account.id()));
    }

    private static String group(CompiledEstate compiledEstate, String id) {
        return compiledEstate.estate().group(id).map(g -> g.name()).orElse(id);
    }

    private static String unit(CompiledEstate compiledEstate, Account account) {
        return compiledEstate.estate().unit(account.unit()).map(u -> u.name()).orElse(account.unit());
    }

    private static String name(CompiledEstate compiledEstate, Target target) {
        if (target instanceof Target.UnitTarget unit)
            return compiledEstate.estate().unit(unit.id()).map(u -> u.name()).orElse(unit.id());
        if (target instanceof Target.GroupTarget group) return group(compiledEstate, group.id());
        if (target instanceof Target.AccountTarget account)
            return compiledEstate
                    .estate()
                    .account(account.id())
                    .map(Account::displayName)
                    .orElse(account.id());
        return compiledEstate.estate().organisation().name();
    }
}
