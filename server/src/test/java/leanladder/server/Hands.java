package leanladder.server;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that a test can put forward, or back. */
public final class Hands extends Clock {
    volatile Duration ahead = Duration.ZERO;
    private final Clock base;

    /** One that goes on by itself. */
    public Hands() {
        this(Clock.systemUTC());
    }

    private Hands(Clock base) {
        this.base = base;
    }

    /** One that stands still but for the test. */
    public static Hands standing(String instant) {
        return new Hands(Clock.fixed(Instant.parse(instant), ZoneOffset.UTC));
    }

    /** Puts it forward. */
    public void step(Duration by) {
        ahead = ahead.plus(by);
    }

    @Override
    public Instant instant() {
        return base.instant().plus(ahead);
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return this;
    }
}
