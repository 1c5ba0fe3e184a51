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
    record Meant(String app, SettleTimes settles) {}

    static Catalogue parse(JsonNode source) {
        Map<String, Meant> settings = new LinkedHashMap<>();
        Duration longest = Duration.ZERO;
        for (JsonNode setting : source.path("settings")) {
            SettleTimes settleTimes = settles(setting.path("settles"));
            if (settleTimes.most().compareTo(longest) > 0) longest = settleTimes.most();
            settings.put(
                    setting.path("key").asText(), new Meant(setting.path("app").asText(""), settleTimes));
        }
        return new Catalogue(source, settings, longest);
    }

    private static SettleTimes settles(JsonNode written) {
        if (!written.isObject()) return SettleTimes.AT_ONCE;
        Duration least = Duration.ofMinutes(written.path("minMinutes").asLong(0));
        Duration most = Duration.ofMinutes(written.path("maxMinutes").asLong(least.toMinutes()));
        return new SettleTimes(
                least,
                most,
                Optional.of(written.path("then").asText(""))
                        .filter(w -> !w.isEmpty() && !w.equals("null"))
                        .map(UserAction::parse));
    }
}
