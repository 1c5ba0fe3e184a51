package leanladder.store.entities;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import leanladder.estate.read.EntityRecord;
import leanladder.json.Json;

/**
 * A part of the estate as a row holds it.
 *
 * @param section a section's member name, or one of {@link #FRAME}, {@link #RANKING}, {@link #CATALOGUE}, {@link #RINGS} and {@link #TRACKS}
 * @param key tells it from others of its section; empty for these
 * @param body JSON text
 */
public record StoredEntity(String section, String key, String body) {
    /** The section of the one part that holds the file without the elements of its lists and without the ranking. */
    public static final String FRAME = "frame";

    /** The section of the one part that holds the ranking of policies. */
    public static final String RANKING = "ranking";

    /** The section of the one part that holds the catalogue without its settings, once it was edited; before that it stands in the frame. */
    public static final String CATALOGUE = "catalogue";

    /** The section of the one part that holds the rings, once they were edited; before that they stand in the frame. */
    public static final String RINGS = "rings";

    /** The section of the one part that holds the further tracks, once they were edited; before that they stand in the frame. */
    public static final String TRACKS = "tracks";

    /** The section under which a change that replaced the estate carries the ledger of its file, by plan. */
    public static final String HOLDERS = "holders";

    /** An element of one of the file's lists. */
    public static StoredEntity from(EntityRecord entityRecord) {
        return new StoredEntity(entityRecord.section().member(), entityRecord.key(), Json.write(entityRecord.body()));
    }

    /** Splits an estate file's frame into the two parts that hold it; the ranking is a part of its own. */
    public static List<StoredEntity> frame(ObjectNode frame) {
        ObjectNode rest = frame.deepCopy();
        JsonNode ranking = rest.remove("ranking");
        ArrayNode none = Json.NODES.arrayNode();
        StoredEntity frameRow = new StoredEntity(FRAME, "", Json.write(rest));
        return ranking == null
                ? List.of(frameRow)
                : List.of(frameRow, new StoredEntity(RANKING, "", Json.write(ranking.isArray() ? ranking : none)));
    }
}
