package leanladder.settle;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import leanladder.json.Instants;
import leanladder.json.Json;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class SettlingTest {
    private static final Instant START = Instant.parse("2026-11-23T08:00:00Z");

    static Stream<Path> cases() throws IOException {
        try (Stream<Path> files = Files.list(Path.of("src/test/resources/settling"))) {
            return files.sorted().toList().stream();
        }
    }

    @ParameterizedTest
    @MethodSource("cases")
    void aWorkedCaseComesOutAsItSays(Path file) throws IOException {
        JsonNode worked = Json.read(Files.readString(file));
        List<Settling.Entry<JsonNode>> entries = new ArrayList<>();
        for (JsonNode entry : worked.get("history"))
            entries.add(new Settling.Entry<>(
                    instant(entry.get("at")), entry.get("value"), SettleTime.read(entry.path("settles"))));
        List<Settling.Entry<JsonNode>> history = Settling.history(entries);
        for (JsonNode ask : worked.get("asks")) {
            Settling<JsonNode> said =
                    Settling.at(history, instant(ask.get("at"))).orElseThrow();
            String name = worked.get("name").asText() + " at " + ask.get("at");
            assertThat(said.state().name().toLowerCase(Locale.ROOT))
                    .as(name)
                    .isEqualTo(ask.get("state").asText());
            List<JsonNode> possible = new ArrayList<>();
            ask.get("possible").forEach(possible::add);
            assertThat(said.possible()).as(name).isEqualTo(possible);
            assertThat(said.from())
                    .as(name)
                    .isEqualTo(Optional.ofNullable(ask.get("from")).map(SettlingTest::instant));
            assertThat(said.until())
                    .as(name)
                    .isEqualTo(Optional.ofNullable(ask.get("until")).map(SettlingTest::instant));
            assertThat(said.then().map(SettleTime.RequiredUserAction::word))
                    .as(name)
                    .isEqualTo(Optional.ofNullable(ask.get("then")).map(JsonNode::asText));
        }
    }

    private static Instant instant(JsonNode node) {
        return Instants.instant(node.asText()).orElseThrow();
    }

    /** The section read aloud, sentence by sentence, for one instant. */
    private static String plainly(List<Settling.Entry<Integer>> entries, Instant at) {
        List<Settling.Entry<Integer>> known = new ArrayList<>();
        for (Settling.Entry<Integer> e : entries) {
            if (e.at().isAfter(at)) continue;
            if (!known.isEmpty() && known.get(known.size() - 1).value().equals(e.value())) continue;
            known.add(e);
        }
        if (known.isEmpty()) return "no answer";
        int b = 0;
        for (int i = 1; i < known.size(); i++) {
            Instant must = known.get(i).at().plus(known.get(i).settles().most());
            if (must.isBefore(at) || must.equals(at)) b = i;
        }
        List<Integer> possible = new ArrayList<>(List.of(known.get(b).value()));
        boolean any = false;
        Instant from = Instant.MAX;
        int effort = -1;
        for (int i = b + 1; i < known.size(); i++) {
            Instant may = known.get(i).at().plus(known.get(i).settles().least());
            if (may.isBefore(from)) from = may;
            if (!may.isAfter(at)) {
                any = true;
                if (!possible.contains(known.get(i).value()))
                    possible.add(known.get(i).value());
            }
            effort = Math.max(
                    effort,
                    known.get(i)
                            .settles()
                            .then()
                            .map(SettleTime.RequiredUserAction::ordinal)
                            .orElse(-1));
        }
        if (b == known.size() - 1) return "SETTLED " + possible;
        Settling.Entry<Integer> last = known.get(known.size() - 1);
        return (any ? "EITHER " : "COMING ") + possible + " " + from + " "
                + last.at().plus(last.settles().most()) + " " + effort;
    }

    @Property(tries = 3000)
    void anyHistoryIsToldAsThePlainReadingOfTheSectionTellsIt(@ForAll long seed) {
        Random random = new Random(seed);
        List<Settling.Entry<Integer>> entries = new ArrayList<>();
        Instant at = START;
        for (int i = random.nextInt(7); i >= 0; i--) {
            Duration least = Duration.ofMinutes(random.nextInt(4) * 15L);
            Optional<SettleTime.RequiredUserAction> then = random.nextBoolean()
                    ? Optional.empty()
                    : Optional.of(SettleTime.RequiredUserAction.values()[random.nextInt(3)]);
            entries.add(new Settling.Entry<>(
                    at,
                    random.nextInt(3),
                    new SettleTime(least, least.plus(Duration.ofMinutes(random.nextInt(4) * 20L)), then)));
            at = at.plus(Duration.ofMinutes(random.nextInt(30)));
        }
        List<Settling.Entry<Integer>> history = Settling.history(entries);
        for (int minutes = -5; minutes < 320; minutes += 5) {
            Instant asked = START.plus(Duration.ofMinutes(minutes));
            String told = Settling.at(history, asked)
                    .map(s -> s.state() == Settling.Progress.SETTLED
                            ? "SETTLED " + s.possible()
                            : s.state() + " " + s.possible() + " " + s.from().orElseThrow() + " "
                                    + s.until().orElseThrow() + " "
                                    + s.then()
                                            .map(SettleTime.RequiredUserAction::ordinal)
                                            .orElse(-1))
                    .orElse("no answer");
            assertThat(told).as("%s at %s", entries, asked).isEqualTo(plainly(entries, asked));
        }
    }
}
