package leanladder.json;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class PersistentListTest {
    /** Against plain lists, in rows of edits; those of before stay what they were. */
    @Property(tries = 200)
    void editedAgainAndAgainItHoldsWhatAPlainListDoes(@ForAll long seed) {
        Random random = new Random(seed);
        List<Integer> plain = new ArrayList<>();
        for (int i = random.nextInt(3000); i > 0; i--) plain.add(random.nextInt());
        PersistentList<Integer> shared = PersistentList.of(plain);
        for (int round = 0; round < 6; round++) {
            List<Integer> before = List.copyOf(shared);
            PersistentList<Integer> was = shared;
            Map<Integer, Integer> replaced = new HashMap<>();
            for (int i = random.nextInt(4); i > 0 && !plain.isEmpty(); i--)
                replaced.put(random.nextInt(plain.size()), random.nextInt());
            List<Integer> added = new ArrayList<>();
            for (int i = random.nextInt(3) * random.nextInt(1200); i > 0; i--) added.add(random.nextInt());
            shared = shared.with(replaced, added);
            replaced.forEach(plain::set);
            plain.addAll(added);
            assertThat(shared).isEqualTo(plain);
            assertThat(shared.toArray()).isEqualTo(plain.toArray());
            assertThat(was).isEqualTo(before);
        }
    }

    @Test
    void itTakesNullAndRefusesWhatLiesOutside() {
        PersistentList<String> list = PersistentList.of(List.of("a", "b"));
        Map<Integer, String> gone = new HashMap<>();
        gone.put(1, null);
        assertThat(list.with(gone, List.of())).containsExactly("a", null);
        assertThatThrownBy(() -> list.get(2)).isInstanceOf(IndexOutOfBoundsException.class);
        assertThat(PersistentList.of(list)).isSameAs(list);
    }
}
