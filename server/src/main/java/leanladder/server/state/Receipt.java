package leanladder.server.state;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import leanladder.store.journal.Change;

/** What is told of a published change. */
public record Receipt(
        long number, Instant at, String author, boolean proven, String note, Optional<Instant> planned, boolean late) {
    private static final Duration LATE = Duration.ofMinutes(1);

    /** Of a change of the journal. */
    public static Receipt from(Change change) {
        return new Receipt(
                change.number(),
                change.at(),
                change.author(),
                change.proven(),
                change.note(),
                change.planned(),
                change.planned().filter(p -> p.plus(LATE).isBefore(change.at())).isPresent());
    }
}
