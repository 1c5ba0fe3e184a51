package leanladder.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Release;
import leanladder.json.Instants;

/**
 * An opening as it reads now, and how often that changed: what a calendar needs in order to tell those who subscribed (RFC 5545,
 * sections 3.8.7.3 and 3.8.7.4). One that was drawn back reads as it did last, and is cancelled.
 *
 * @param whom the id of a ring, or a target as the estate file writes it
 * @param sequence how often it was altered since it was first told; it only rises
 * @param first the number of the change that told it first
 * @param change the number of the change that altered it last
 */
public record OpeningRevision(
        String setting,
        String whom,
        Instant at,
        boolean planned,
        Optional<String> held,
        String note,
        String guide,
        boolean cancelled,
        int sequence,
        long first,
        long change) {
    /** How a release read from a change on. @param body as the estate file writes it; empty where there was none */
    public record StoredRelease(long change, Optional<JsonNode> body) {}

    private record ReleaseState(Instant at, boolean planned, Optional<String> held, String note, String guide) {}

    private record OpeningHistory(ReleaseState reading, boolean there, int sequence, long first, long change) {
        OpeningHistory altered(ReleaseState to, boolean stands, long by) {
            return new OpeningHistory(to, stands, sequence + 1, first, by);
        }
    }

    /**
     * Every opening that a release ever had.
     *
     * @param history how it read, the oldest first
     */
    public static List<OpeningRevision> compute(String setting, List<StoredRelease> history, ZoneId zone) {
        Map<String, OpeningHistory> told = new LinkedHashMap<>();
        for (StoredRelease storedRelease : history) {
            Map<String, ReleaseState> now =
                    storedRelease.body.map(b -> openings(b, zone)).orElse(Map.of());
            Set<String> all = new LinkedHashSet<>(told.keySet());
            all.addAll(now.keySet());
            for (String whom : all) {
                OpeningHistory before = told.get(whom);
                ReleaseState releaseState = now.get(whom);
                if (before == null)
                    told.put(
                            whom,
                            // Who is not in the history yet is in the release.
                            new OpeningHistory(
                                    Objects.requireNonNull(releaseState),
                                    true,
                                    0,
                                    storedRelease.change,
                                    storedRelease.change));
                else if (releaseState == null && before.there)
                    told.put(whom, before.altered(before.reading, false, storedRelease.change));
                else if (releaseState != null && !(before.there && releaseState.equals(before.reading)))
                    told.put(whom, before.altered(releaseState, true, storedRelease.change));
            }
        }
        List<OpeningRevision> revisions = new ArrayList<>();
        told.forEach((whom, t) -> revisions.add(new OpeningRevision(
                setting,
                whom,
                t.reading.at,
                t.reading.planned,
                t.reading.held,
                t.reading.note,
                t.reading.guide,
                !t.there,
                t.sequence,
                t.first,
                t.change)));
        return revisions;
    }

    private static Map<String, ReleaseState> openings(JsonNode release, ZoneId zone) {
        Map<String, ReleaseState> openings = new HashMap<>();
        Optional<String> held = release.path("held").isObject()
                ? Optional.of(release.path("held").path("reason").asText(""))
                : Optional.empty();
        String note = release.path("note").asText("");
        String guide = release.path("guide").asText("");
        release.path("planned")
                .properties()
                .forEach(p -> Release.planned(p.getValue().asText(), zone)
                        .ifPresent(at -> openings.put(p.getKey(), new ReleaseState(at, true, held, note, guide))));
        release.path("opens")
                .properties()
                .forEach(o -> Instants.instant(o.getValue().asText())
                        .ifPresent(at -> openings.put(o.getKey(), new ReleaseState(at, false, held, note, guide))));
        release.path("early")
                .forEach(e -> Instants.instant(e.path("from").asText())
                        .ifPresent(at ->
                                openings.put(e.path("to").asText(), new ReleaseState(at, false, held, note, guide))));
        return openings;
    }
}
