package leanladder.preview;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Estate;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.json.CodePointOrder;

/**
 * An opening as a calendar has it: a feature comes to a ring, or early to a target.
 *
 * @param ring empty where it is an early one
 * @param target empty where it is one to a ring
 * @param planned whether it is only intended, and decides nothing
 */
public record ScheduledOpening(
        Instant at, Release release, Optional<Ring> ring, Optional<Target> target, boolean planned) {
    /** What comes from one instant on and before another, by instant, then by setting. Linear in the releases. */
    public static List<ScheduledOpening> between(Estate estate, Instant from, Instant until) {
        List<ScheduledOpening> all = new ArrayList<>();
        for (Release release : estate.releases()) {
            for (Ring ring : estate.trackOf(release).rings()) {
                Instant opens = release.opens().get(ring.id());
                Instant planned = release.planned(estate.organisation().zone()).get(ring.id());
                Instant at = opens == null ? planned : opens;
                if (at != null)
                    all.add(new ScheduledOpening(at, release, Optional.of(ring), Optional.empty(), opens == null));
            }
            release.early()
                    .forEach(e -> all.add(
                            new ScheduledOpening(e.from(), release, Optional.empty(), Optional.of(e.to()), false)));
        }
        all.removeIf(c -> c.at.isBefore(from) || !c.at.isBefore(until));
        all.sort(Comparator.comparing(ScheduledOpening::at)
                .thenComparing(c -> c.release.setting(), CodePointOrder.TEXTS)
                .thenComparing(ScheduledOpening::whom, CodePointOrder.TEXTS));
        return all;
    }

    /** To whom, as the estate file writes it: the id of the ring, or the target. */
    public String whom() {
        return ring.map(Ring::id).or(() -> target.map(Target::text)).orElseThrow();
    }
}
