package leanladder.catalogue;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class TopologyTest {
    private static Map<String, List<String>> arrows(Random random) {
        Map<String, List<String>> arrows = new HashMap<>();
        int names = 1 + random.nextInt(8);
        for (int i = 0; i < names; i++) {
            List<String> to = new ArrayList<>();
            for (int j = 0; j < names; j++) if (random.nextInt(6) == 0) to.add("n" + j);
            arrows.put("n" + i, to);
        }
        return arrows;
    }

    /** Whether names are left when those that point to nothing left are removed again and again. */
    private static boolean hasCycle(Map<String, List<String>> arrows) {
        Set<String> left = new HashSet<>(arrows.keySet());
        while (left.removeIf(n -> arrows.get(n).stream().noneMatch(left::contains))) {}
        return !left.isEmpty();
    }

    @Property(tries = 1000)
    void everyNameComesAfterThoseItPointsToOrACycleIsNamed(@ForAll long seed) {
        Map<String, List<String>> arrows = arrows(new Random(seed));
        Topology order = Topology.order(arrows.keySet(), arrows::get);
        assertThat(order.cycle().isEmpty()).isEqualTo(!hasCycle(arrows));
        if (order.cycle().isEmpty()) {
            assertThat(order.sorted()).containsExactlyInAnyOrderElementsOf(arrows.keySet());
            arrows.forEach(
                    (from, all) -> all.forEach(to -> assertThat(order.sorted().indexOf(to))
                            .isLessThan(order.sorted().indexOf(from))));
        } else {
            List<String> cycle = order.cycle();
            assertThat(cycle.get(0)).isEqualTo(cycle.get(cycle.size() - 1));
            for (int i = 1; i < cycle.size(); i++)
                assertThat(arrows.get(cycle.get(i - 1))).contains(cycle.get(i));
        }
    }

    @Test
    void aVeryLongChainIsPutInOrder() {
        List<String> names =
                IntStream.range(0, 200_000).mapToObj(Integer::toString).toList();
        Topology order = Topology.order(
                names, name -> name.equals("199999") ? List.of() : List.of(String.valueOf(Integer.parseInt(name) + 1)));
        assertThat(order.cycle()).isEmpty();
        assertThat(order.sorted().get(0)).isEqualTo("199999");
    }
}
