package leanladder.server.files;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import leanladder.json.Instants;
import leanladder.json.Json;

/** Moves the dates of a written history by whole weeks, so that the same weekday stays what it was. */
final class DateShifter {
    private DateShifter() {}

    /** A history with all its days and instants as far from now as they were from the week that it names; as it is where it names none. */
    static JsonNode moved(JsonNode history, Instant now) {
        Optional<LocalDate> week = Instants.day(history.path("week").asText(""));
        if (week.isEmpty()) return history;
        long days =
                ChronoUnit.DAYS.between(week.get(), now.atZone(ZoneOffset.UTC).toLocalDate());
        long weeks = Math.floorDiv(days, 7);
        return weeks == 0 ? history : moved(history, weeks);
    }

    private static JsonNode moved(JsonNode node, long weeks) {
        if (node.isObject()) {
            ObjectNode moved = Json.NODES.objectNode();
            node.properties().forEach(member -> moved.set(member.getKey(), moved(member.getValue(), weeks)));
            return moved;
        }
        if (node.isArray()) {
            ArrayNode moved = Json.NODES.arrayNode();
            node.forEach(item -> moved.add(moved(item, weeks)));
            return moved;
        }
        if (!node.isTextual()) return node;
        String text = node.asText();
        return Instants.day(text)
                .map(day -> day.plusWeeks(weeks).toString())
                .or(() -> Instants.instant(text)
                        .map(at -> at.plus(Duration.ofDays(7 * weeks)).toString()))
                .<JsonNode>map(Json.NODES::textNode)
                .orElse(node);
    }
}
