package leanladder.suite;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What can be set in the suite, as Lean Ladder's catalogue has it.
 *
 * @param source as it was answered, for the page
 * @param longest how long anything takes to arrive at most
 */
record Catalogue(JsonNode source, Map<String, Meant> settings, Duration longest) {
    /** What of a setting decides when it shows. @param app empty where it belongs to none */
    record Meant(String app, Settles settles) {}

    static Catalogue of(JsonNode source) {
        Map<String, Meant> settings = new LinkedHashMap<>();
        Duration longest = Duration.ZERO;
        for (JsonNode setting : source.path("settings")) {
            Settles settles = settles(setting.path("settles"));
            if (settles.most().compareTo(longest) > 0) longest = settles.most();
            settings.put(
                    setting.path("key").asText(), new Meant(setting.path("app").asText(""), settles));
        }
        return new Catalogue(source, settings, longest);
    }

    private static Settles settles(JsonNode written) {
        if (!written.isObject()) return Settles.AT_ONCE;
        Duration least = Duration.ofMinutes(written.path("minMinutes").asLong(0));
        Duration most = Duration.ofMinutes(written.path("maxMinutes").asLong(least.toMinutes()));
        return new Settles(
                least,
                most,
                Optional.of(written.path("then").asText(""))
                        .filter(w -> !w.isEmpty() && !w.equals("null"))
                        .map(Deed::of));
    }
}
