package leanladder.server;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that a test can put forward, or back. */
public final class Hands extends Clock {
    volatile Duration ahead = Duration.ZERO;

    /** Puts it forward. */
    public void step(Duration by) {
        ahead = ahead.plus(by);
    }

    @Override
    public Instant instant() {
        return Instant.now().plus(ahead);
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
