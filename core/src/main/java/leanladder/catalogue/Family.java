package leanladder.catalogue;

import java.util.List;
import java.util.Map;

/** Settings that are meant to be set together, and the states that they make together. */
public record Family(String id, String name, List<State> states) {
    /** One state of a family: the values, by key, that make it. */
    public record State(String name, Map<String, Value> values) {}
}
