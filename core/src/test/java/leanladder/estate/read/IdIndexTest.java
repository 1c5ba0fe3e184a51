package leanladder.estate.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.Map;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class IdIndexTest {
    /** Few letters, so that many ids begin alike, repeat, or would collide in a simple hash. */
    private static String id(Random random) {
        StringBuilder id = new StringBuilder();
        for (int i = random.nextInt(7); i > 0; i--)
            id.append(new String[] {"Aa", "BB", "a", "\uD83D\uDEA2"}[random.nextInt(4)]);
        return id.toString();
    }

    @Property(tries = 300)
    void whatWasAddedIsFoundInAnyTextThatEndsInItAndNothingElseIs(@ForAll long seed) {
        Random random = new Random(seed);
        IdIndex index = new IdIndex();
        Map<String, String> wanted = new HashMap<>();
        for (int i = 0; i < 200; i++) {
            String id = id(random);
            assertThat(index.add(id)).isEqualTo(wanted.putIfAbsent(id, id) == null);
        }
        String[] texts = new String[400];
        for (int i = 0; i < texts.length; i++) texts[i] = random.nextInt(9) == 0 ? null : "account:" + id(random);
        int[] numbers = new int[texts.length];
        index.find(texts, 8, numbers);
        for (int i = 0; i < texts.length; i++)
            assertThat(numbers[i] < 0 ? null : index.ids().get(numbers[i]))
                    .isSameAs(texts[i] == null ? null : wanted.get(texts[i].substring(8)));
        for (int i = 0; i < 400; i++) {
            String id = id(random);
            assertThat(index.find("account:" + id, 8)).isSameAs(wanted.get(id));
            assertThat(index.find(id, 0)).isSameAs(wanted.get(id));
        }
    }

    @Test
    void hundredsOfThousandsOfIdsAreKeptApart() {
        IdIndex index = new IdIndex();
        for (int i = 0; i < 300_000; i++) assertThat(index.add("account" + i)).isTrue();
        for (int i = 0; i < 300_000; i += 7)
            assertThat(index.find("account" + i, 0)).isEqualTo("account" + i);
        assertThat(index.add("account299999")).isFalse();
        assertThat(index.find("account300000", 0)).isNull();
    }
}
