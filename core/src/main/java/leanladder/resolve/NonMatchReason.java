package leanladder.resolve;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.TimeWindow;
import leanladder.reach.AccountReach;
import leanladder.reach.MatchPath;
import leanladder.reach.Places;
import leanladder.reach.Rung;

/**
 * Why a policy that names an account does not reach it (estate-format.md, the verdicts paused, early, ended and excepted).
 *
 * @param way how it would have been reached
 * @param by the target of the exception, when the verdict is {@link Verdict#EXCEPTED}
 * @param window the window that was not met, when the verdict is early or ended
 */
public record NonMatchReason(MatchPath matchPath, Verdict verdict, Optional<String> by, Optional<TimeWindow> window) {
    private record ExceptionLift(Verdict verdict, Predicate<Assignment> counts) {}

    /**
     * Finds the reason. What stands in the way is lifted in the order of the verdicts until the policy would reach: first a
     * window alone, then the exceptions, then both.
     *
     * @param workspace the places of the question, and only where the setting is open to workspaces
     * @return empty when nothing would make the policy reach this account, or it reaches it anyhow
     */
    public static Optional<NonMatchReason> find(
            Policy policy, AccountReach accountReach, Places workspace, Instant at) {
        Predicate<Assignment> now = a -> a.window().holds(at);
        if (policy.live()
                && accountReach.reach(policy.assignments(), workspace, now).isPresent()) return Optional.empty();
        Predicate<Assignment> early = a -> a.include() && a.window().isEarly(at);
        Predicate<Assignment> ended = a -> a.include() && a.window().isOver(at);
        List<ExceptionLift> lifts = List.of(
                new ExceptionLift(Verdict.EXCEPTED, now),
                new ExceptionLift(Verdict.EARLY, now.or(early)),
                new ExceptionLift(Verdict.ENDED, now.or(ended)));
        for (boolean withoutExceptions : new boolean[] {false, true}) {
            for (ExceptionLift exceptionLift : lifts) {
                Predicate<Assignment> counts =
                        withoutExceptions ? exceptionLift.counts.and(Assignment::include) : exceptionLift.counts;
                Optional<MatchPath> way = accountReach.reach(policy.assignments(), workspace, counts);
                if (way.isEmpty()) continue;
                Verdict verdict = policy.live() ? exceptionLift.verdict : Verdict.PAUSED;
                Optional<String> by = verdict == Verdict.EXCEPTED
                        ? accountReach.barredBy(policy.assignments(), now)
                        : Optional.empty();
                return Optional.of(new NonMatchReason(way.get(), verdict, by, window(policy, way.get(), verdict, at)));
            }
        }
        return Optional.empty();
    }

    /** The place with which a way in ends, where it leads through one. */
    private static Optional<String> placeOf(MatchPath matchPath) {
        boolean inPlace =
                matchPath.rung().equals(Rung.WORKSPACE) || matchPath.rung().equals(Rung.HOSTING);
        return inPlace ? Optional.of(matchPath.via().get(matchPath.via().size() - 1)) : Optional.empty();
    }

    /** The nearest window of the target that was not met. */
    private static Optional<TimeWindow> window(Policy policy, MatchPath matchPath, Verdict verdict, Instant at) {
        if (verdict != Verdict.EARLY && verdict != Verdict.ENDED) return Optional.empty();
        return policy.assignments().stream()
                .filter(a -> a.include()
                        && a.target().text().equals(matchPath.via().get(0))
                        && a.place().map(Target::text).equals(placeOf(matchPath)))
                .map(Assignment::window)
                .filter(w -> verdict == Verdict.EARLY ? w.isEarly(at) : w.isOver(at))
                .min(Comparator.comparing(w -> verdict == Verdict.EARLY
                        ? Duration.between(at, w.from().orElseThrow())
                        : Duration.between(w.until().orElseThrow(), at)));
    }
}
