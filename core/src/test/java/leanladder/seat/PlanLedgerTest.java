package leanladder.seat;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

class PlanLedgerTest {
    private static final int ACCOUNTS = 1000;

    /** Few and many seats at once, so that columns are written, added to and written anew. */
    @Property(tries = 100)
    void sinceWhenSeatsAreHeldStaysRightHoweverManyPassOn(@ForAll long seed) {
        Random random = new Random(seed);
        PlanLedger planLedger = PlanLedger.EMPTY;
        Map<Integer, Instant> held = new TreeMap<>();
        for (int move = 0; move < 40; move++) {
            Instant at = Instant.ofEpochSecond(1_000_000L + move, random.nextInt(1_000_000_000));
            RoaringBitmap given = new RoaringBitmap();
            RoaringBitmap returned = new RoaringBitmap();
            int some = random.nextBoolean() ? 3 : 300;
            for (int i = 0; i < some; i++) {
                int account = random.nextInt(ACCOUNTS);
                if (held.containsKey(account)) returned.add(account);
                else given.add(account);
            }
            planLedger = planLedger.moved(given, returned, at);
            for (int account : returned) held.remove(account);
            for (int account : given) held.put(account, at);
            Map<Integer, Instant> told = new TreeMap<>();
            for (int account = 0; account < ACCOUNTS; account++)
                if (planLedger.granted(account).isPresent())
                    told.put(account, planLedger.granted(account).get());
            assertThat(told).isEqualTo(held);
            assertThat(planLedger.holders().stream().boxed()).containsExactlyElementsOf(held.keySet());
        }
    }
}
