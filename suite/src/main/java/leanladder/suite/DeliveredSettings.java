package leanladder.suite;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Optional;

/**
 * A value in force, as Lean Ladder delivers it.
 *
 * @param shown there, greyed or absent @param notice what a person reads where it is not there
 */
public record DeliveredSettings(String key, JsonNode value, String shown, Optional<String> notice) {}
