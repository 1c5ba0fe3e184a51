package leanladder.estate.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.Map;
import java.util.Random;
import java.util.UUID;
import leanladder.json.Json;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class IdIndexTest {
    /** Few letters, so that many ids begin alike, repeat, or would collide in a simple hash. */
    private static String id(Random random) {
        // A UUID, one that is almost one, and letters of which some fit into sixteen bytes.
        if (random.nextInt(5) == 0)
            return new String[] {"", "x", "A"}[random.nextInt(3)]
                    + new UUID(random.nextInt(4), Long.MIN_VALUE + random.nextInt(4))
                            .toString()
                            .substring(random.nextInt(2));
        StringBuilder id = new StringBuilder();
        for (int i = random.nextInt(12); i > 0; i--)
            id.append(new String[] {"Aa", "BB", "a", "\u00ff", "\u0100", "\uD83D\uDEA2"}
                    [random.nextInt(random.nextInt(6) + 1)]);
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
        MemberIdPool list = new MemberIdPool();
        for (int i = 0; i < texts.length; i++) {
            texts[i] =
                    new String[] {"account:", "account:", "account:", "group:", "acc"}[random.nextInt(5)] + id(random);
            if (!list.add(texts[i].toCharArray(), 0, texts[i].length())) list.add(Json.NODES.textNode(texts[i]));
        }
        int[] numbers = list.find(index, "account:");
        assertThat(numbers).hasSize(texts.length);
        for (int i = 0; i < texts.length; i++) {
            boolean plain = texts[i].startsWith("account:") && !texts[i].contains("\uD83D\uDEA2");
            assertThat(numbers[i] < 0 ? null : index.ids().get(numbers[i]))
                    .isSameAs(plain ? wanted.get(texts[i].substring(8)) : null);
            assertThat(list.element(i).textValue()).isEqualTo(texts[i]);
        }
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
