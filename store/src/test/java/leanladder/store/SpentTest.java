package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.TimeUnit;
import leanladder.store.db.RequestTimings;
import org.junit.jupiter.api.Test;

class SpentTest {
    @Test
    void whatTookTimeIsToldOnceBySumAndWhatTookNoneIsNot() {
        RequestTimings.told();
        RequestTimings.add("the database", TimeUnit.MILLISECONDS.toNanos(1500));
        RequestTimings.add("the database", TimeUnit.MILLISECONDS.toNanos(500));
        RequestTimings.add("waiting for others to publish", TimeUnit.MILLISECONDS.toNanos(300));
        assertThat(RequestTimings.on("nothing", () -> 7)).isEqualTo(7);
        assertThat(RequestTimings.told())
                .isEqualTo("2000 ms of it on the database, 300 ms of it on waiting for others to publish");
        assertThat(RequestTimings.told()).isEmpty();
    }
}
