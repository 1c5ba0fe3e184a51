package leanladder.server;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that a test can put forward, or back. Unless it stands, it goes on from an instant at which the estates of the tests are alive. */
public final class TestClock extends Clock {
    private static final Clock GOING =
            Clock.offset(Clock.systemUTC(), Duration.between(Instant.now(), Instant.parse("2026-11-25T12:00:00Z")));

    volatile Duration ahead = Duration.ZERO;
    private final Clock base;

    /** One that goes on by itself. */
    public TestClock() {
        this(GOING);
    }

    private TestClock(Clock base) {
        this.base = base;
    }

    /** One that stands still but for the test. */
    public static TestClock standing(String instant) {
        return new TestClock(Clock.fixed(Instant.parse(instant), ZoneOffset.UTC));
    }

    /** What one that goes on by itself, and was not put forward, tells now. */
    public static Instant now() {
        return GOING.instant();
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
