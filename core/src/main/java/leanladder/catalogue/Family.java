package leanladder.catalogue;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Settings that are meant to be set together, and the states that they make together. */
public record Family(String id, String name, List<State> states) {
    /** The keys of its settings, each once, in the order in which its states name them. */
    public Set<String> settings() {
        Set<String> settings = new LinkedHashSet<>();
        states.forEach(s -> settings.addAll(s.values().keySet()));
        return settings;
    }

    /** One state of a family: the values, by key, that make it. */
    public record State(String name, Map<String, Value> values) {}
}
