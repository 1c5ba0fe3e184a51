package leanladder.change;

import com.fasterxml.jackson.databind.node.ObjectNode;
import leanladder.estate.read.Section;

/** Finds the parts of the estate that edits stand on as the estate file writes them, with every member, known or not. */
@FunctionalInterface
public interface Bodies {
    /** The body of a part that exists. May be slow: it is asked for only where a part is written anew. */
    ObjectNode body(Section section, String key);
}
