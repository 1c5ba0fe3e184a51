package leanladder.catalogue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import leanladder.json.Json;

/**
 * The catalogue without its settings.
 *
 * @param sizes of hosting, smallest first
 * @param apps names by id, in the order of the file
 * @param entitlements names by id, in the order of the file
 * @param families settings that are meant to be set together
 * @param source the catalogue as the estate file writes it, without its settings
 */
public record CatalogueFrame(
        List<String> sizes,
        Map<String, String> apps,
        Map<String, String> entitlements,
        List<Family> families,
        ObjectNode source) {
    /** Of an estate without a catalogue. */
    public static final CatalogueFrame EMPTY =
            new CatalogueFrame(List.of(), Map.of(), Map.of(), List.of(), Json.NODES.objectNode());

    /** Copies the lists. */
    public CatalogueFrame {
        sizes = List.copyOf(sizes);
        apps = Collections.unmodifiableMap(new LinkedHashMap<>(apps));
        entitlements = Collections.unmodifiableMap(new LinkedHashMap<>(entitlements));
        families = List.copyOf(families);
    }
}
