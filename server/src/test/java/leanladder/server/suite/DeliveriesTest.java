package leanladder.server.suite;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.resolve.Solution;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answers;
import leanladder.server.live.Snapshot;
import leanladder.server.suite.SuiteRoutes.Delivered;
import leanladder.server.suite.SuiteRoutes.Delivery;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Whether looked up or climbed to, a delivery is the record of what is in force, as it is written. */
class DeliveriesTest {
    private static final Instant AT = RandomEstate.NOW;

    private final Deliveries deliveries = new Deliveries();

    private static String expected(Inquiry inquiry, Account account) {
        List<Delivered> settings = new ArrayList<>();
        if (account.active()) {
            Climber climber = inquiry.moment().climber(account);
            for (Setting setting : inquiry.estate().catalogue().settings().values())
                settings.add(Delivered.of(setting, climber.outcome(setting)));
        }
        return text(Answers.write(new Delivery(account.id(), account.active(), settings)));
    }

    private static String text(byte[] json) {
        return new String(json, StandardCharsets.UTF_8);
    }

    private void compareAll(Inquiry inquiry) {
        for (Account account : inquiry.estate().accounts())
            assertThat(text(deliveries.written(inquiry, account)))
                    .as(account.id())
                    .isEqualTo(expected(inquiry, account));
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void aDeliveryReadsTheSameClimbedToAndLookedUp(long seed) {
        Estate estate = RandomEstate.read(RandomEstate.json(seed));
        Inquiry inquiry = new Inquiry(new Snapshot(1, AT, new Ground(estate)), Question.at(AT), Optional.empty());
        Solution solution = inquiry.moment().solution();
        assertThat(solution.isReady()).isFalse();
        compareAll(inquiry);
        solution.all();
        assertThat(solution.isReady()).isTrue();
        compareAll(inquiry);
    }
}
