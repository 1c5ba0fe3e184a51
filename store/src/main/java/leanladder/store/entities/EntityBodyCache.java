package leanladder.store.entities;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import leanladder.estate.read.Section;
import leanladder.workingcopy.EntityStore;
import org.jspecify.annotations.Nullable;

/**
 * The stored bodies of parts as they stood after a change. A few that were asked for by themselves stay at hand, for the same is asked for
 * while it is read, told and written; so does the piece of what is expected that was read ahead last. Bodies can be large: no more is kept.
 */
final class EntityBodyCache implements EntityStore {
    private static final int LATEST = 64;
    private static final int AHEAD = 500;

    private record Key(Section section, String key) {}

    private final EntityTable entities;
    private final long number;
    private final Map<Key, ObjectNode> latest = new LinkedHashMap<>() {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, ObjectNode> eldest) {
            return size() > LATEST;
        }
    };
    private final Map<Key, ObjectNode> ahead = new HashMap<>();
    private final Map<Key, Integer> places = new HashMap<>();
    private List<String> expected = List.of();

    EntityBodyCache(EntityTable entities, long number) {
        this.entities = entities;
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
        ObjectNode there = atHand(one);
        if (there != null) return there;
        Integer place = places.get(one);
        if (place == null) {
            ObjectNode body = Objects.requireNonNull(read(section, List.of(key)).get(key));
            latest.put(one, body);
            return body;
        }
        ahead.clear();
        read(section, expected.subList(place, Math.min(place + AHEAD, expected.size())))
                .forEach((k, body) -> ahead.put(new Key(section, k), body));
        return Objects.requireNonNull(ahead.get(one));
    }

    @Override
    public boolean hasPicture(String sha256) {
        return entities.hasPicture(sha256);
    }

    private @Nullable ObjectNode atHand(Key key) {
        ObjectNode there = ahead.get(key);
        return there != null ? there : latest.get(key);
    }

    @Override
    public synchronized Map<String, ObjectNode> bodies(Section section, Collection<String> keys) {
        Map<String, ObjectNode> bodies = new HashMap<>();
        List<String> missing = new ArrayList<>();
        for (String key : keys) {
            ObjectNode there = atHand(new Key(section, key));
            if (there != null) bodies.put(key, there);
            else missing.add(key);
        }
        bodies.putAll(read(section, missing));
        return bodies;
    }

    /** Those of these keys, each of which the store has. */
    private Map<String, ObjectNode> read(Section section, List<String> keys) {
        if (keys.isEmpty()) return Map.of();
        Map<String, ObjectNode> bodies = entities.bodies(section, keys, number);
        for (String key : keys)
            if (!bodies.containsKey(key)) throw new IllegalStateException("The store lacks " + section + " " + key);
        return bodies;
    }
}
