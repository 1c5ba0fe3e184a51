package leanladder.resolve;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.TimeWindow;
import leanladder.reach.MatchPath;

/**
 * Everything that was weighed on the way to one outcome.
 *
 * @param weighed every statement on the setting whose policy's assignments touch the account, lowest rung first, then by
 *     ranking
 * @param follows the setting whose in-force value the built-in default stood for, where it counted
 * @param gates every need with what became of it; empty when the gates were not asked
 */
public record Climb(
        Account account,
        Setting setting,
        EvaluationContext evaluationContext,
        Outcome outcome,
        List<Entry> entries,
        Optional<String> follows,
        List<Gate> gates) {

    /** Whether closed gates leave something of what is decided: a consequence that is not the fallback (resolution.md, section 5). */
    public boolean isPartial() {
        return outcome.standing() == Standing.BLOCKED && !setting.fallback().equals(Optional.of(outcome.value()));
    }

    /**
     * One statement and what became of it.
     *
     * @param by the target of the exception, when the verdict is {@link Verdict#EXCEPTED}
     * @param window the window that was not met, when the verdict is early or ended
     */
    public record Entry(
            RankedStatement rankedStatement,
            MatchPath matchPath,
            Verdict verdict,
            Optional<String> by,
            Optional<TimeWindow> window) {}

    /**
     * A need and what became of it.
     *
     * @param found finds the evidence, which costs more than to know whether the need is met
     */
    public record Gate(Need need, boolean met, Supplier<Evidence> found) {
        /** By what the need is met, or what is missing. */
        public Evidence evidence() {
            return found.get();
        }
    }
}
