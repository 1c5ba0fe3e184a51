package leanladder.estate;

import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import leanladder.catalogue.Topology;

/**
 * How deep units stand below one another and groups are nested (resolution.md, section 1): at most {@value #MOST} levels each. The
 * organisation is the first level of units; a group that holds no group is one level.
 */
public final class Nesting {
    /** Levels of units, and levels of groups. */
    public static final int MOST = 100;

    private Nesting() {}

    /**
     * The level of each name: one more than the highest level among the names to which it points. Linear in names and arrows.
     *
     * @param pointsTo without a cycle
     */
    public static Map<String, Integer> levels(
            Collection<String> names, Function<String, ? extends Collection<String>> pointsTo) {
        Map<String, Integer> levels = new HashMap<>();
        for (String name : Topology.order(names, pointsTo).sorted()) {
            int level = 0;
            for (String to : pointsTo.apply(name)) level = Math.max(level, levels.getOrDefault(to, 0));
            levels.put(name, level + 1);
        }
        return levels;
    }

    /** What is too deep about an estate that was stored by an earlier version, as a sentence that says what to do. Linear in units and groups. */
    public static Optional<String> excess(Estate estate) {
        Map<String, Unit> units = new HashMap<>();
        estate.units().forEach(u -> units.put(u.id(), u));
        Map<String, Group> groups = new HashMap<>();
        estate.groups().forEach(g -> groups.put(g.id(), g));
        int deepUnits = deepest(levels(
                units.keySet(),
                id -> Objects.requireNonNull(units.get(id))
                        .parent()
                        .map(List::of)
                        .orElse(List.of())));
        int deepGroups = deepest(levels(
                groups.keySet(),
                id -> Objects.requireNonNull(groups.get(id)).members().groups()));
        if (deepUnits <= MOST && deepGroups <= MOST) return Optional.empty();
        String what = deepUnits > MOST ? "units stand " + deepUnits : "groups are nested " + deepGroups;
        return Optional.of("In this estate " + what + " levels deep, and at most " + MOST
                + " are possible. Everything can be looked at, and nothing can be published. Export the estate, make it"
                + " flatter, and load it in place of this one (PUT /api/v1/estate).");
    }

    private static int deepest(Map<String, Integer> levels) {
        return levels.values().stream().mapToInt(i -> i).max().orElse(0);
    }
}
