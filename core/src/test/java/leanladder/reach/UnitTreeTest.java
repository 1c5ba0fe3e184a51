package leanladder.reach;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;
import leanladder.estate.Unit;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class UnitTreeTest {
    private static List<Unit> tree(Random random) {
        List<Unit> units = new ArrayList<>();
        units.add(new Unit("u0", "Top", Optional.empty()));
        for (int i = 1; i < 1 + random.nextInt(20); i++)
            units.add(new Unit("u" + i, "Unit", Optional.of("u" + random.nextInt(i))));
        return units;
    }

    private static boolean isInOrBelow(UnitTree tree, String id, String unit) {
        return tree.path(id).stream().anyMatch(u -> u.id().equals(unit));
    }

    @Property(tries = 500)
    void aUnitWithAllBelowItIsOneStretchAndNothingElseIsInIt(@ForAll long seed) {
        List<Unit> units = tree(new Random(seed));
        UnitTree tree = new UnitTree(units);
        assertThat(tree.preorder()).hasSameSizeAs(units);
        for (Unit unit : units)
            for (Unit other : units) {
                boolean inStretch =
                        tree.place(other.id()) >= tree.place(unit.id()) && tree.place(other.id()) < tree.end(unit.id());
                assertThat(inStretch).isEqualTo(isInOrBelow(tree, other.id(), unit.id()));
            }
    }

    @Property(tries = 200)
    void thePathLeadsFromTheRootDownAndIsAsLongAsTheUnitIsDeep(@ForAll long seed) {
        UnitTree tree = new UnitTree(tree(new Random(seed)));
        for (String id : tree.preorder()) {
            List<Unit> path = tree.path(id);
            assertThat(path).hasSize(tree.depth(id) + 1);
            assertThat(path.get(0).id()).isEqualTo(tree.root());
            for (int i = 1; i < path.size(); i++)
                assertThat(tree.children(path.get(i - 1).id())).contains(path.get(i));
        }
    }

    @Test
    void aVeryDeepTreeIsLaidOut() {
        List<Unit> chain = IntStream.range(0, 100_000)
                .mapToObj(i -> new Unit("u" + i, "Unit", i == 0 ? Optional.empty() : Optional.of("u" + (i - 1))))
                .toList();
        UnitTree tree = new UnitTree(chain);
        assertThat(tree.depth("u99999")).isEqualTo(99_999);
        assertThat(tree.end("u0")).isEqualTo(100_000);
    }

    @Property(tries = 100)
    void smallNumbersAreKeptInTwoBytesAndInFour(@ForAll long seed) {
        Random random = new Random(seed);
        for (int bound : new int[] {2, 1 << 16, (1 << 16) + 1, Integer.MAX_VALUE}) {
            int[] wanted = random.ints(20, 0, bound).toArray();
            wanted[0] = bound - 1;
            PackedIntArray numbers = new PackedIntArray(wanted.length, bound);
            for (int i = 0; i < wanted.length; i++) numbers.set(i, wanted[i]);
            for (int i = 0; i < wanted.length; i++) assertThat(numbers.get(i)).isEqualTo(wanted[i]);
        }
    }
}
