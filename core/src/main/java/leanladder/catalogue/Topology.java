package leanladder.catalogue;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/**
 * An order in which each name comes after those it points to, or the first cycle that prevents one.
 *
 * @param sorted every name once; meaningful only when there is no cycle
 * @param cycle the names along one cycle, the first repeated at the end; empty when there is none
 */
public record Topology(List<String> sorted, List<String> cycle) {
    /** Walks depth first without recursion, so that chains of any length do. Linear in names and arrows. */
    public static Topology order(Collection<String> names, Function<String, ? extends Collection<String>> pointsTo) {
        Map<String, Boolean> finished = new HashMap<>();
        List<String> sorted = new ArrayList<>();
        for (String start : names) {
            if (finished.containsKey(start)) continue;
            List<String> path = new ArrayList<>();
            List<Iterator<String>> next = new ArrayList<>();
            path.add(start);
            next.add(iterator(pointsTo, start));
            finished.put(start, false);
            while (!path.isEmpty()) {
                Iterator<String> arrows = next.get(next.size() - 1);
                if (arrows.hasNext()) {
                    String to = arrows.next();
                    Boolean state = finished.get(to);
                    if (state == null) {
                        finished.put(to, false);
                        path.add(to);
                        next.add(iterator(pointsTo, to));
                    } else if (!state) {
                        var cycle = new ArrayList<>(path.subList(path.indexOf(to), path.size()));
                        cycle.add(to);
                        return new Topology(sorted, cycle);
                    }
                } else {
                    next.remove(next.size() - 1);
                    String done = path.remove(path.size() - 1);
                    finished.put(done, true);
                    sorted.add(done);
                }
            }
        }
        return new Topology(sorted, List.of());
    }

    private static Iterator<String> iterator(Function<String, ? extends Collection<String>> pointsTo, String name) {
        return List.<String>copyOf(pointsTo.apply(name)).iterator();
    }
}
