package leanladder.suite;

import com.fasterxml.jackson.annotation.JsonValue;
import java.time.Instant;
import java.util.Arrays;
import java.util.Collections;
import java.util.EnumMap;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;

/** When a person last did what makes things show. Each action does what the less laborious ones do: a restart signs in again. */
public record UserActions(@JsonValue Map<UserAction, Instant> done) {
    public UserActions {
        done = Collections.unmodifiableMap(new EnumMap<>(done));
    }

    /** Each at its instant; what is more laborious counts for what is less. */
    static UserActions of(Function<UserAction, Instant> at) {
        Map<UserAction, Instant> done = new EnumMap<>(UserAction.class);
        for (UserAction action : UserAction.values())
            for (UserAction less : UserAction.values())
                if (less.compareTo(action) <= 0) done.merge(less, at.apply(action), UserActions::later);
        return new UserActions(done);
    }

    /** After one more. */
    public UserActions and(UserAction userAction, Instant at) {
        Map<UserAction, Instant> after = new EnumMap<>(done);
        for (UserAction less : UserAction.values()) if (less.compareTo(userAction) <= 0) after.put(less, at);
        return new UserActions(after);
    }

    /** The later instant of each of two. */
    UserActions or(UserActions other) {
        return of(action -> later(last(action), other.last(action)));
    }

    /** When a user action was last done. */
    public Instant last(UserAction userAction) {
        return Objects.requireNonNull(done.get(userAction));
    }

    /** The earliest of them. */
    public Instant earliest() {
        return Arrays.stream(UserAction.values())
                .map(this::last)
                .min(Instant::compareTo)
                .orElseThrow();
    }

    private static Instant later(Instant one, Instant other) {
        return one.isAfter(other) ? one : other;
    }
}
