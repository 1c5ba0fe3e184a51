package leanladder.estate;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import leanladder.catalogue.UriSyntax;
import leanladder.json.Instants;

/**
 * When the feature behind a setting opens to rings, by ring id, and to whom it opens early (resolution.md, section 7).
 *
 * @param oneByOne whether people may take it alone, with a consent to it instead of to their ring
 * @param source as the estate file writes it, with the members that only screens use
 */
public record Release(
        String setting, Map<String, Instant> opens, List<EarlyAccess> early, boolean oneByOne, ObjectNode source) {
    /** A target to which the feature is open from an instant on, whatever the ring. */
    public record EarlyAccess(Target to, Instant from) {}

    /** The id of its track; empty for the main one. */
    public String track() {
        return source.path("track").asText("");
    }

    /** What is agreed to with a consent to it alone. */
    public Terms terms() {
        return Terms.in(source);
    }

    /** The instants at which it opens to somebody. */
    public Stream<Instant> edges() {
        return Stream.concat(opens.values().stream(), early.stream().map(EarlyAccess::from));
    }

    /**
     * When it is only planned to open to rings, by ring id: a day means its beginning. What is no day and no instant is passed over.
     *
     * @param zone of the organisation
     */
    public Map<String, Instant> planned(ZoneId zone) {
        Map<String, Instant> planned = new LinkedHashMap<>();
        source.path("planned")
                .properties()
                .forEach(p -> planned(p.getValue().asText(), zone).ifPresent(at -> planned.put(p.getKey(), at)));
        return planned;
    }

    /** A planned opening as it is written. */
    public static Optional<Instant> planned(String text, ZoneId zone) {
        return Instants.day(text).map(day -> day.atStartOfDay(zone).toInstant()).or(() -> Instants.instant(text));
    }

    /** How many must have it before it can be tried at all, such as two for a call. */
    public int atLeast() {
        return Math.max(1, source.path("atLeast").asInt(1));
    }

    /** The kinds of device that it is for; none where it is for any. */
    public List<String> devices() {
        return texts(source.path("devices"));
    }

    static List<String> texts(JsonNode list) {
        List<String> texts = new ArrayList<>();
        list.forEach(one -> texts.add(one.asText()));
        return texts;
    }

    /** Why it is held, where it is. */
    public Optional<String> held() {
        return source.path("held").isObject()
                ? Optional.of(source.path("held").path("reason").asText(""))
                : Optional.empty();
    }

    /** Two releases are the same when they decide the same and are written alike. */
    @Override
    public boolean equals(Object other) {
        return other instanceof Release r && setting.equals(r.setting) && source.equals(r.source);
    }

    @Override
    public int hashCode() {
        return setting.hashCode();
    }

    /** The link to its guide; empty where there is none, and for a text that is no link, which an earlier version may have taken in. */
    public Optional<String> guide() {
        return Optional.of(source.path("guide").asText("")).filter(UriSyntax::isLink);
    }
}
