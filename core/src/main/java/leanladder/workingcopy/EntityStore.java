package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import leanladder.estate.read.Section;

/** Finds the parts of the estate that edits stand on as the estate file writes them, with every member, known or not. */
@FunctionalInterface
public interface EntityStore {
    /** The body of a part that exists. May be slow: it is asked for only where a part is written anew. */
    ObjectNode body(Section section, String key);

    /** Whether the content of a picture is stored that the estate itself does not hold. @param sha256 in lower-case hexadecimal digits */
    default boolean hasPicture(String sha256) {
        return false;
    }

    /** Says which parts of a section are going to be asked for one by one, in this order; whoever can may fetch them together. */
    default void expect(Section section, Collection<String> keys) {}

    /** The bodies of many parts of a section, by key; whoever can should fetch them together. */
    default Map<String, ObjectNode> bodies(Section section, Collection<String> keys) {
        Map<String, ObjectNode> bodies = new HashMap<>();
        for (String key : keys) bodies.put(key, body(section, key));
        return bodies;
    }
}
