package leanladder.suite;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/**
 * When people do what they do when nobody looks: who is seen for the first time has a past. It is fixed by the account: everyone refreshes
 * within the hour, signs in once a day, restarts once in two days, updates once in a fortnight and clears what is stored once in thirty days;
 * one in fifty has been away for nine days.
 */
final class SimulatedActivity {
    private static final int AWAY = 50;
    private static final Duration GONE = Duration.ofDays(9);
    private static final Duration REFRESHES = Duration.ofHours(1);
    private static final Duration SIGNS_IN = Duration.ofDays(1);
    private static final Duration RESTARTS = Duration.ofDays(2);
    private static final Duration UPDATES = Duration.ofDays(14);
    private static final Duration CLEARS = Duration.ofDays(30);

    private SimulatedActivity() {}

    /** What an account last did by an instant. */
    static UserActions simulate(String account, Instant at) {
        if (RolloutFraction.compute(account, "away") < 1.0 / AWAY) {
            Instant then = at.truncatedTo(ChronoUnit.DAYS).minus(GONE);
            return UserActions.of(action -> then);
        }
        return UserActions.of(action -> last(account, action.word(), every(action), at));
    }

    private static Duration every(UserAction action) {
        return switch (action) {
            case REFRESH -> REFRESHES;
            case SIGN_IN -> SIGNS_IN;
            case RESTART -> RESTARTS;
            case UPDATE -> UPDATES;
            case CLEAR -> CLEARS;
        };
    }

    private static Instant last(String account, String what, Duration every, Instant at) {
        long period = every.toSeconds();
        long offset = (long) (RolloutFraction.compute(account, what) * period);
        return Instant.ofEpochSecond(Math.floorDiv(at.getEpochSecond() - offset, period) * period + offset);
    }
}
