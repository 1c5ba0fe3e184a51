package leanladder.preview;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import leanladder.estate.Estate;
import leanladder.estate.Track;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * An opening, and who gets the feature by it: whom it reaches, and whom no opening before it did. Who has to consent is among them.
 */
public record UpcomingReleases(ScheduledOpening coming, RoaringBitmap accounts) {
    /**
     * What comes from one instant on and before another, by instant, then by setting.
     *
     * @param audiences of each track, who stands in which ring
     */
    public static List<UpcomingReleases> between(
            Estate estate,
            Directory directory,
            Function<Track, ReleaseAudience> audiences,
            Instant from,
            Instant until) {
        Map<String, RoaringBitmap> had = new HashMap<>();
        List<UpcomingReleases> arriving = new ArrayList<>();
        for (ScheduledOpening scheduledOpening : ScheduledOpening.between(estate, Instant.MIN, until)) {
            RoaringBitmap reached = scheduledOpening
                    .target()
                    .map(directory::holding)
                    .orElseGet(() -> {
                        Track track = estate.trackOf(scheduledOpening.release());
                        return audiences
                                .apply(track)
                                .standingInOrFurtherIn(track.rings()
                                        .indexOf(scheduledOpening.ring().orElseThrow()));
                    });
            RoaringBitmap before =
                    had.computeIfAbsent(scheduledOpening.release().setting(), s -> new RoaringBitmap());
            RoaringBitmap fresh = RoaringBitmap.andNot(reached, before);
            fresh.and(directory.active());
            before.or(fresh);
            if (!scheduledOpening.at().isBefore(from)) arriving.add(new UpcomingReleases(scheduledOpening, fresh));
        }
        return arriving;
    }
}
