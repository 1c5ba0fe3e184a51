package leanladder.suite;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.BooleanNode;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

/** When what is delivered shows (resolution.md, section 10, as a client keeps it). */
class UptakeTest {
    private static final Instant START = Instant.parse("2026-11-25T08:00:00Z");

    private static PropagationSimulator.Entry entry(int minutes, boolean on) {
        return new PropagationSimulator.Entry(
                START.plus(Duration.ofMinutes(minutes)),
                new DeliveredSettings("k", BooleanNode.valueOf(on), on ? "there" : "absent", Optional.empty()));
    }

    private static Instant at(int minutes) {
        return START.plus(Duration.ofMinutes(minutes));
    }

    private static UserActions allAt(Instant at) {
        return UserActions.of(action -> at);
    }

    @Property
    void whatShowsIsWhatMayHaveArrivedAndNothingThatMustHaveIsMissing(
            @ForAll @Size(max = 6) List<@IntRange(min = 1, max = 300) Integer> gaps,
            @ForAll @IntRange(max = 60) int least,
            @ForAll @IntRange(max = 240) int spread,
            @ForAll @IntRange(max = 2000) int now,
            @ForAll String account) {
        SettleTimes settleTimes =
                new SettleTimes(Duration.ofMinutes(least), Duration.ofMinutes(least + spread), Optional.empty());
        List<PropagationSimulator.Entry> history = new ArrayList<>(List.of(entry(0, false)));
        int minute = 0;
        for (int gap : gaps) history.add(entry(minute += gap, history.size() % 2 == 1));
        PropagationSimulator.PropagatedValue propagatedValue =
                PropagationSimulator.compute(history, settleTimes, account, "chat", at(now), allAt(at(now)));
        // A plain reading of the section: the last that must have arrived, or a later one that may have.
        int must = 0;
        Set<DeliveredSettings> possible = new java.util.HashSet<>();
        for (int i = 1; i < history.size(); i++)
            if (!history.get(i).at().plus(settleTimes.most()).isAfter(at(now))) must = i;
        possible.add(history.get(must).delivered());
        for (int i = must + 1; i < history.size(); i++)
            if (!history.get(i).at().plus(settleTimes.least()).isAfter(at(now)))
                possible.add(history.get(i).delivered());
        assertThat(possible).contains(propagatedValue.shown());
        assertThat(propagatedValue.waitsFor()).isEmpty();
    }

    @Test
    void whatAsksForARestartWaitsForItAndSaysSo() {
        SettleTimes settleTimes =
                new SettleTimes(Duration.ZERO, Duration.ofMinutes(10), Optional.of(UserAction.RESTART));
        List<PropagationSimulator.Entry> history = List.of(entry(0, false), entry(60, true));
        UserActions before = allAt(at(30));
        PropagationSimulator.PropagatedValue propagatedValue =
                PropagationSimulator.compute(history, settleTimes, "a", "chat", at(70), before);
        assertThat(propagatedValue.shown()).isEqualTo(entry(0, false).delivered());
        assertThat(propagatedValue.waitsFor()).contains(UserAction.RESTART);
        propagatedValue = PropagationSimulator.compute(
                history, settleTimes, "a", "chat", at(71), before.and(UserAction.SIGN_IN, at(71)));
        assertThat(propagatedValue.waitsFor()).as("a new sign-in is not enough").contains(UserAction.RESTART);
        propagatedValue = PropagationSimulator.compute(
                history, settleTimes, "a", "chat", at(72), before.and(UserAction.RESTART, at(72)));
        assertThat(propagatedValue.shown()).isEqualTo(entry(60, true).delivered());
        assertThat(propagatedValue.waitsFor()).isEmpty();
    }

    @Test
    void aRestartSignsInAgainAndANewSignInRefreshes() {
        UserActions done = allAt(at(0)).and(UserAction.SIGN_IN, at(10));
        assertThat(done.last(UserAction.REFRESH)).isEqualTo(at(10));
        assertThat(done.last(UserAction.RESTART)).isEqualTo(at(0));
        assertThat(done.and(UserAction.RESTART, at(20)).last(UserAction.REFRESH))
                .isEqualTo(at(20));
        assertThat(done.earliest()).isEqualTo(at(0));
    }

    @Property
    void habitsAreFixedByTheAccountAndNeverInTheFuture(
            @ForAll String account, @ForAll @IntRange(max = 100_000) int now) {
        UserActions done = SimulatedActivity.simulate(account, at(now));
        assertThat(done).isEqualTo(SimulatedActivity.simulate(account, at(now)));
        Instant last = at(now);
        for (UserAction action : UserAction.values()) {
            assertThat(done.last(action)).as("%s", action).isBeforeOrEqualTo(last);
            last = done.last(action);
        }
    }
}
