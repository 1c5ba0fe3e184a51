package leanladder.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.TimeUnit;
import leanladder.store.db.Spent;
import org.junit.jupiter.api.Test;

class SpentTest {
    @Test
    void whatTookTimeIsToldOnceBySumAndWhatTookNoneIsNot() {
        Spent.told();
        Spent.add("the database", TimeUnit.MILLISECONDS.toNanos(1500));
        Spent.add("the database", TimeUnit.MILLISECONDS.toNanos(500));
        Spent.add("waiting for others to publish", TimeUnit.MILLISECONDS.toNanos(300));
        assertThat(Spent.on("nothing", () -> 7)).isEqualTo(7);
        assertThat(Spent.told())
                .isEqualTo("2000 ms of it on the database, 300 ms of it on waiting for others to publish");
        assertThat(Spent.told()).isEmpty();
    }
}
