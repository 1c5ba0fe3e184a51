package leanladder.estate;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.AppVersion;
import leanladder.json.Json;

/**
 * What an account uses.
 *
 * @param kind such as tablet; free words, compared as they are
 * @param apps the version of each app on it, by the app's id
 * @param seen when it was used last, where that is known; decides nothing
 */
public record Device(
        String id, String kind, Optional<String> name, Map<String, AppVersion> apps, Optional<Instant> seen) {
    /** As the estate file writes it. */
    public ObjectNode json() {
        ObjectNode device = Json.NODES.objectNode().put("id", id).put("kind", kind);
        name.ifPresent(text -> device.put("name", text));
        ObjectNode versions = device.putObject("apps");
        apps.forEach((app, version) -> versions.put(app, version.text()));
        seen.ifPresent(at -> device.put("seen", at.toString()));
        return device;
    }
}
