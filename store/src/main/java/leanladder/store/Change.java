package leanladder.store;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;

/**
 * A published change as the journal holds it.
 *
 * @param number from 1 upwards without gaps
 * @param proven whether the author signed in, or is only named
 * @param edits a list of edits, as they were sent
 */
public record Change(long number, Instant at, String author, boolean proven, String note, JsonNode edits) {}
