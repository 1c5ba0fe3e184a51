package leanladder.estate;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Optional;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;

class TimeWindowTest {
    private static final Instant DAY = Instant.parse("2026-11-23T00:00:00Z");

    private static Optional<Instant> hour(int hour) {
        return hour < 0 ? Optional.empty() : Optional.of(DAY.plusSeconds(3600L * hour));
    }

    @Property(tries = 300)
    void anInstantIsBeforeInsideOrAfterAndOnlyEdgesChangeThat(
            @ForAll @IntRange(min = -1, max = 11) int from, @ForAll @IntRange(min = -1, max = 12) int length) {
        TimeWindow timeWindow =
                new TimeWindow(hour(from), length < 0 ? Optional.empty() : hour(Math.max(0, from) + 1 + length));
        boolean before = timeWindow.holds(DAY.minusSeconds(1));
        for (int minute = 0; minute <= 26 * 60; minute += 30) {
            Instant at = DAY.plusSeconds(60L * minute);
            int states =
                    (timeWindow.holds(at) ? 1 : 0) + (timeWindow.isEarly(at) ? 1 : 0) + (timeWindow.isOver(at) ? 1 : 0);
            assertThat(states).isEqualTo(1);
            if (timeWindow.holds(at) != before) assertThat(timeWindow.edges()).contains(at);
            before = timeWindow.holds(at);
        }
    }

    @Property(tries = 20)
    void theBeginningIsInsideAndTheEndIsNot(@ForAll @IntRange(min = 0, max = 20) int from) {
        TimeWindow timeWindow = new TimeWindow(hour(from), hour(from + 1));
        assertThat(timeWindow.holds(hour(from).orElseThrow())).isTrue();
        assertThat(timeWindow.holds(hour(from + 1).orElseThrow())).isFalse();
        assertThat(timeWindow.isOver(hour(from + 1).orElseThrow())).isTrue();
    }
}
