package leanladder.suite;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * When what is delivered shows on a person's page. An app takes a new value up at an instant between the least and the most that the
 * catalogue names, which is fixed by account and app; what asks for a refresh, a new sign-in or a restart then waits for it.
 */
final class PropagationSimulator {
    private PropagationSimulator() {}

    /** A value, and since when it is in force. */
    record Entry(Instant at, DeliveredSettings delivered) {}

    /**
     * What a page shows of a setting.
     *
     * @param waitsFor what the person would have to do to see what has arrived since; empty where that is shown
     */
    record PropagatedValue(DeliveredSettings shown, Optional<UserAction> waitsFor) {}

    /**
     * What an account's page shows. Linear in the history.
     *
     * @param history the oldest first; the first entry counts as arrived
     * @param clock the page's @param done what the person last did by then
     */
    static PropagatedValue compute(
            List<Entry> history, SettleTimes settleTimes, String account, String app, Instant clock, UserActions done) {
        DeliveredSettings arrived = arrived(history, settleTimes, account, app, clock);
        if (settleTimes.then().isEmpty()) return new PropagatedValue(arrived, Optional.empty());
        Instant last = done.last(settleTimes.then().get());
        DeliveredSettings shown = arrived(history, settleTimes, account, app, last.isBefore(clock) ? last : clock);
        return new PropagatedValue(shown, shown.equals(arrived) ? Optional.empty() : settleTimes.then());
    }

    private static DeliveredSettings arrived(
            List<Entry> history, SettleTimes settleTimes, String account, String app, Instant at) {
        DeliveredSettings arrived = history.get(0).delivered;
        Duration takes = takes(settleTimes, account, app);
        for (Entry entry : history.subList(1, history.size()))
            if (!entry.at.plus(takes).isAfter(at)) arrived = entry.delivered;
        return arrived;
    }

    /** How long an app takes for an account. */
    static Duration takes(SettleTimes settleTimes, String account, String app) {
        Duration spread = settleTimes.most().minus(settleTimes.least());
        return settleTimes.least().plusMillis((long) (spread.toMillis() * RolloutFraction.compute(account, app)));
    }
}
