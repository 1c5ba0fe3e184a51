package leanladder.server.state;

import com.fasterxml.jackson.databind.JsonNode;
import leanladder.server.http.SchemaRef;

/**
 * Both sides of an edit and one that was published since it was made and touches the same parts.
 *
 * @param yoursInWords empty when it cannot be carried out any more
 * @param change the one that brought theirs
 */
public record EditConflict(
        @SchemaRef("Edit") JsonNode yours,
        JsonNode theirs,
        String yoursInWords,
        String theirsInWords,
        Receipt change) {}
