package leanladder.reach;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import leanladder.estate.Unit;

/** The tree of units: depths, paths, and an order in which a unit with all below it is one stretch. */
public final class UnitTree {
    private final Map<String, Unit> units = new HashMap<>();
    private final Map<String, Integer> depth = new HashMap<>();
    private final List<String> preorder = new ArrayList<>();
    private final Map<String, Integer> place = new HashMap<>();
    private final Map<String, Integer> end = new HashMap<>();
    private final Map<String, List<Unit>> below = new HashMap<>();
    private final String root;

    /** Lays the tree out; siblings stand in the order given. Linear in the units, whatever the depth. */
    public UnitTree(List<Unit> all) {
        String top = null;
        for (Unit unit : all) {
            units.put(unit.id(), unit);
            if (unit.parent().isPresent())
                below.computeIfAbsent(unit.parent().get(), k -> new ArrayList<>())
                        .add(unit);
            else top = unit.id();
        }
        root = Objects.requireNonNull(top, "A tree has a root");
        ArrayDeque<String> open = new ArrayDeque<>();
        open.push(root);
        depth.put(root, 0);
        while (!open.isEmpty()) {
            String id = open.pop();
            place.put(id, preorder.size());
            preorder.add(id);
            List<Unit> children = children(id);
            for (int i = children.size() - 1; i >= 0; i--) {
                depth.put(children.get(i).id(), Objects.requireNonNull(depth.get(id)) + 1);
                open.push(children.get(i).id());
            }
        }
        for (int i = preorder.size() - 1; i >= 0; i--) {
            String id = preorder.get(i);
            end.merge(id, i + 1, Math::max);
            Objects.requireNonNull(units.get(id)).parent().ifPresent(p -> end.merge(p, end.get(id), Math::max));
        }
    }

    public String root() {
        return root;
    }

    public Unit unit(String id) {
        return Objects.requireNonNull(units.get(id));
    }

    /** How far below the root; 0 for the root. */
    public int depth(String id) {
        return Objects.requireNonNull(depth.get(id));
    }

    /** The units directly below. */
    public List<Unit> children(String id) {
        return below.getOrDefault(id, List.of());
    }

    /** All units, each before those below it. */
    public List<String> preorder() {
        return preorder;
    }

    /** Where the unit stands in {@link #preorder()}. */
    public int place(String id) {
        return Objects.requireNonNull(place.get(id));
    }

    /** The place after the last unit below this one. */
    public int end(String id) {
        return Objects.requireNonNull(end.get(id));
    }

    /** The units from the root down to this one. Linear in the depth. */
    public List<Unit> path(String id) {
        var path = new ArrayList<Unit>();
        for (Unit unit = units.get(id);
                unit != null;
                unit = unit.parent().map(units::get).orElse(null)) path.add(unit);
        Collections.reverse(path);
        return path;
    }
}
