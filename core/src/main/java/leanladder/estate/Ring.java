package leanladder.estate;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;

/**
 * A preview ring; they are listed from the innermost to the outermost.
 *
 * @param source as the estate file writes it, with the members that only screens use
 */
public record Ring(String id, String name, boolean asksConsent, ObjectNode source) {
    /** What is agreed to with a consent to it. */
    public Terms terms() {
        return Terms.in(source);
    }

    /** The kinds of device on which it tries things; none where nobody said. */
    public List<String> devices() {
        return Release.texts(source.path("devices"));
    }
}
