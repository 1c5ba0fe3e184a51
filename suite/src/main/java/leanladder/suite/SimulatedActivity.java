package leanladder.suite;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/**
 * When people do what they do when nobody looks: who is seen for the first time has a past. It is fixed by the account: everyone refreshes
 * within the hour, signs in once a day, and restarts once in two days; one in fifty has been away for nine days.
 */
final class SimulatedActivity {
    private static final int AWAY = 50;
    private static final Duration GONE = Duration.ofDays(9);
    private static final Duration REFRESHES = Duration.ofHours(1);
    private static final Duration SIGNS_IN = Duration.ofDays(1);
    private static final Duration RESTARTS = Duration.ofDays(2);

    private SimulatedActivity() {}

    /** What an account last did by an instant. */
    static UserActions simulate(String account, Instant at) {
        if (RolloutFraction.compute(account, "away") < 1.0 / AWAY) {
            Instant then = at.truncatedTo(ChronoUnit.DAYS).minus(GONE);
            return new UserActions(then, then, then);
        }
        Instant restarted = last(account, "restart", RESTARTS, at);
        Instant signedIn = later(restarted, last(account, "sign-in", SIGNS_IN, at));
        return new UserActions(later(signedIn, last(account, "refresh", REFRESHES, at)), signedIn, restarted);
    }

    private static Instant last(String account, String what, Duration every, Instant at) {
        long period = every.toSeconds();
        long offset = (long) (RolloutFraction.compute(account, what) * period);
        return Instant.ofEpochSecond(Math.floorDiv(at.getEpochSecond() - offset, period) * period + offset);
    }

    private static Instant later(Instant one, Instant other) {
        return one.isAfter(other) ? one : other;
    }
}
