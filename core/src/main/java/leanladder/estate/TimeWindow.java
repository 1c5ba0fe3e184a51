package leanladder.estate;

import java.time.Instant;
import java.util.Optional;
import java.util.stream.Stream;

/** A stretch of time that holds {@code from} and everything up to, not including, {@code until}; either end may be open. */
public record TimeWindow(Optional<Instant> from, Optional<Instant> until) {
    /** The window that holds every instant. */
    public static final TimeWindow ALWAYS = new TimeWindow(Optional.empty(), Optional.empty());

    /** Whether the instant lies inside. */
    public boolean holds(Instant at) {
        return !isEarly(at) && !isOver(at);
    }

    /** Whether it has not begun. */
    public boolean isEarly(Instant at) {
        return from.isPresent() && at.isBefore(from.get());
    }

    /** Whether it is over. */
    public boolean isOver(Instant at) {
        return until.isPresent() && !at.isBefore(until.get());
    }

    /** The instants at which being inside changes. */
    public Stream<Instant> edges() {
        return Stream.concat(from.stream(), until.stream());
    }
}
