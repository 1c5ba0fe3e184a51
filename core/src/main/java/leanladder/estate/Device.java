package leanladder.estate;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.AppVersion;

/**
 * What an account uses.
 *
 * @param kind such as tablet; free words, compared as they are
 * @param apps the version of each app on it, by the app's id
 * @param seen when it was used last, where that is known; decides nothing
 */
public record Device(
        String id, String kind, Optional<String> name, Map<String, AppVersion> apps, Optional<Instant> seen) {}
