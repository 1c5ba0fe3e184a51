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
import java.util.Optional;
import java.util.Set;
import leanladder.document.Instants;
import leanladder.estate.Release;

/**
 * An opening as it reads now, and how often that changed: what a calendar needs in order to tell those who subscribed (RFC 5545,
 * sections 3.8.7.3 and 3.8.7.4). One that was drawn back reads as it did last, and is cancelled.
 *
 * @param whom the id of a ring, or a target as the estate file writes it
 * @param sequence how often it was altered since it was first told; it only rises
 * @param first the number of the change that told it first
 * @param change the number of the change that altered it last
 */
public record Revision(
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
    public record Written(long change, Optional<JsonNode> body) {}

    private record Reading(Instant at, boolean planned, Optional<String> held, String note, String guide) {}

    private record Told(Reading reading, boolean there, int sequence, long first, long change) {
        Told altered(Reading to, boolean stands, long by) {
            return new Told(to, stands, sequence + 1, first, by);
        }
    }

    /**
     * Every opening that a release ever had.
     *
     * @param history how it read, the oldest first
     */
    public static List<Revision> of(String setting, List<Written> history, ZoneId zone) {
        Map<String, Told> told = new LinkedHashMap<>();
        for (Written written : history) {
            Map<String, Reading> now = written.body.map(b -> openings(b, zone)).orElse(Map.of());
            Set<String> all = new LinkedHashSet<>(told.keySet());
            all.addAll(now.keySet());
            for (String whom : all) {
                Told before = told.get(whom);
                Reading reading = now.get(whom);
                if (before == null) told.put(whom, new Told(reading, true, 0, written.change, written.change));
                else if (reading == null && before.there)
                    told.put(whom, before.altered(before.reading, false, written.change));
                else if (reading != null && !(before.there && reading.equals(before.reading)))
                    told.put(whom, before.altered(reading, true, written.change));
            }
        }
        List<Revision> revisions = new ArrayList<>();
        told.forEach((whom, t) -> revisions.add(new Revision(
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

    private static Map<String, Reading> openings(JsonNode release, ZoneId zone) {
        Map<String, Reading> openings = new HashMap<>();
        Optional<String> held = release.path("held").isObject()
                ? Optional.of(release.path("held").path("reason").asText(""))
                : Optional.empty();
        String note = release.path("note").asText("");
        String guide = release.path("guide").asText("");
        release.path("planned")
                .properties()
                .forEach(p -> Release.planned(p.getValue().asText(), zone)
                        .ifPresent(at -> openings.put(p.getKey(), new Reading(at, true, held, note, guide))));
        release.path("opens")
                .properties()
                .forEach(o -> Instants.instant(o.getValue().asText())
                        .ifPresent(at -> openings.put(o.getKey(), new Reading(at, false, held, note, guide))));
        release.path("early")
                .forEach(e -> Instants.instant(e.path("from").asText())
                        .ifPresent(
                                at -> openings.put(e.path("to").asText(), new Reading(at, false, held, note, guide))));
        return openings;
    }
}
