package leanladder.store.parts;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import leanladder.document.Json;
import leanladder.estate.read.Part;

/**
 * A part of the estate as a row holds it.
 *
 * @param section a section's member name, or one of {@link #FRAME}, {@link #RANKING} and {@link #RINGS}
 * @param key tells it from others of its section; empty for these
 * @param body JSON text
 */
public record StoredPart(String section, String key, String body) {
    /** The section of the one part that holds the file without the elements of its lists and without the ranking. */
    public static final String FRAME = "frame";

    /** The section of the one part that holds the ranking of policies. */
    public static final String RANKING = "ranking";

    /** The section of the one part that holds the rings, once they were edited; before that they stand in the frame. */
    public static final String RINGS = "rings";

    /** The section under which a change that replaced the estate carries the ledger of its file, by plan. */
    public static final String HOLDERS = "holders";

    /** An element of one of the file's lists. */
    public static StoredPart of(Part part) {
        return new StoredPart(part.section().member(), part.key(), Json.write(part.body()));
    }

    /** Splits an estate file's frame into the two parts that hold it; the ranking is a part of its own. */
    public static List<StoredPart> frame(ObjectNode frame) {
        ObjectNode rest = frame.deepCopy();
        JsonNode ranking = rest.remove("ranking");
        ArrayNode none = Json.NODES.arrayNode();
        StoredPart frameRow = new StoredPart(FRAME, "", Json.write(rest));
        return ranking == null
                ? List.of(frameRow)
                : List.of(frameRow, new StoredPart(RANKING, "", Json.write(ranking.isArray() ? ranking : none)));
    }
}
