package leanladder.server.state;

import com.fasterxml.jackson.databind.JsonNode;
import leanladder.server.http.description.SchemaRef;

/**
 * An edit and the edit of somebody else with which it conflicts: that one was published after this one was made, and touches the same entity.
 *
 * @param yoursInWords empty when the edit no longer fits
 * @param change the change that published theirs
 */
public record EditConflict(
        @SchemaRef("Edit") JsonNode yours,
        JsonNode theirs,
        String yoursInWords,
        String theirsInWords,
        Receipt change) {}
