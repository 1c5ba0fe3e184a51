package leanladder.estate;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import leanladder.catalogue.Setting;
import leanladder.json.Json;

/**
 * A line of previews with rings of its own (resolution.md, section 7).
 *
 * @param id empty for the main track
 * @param setting the key of the setting that says in which of the rings an account stands
 * @param rings from the innermost to the outermost
 * @param source as the estate file writes it, without the rings; empty for the main track
 */
public record Track(String id, String name, String setting, List<Ring> rings, ObjectNode source) {
    /** The track whose rings stand in the estate itself. */
    static Track main(List<Ring> rings) {
        return new Track("", "", Setting.RING, rings, Json.NODES.objectNode());
    }

    /** The main track, and further ones. */
    public static List<Track> all(List<Ring> rings, List<Track> further) {
        List<Track> all = new ArrayList<>(List.of(main(rings)));
        all.addAll(further);
        return all;
    }

    /** As the estate file writes it. */
    public ObjectNode json() {
        ObjectNode json = source.deepCopy();
        ArrayNode list = json.putArray("rings");
        rings.forEach(ring -> list.add(ring.source().deepCopy()));
        return json;
    }

    /** Whether it is the one whose rings stand in the estate itself. */
    public boolean isMain() {
        return id.isEmpty();
    }
}
