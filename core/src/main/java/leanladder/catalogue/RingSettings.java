package leanladder.catalogue;

import java.util.List;
import java.util.Map;

/**
 * Which settings name the preview rings, and which of them a release goes by (resolution.md, section 7).
 *
 * @param rings by key of a ring setting the ids of the rings of its track, from the innermost outwards
 * @param tracks of the settings whose releases belong to a track other than the main one, its ring setting
 */
public record RingSettings(Map<String, List<String>> rings, Map<String, String> tracks) {
    /** No rings at all. */
    public static final RingSettings NONE = new RingSettings(Map.of(Setting.RING, List.of()), Map.of());

    /** The ring setting that decides to whom the release of a setting comes. */
    public String of(String setting) {
        return tracks.getOrDefault(setting, Setting.RING);
    }

    /** Whether there is a ring at all. */
    boolean exist() {
        return rings.values().stream().anyMatch(ids -> !ids.isEmpty());
    }
}
