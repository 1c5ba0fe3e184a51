package leanladder.suite;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * When what is delivered shows on a person's page. An app takes a new value up at an instant between the least and the most that the
 * catalogue names, which is fixed by account and app; what asks for a refresh, a new sign-in or a restart then waits for it.
 */
final class Uptake {
    private Uptake() {}

    /** A value, and since when it is in force. */
    record Entry(Instant at, Delivered delivered) {}

    /**
     * What a page shows of a setting.
     *
     * @param waitsFor what the person would have to do to see what has arrived since; empty where that is shown
     */
    record Taken(Delivered shown, Optional<Deed> waitsFor) {}

    /**
     * What an account's page shows. Linear in the history.
     *
     * @param history the oldest first; the first entry counts as arrived
     * @param clock the page's @param done what the person last did by then
     */
    static Taken of(List<Entry> history, Settles settles, String account, String app, Instant clock, Doings done) {
        Delivered arrived = arrived(history, settles, account, app, clock);
        if (settles.then().isEmpty()) return new Taken(arrived, Optional.empty());
        Instant last = done.last(settles.then().get());
        Delivered shown = arrived(history, settles, account, app, last.isBefore(clock) ? last : clock);
        return new Taken(shown, shown.equals(arrived) ? Optional.empty() : settles.then());
    }

    private static Delivered arrived(List<Entry> history, Settles settles, String account, String app, Instant at) {
        Delivered arrived = history.get(0).delivered;
        Duration takes = takes(settles, account, app);
        for (Entry entry : history.subList(1, history.size()))
            if (!entry.at.plus(takes).isAfter(at)) arrived = entry.delivered;
        return arrived;
    }

    /** How long an app takes for an account. */
    static Duration takes(Settles settles, String account, String app) {
        Duration spread = settles.most().minus(settles.least());
        return settles.least().plusMillis((long) (spread.toMillis() * Share.of(account, app)));
    }
}
