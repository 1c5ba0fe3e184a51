package leanladder.store.parts;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import leanladder.change.overlay.StoredParts;
import leanladder.estate.read.Section;

/**
 * The stored bodies of parts as they stood after a change. The latest that were asked for stay at hand, for the same is asked for while it
 * is read, told and written; and of what is expected, a piece is read ahead.
 */
final class StoredBodies implements StoredParts {
    private static final int LATEST = 1024;
    private static final int AHEAD = 500;

    private record Key(Section section, String key) {}

    private final PartTable parts;
    private final long number;
    private final Map<Key, ObjectNode> latest = new LinkedHashMap<>() {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, ObjectNode> eldest) {
            return size() > LATEST;
        }
    };
    private List<String> expected = List.of();
    private final Map<Key, Integer> places = new HashMap<>();

    StoredBodies(PartTable parts, long number) {
        this.parts = parts;
        this.number = number;
    }

    @Override
    public synchronized void expect(Section section, Collection<String> keys) {
        expected = List.copyOf(keys);
        places.clear();
        for (int i = 0; i < expected.size(); i++) places.putIfAbsent(new Key(section, expected.get(i)), i);
    }

    @Override
    public synchronized ObjectNode body(Section section, String key) {
        Key one = new Key(section, key);
        ObjectNode there = latest.get(one);
        if (there != null) return there;
        Integer place = places.get(one);
        List<String> wanted =
                place == null ? List.of(key) : expected.subList(place, Math.min(place + AHEAD, expected.size()));
        return bodies(section, wanted).get(key);
    }

    @Override
    public synchronized Map<String, ObjectNode> bodies(Section section, Collection<String> keys) {
        Map<String, ObjectNode> bodies = new HashMap<>();
        for (String key : keys) {
            ObjectNode there = latest.get(new Key(section, key));
            if (there != null) bodies.put(key, there);
        }
        List<String> missing =
                keys.stream().filter(key -> !bodies.containsKey(key)).toList();
        if (missing.isEmpty()) return bodies;
        parts.bodies(section, missing, number).forEach((key, body) -> {
            bodies.put(key, body);
            latest.put(new Key(section, key), body);
        });
        for (String key : missing)
            if (!bodies.containsKey(key)) throw new IllegalStateException("The store lacks " + section + " " + key);
        return bodies;
    }
}
