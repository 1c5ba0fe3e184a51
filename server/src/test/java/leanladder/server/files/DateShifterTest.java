package leanladder.server.files;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import leanladder.json.Json;
import org.junit.jupiter.api.Test;

/** The dates of a written history, loaded weeks later. */
class DateShifterTest {
    private static JsonNode history(String week) {
        return Json.read(("{'week':'" + week + "','days':23,'at':'08:30','estate':{'releases':[{'opens':{'dry-dock':"
                        + "'2026-12-03T06:00:00Z'},'planned':{'everyone':'2026-12-14'},'note':'Since 2026-12-03.'}]}}")
                .replace('\'', '"'));
    }

    private static JsonNode release(JsonNode history) {
        return history.at("/estate/releases/0");
    }

    @Test
    void inTheWeekThatItNamesNothingMoves() {
        JsonNode history = history("2026-11-26");
        assertThat(DateShifter.moved(history, Instant.parse("2026-12-02T23:59:59Z")))
                .isSameAs(history);
        assertThat(DateShifter.moved(history, Instant.parse("2026-11-26T00:00:00Z")))
                .isSameAs(history);
    }

    @Test
    void laterAndEarlierItsDaysAndInstantsMoveByWholeWeeksAndNothingElseDoes() {
        JsonNode later = DateShifter.moved(history("2026-11-26"), Instant.parse("2027-01-08T10:00:00Z"));
        assertThat(release(later).at("/opens/dry-dock").asText()).isEqualTo("2027-01-14T06:00:00Z");
        assertThat(release(later).at("/planned/everyone").asText()).isEqualTo("2027-01-25");
        assertThat(release(later).get("note").asText()).isEqualTo("Since 2026-12-03.");
        assertThat(later.get("days").asInt()).isEqualTo(23);
        assertThat(later.get("at").asText()).isEqualTo("08:30");
        JsonNode earlier = DateShifter.moved(history("2026-11-26"), Instant.parse("2026-11-25T10:00:00Z"));
        assertThat(release(earlier).at("/opens/dry-dock").asText()).isEqualTo("2026-11-26T06:00:00Z");
    }

    @Test
    void aHistoryThatNamesNoWeekStaysAsItIs() {
        JsonNode history = history("some day");
        assertThat(DateShifter.moved(history, Instant.parse("2030-01-01T00:00:00Z")))
                .isSameAs(history);
    }
}
