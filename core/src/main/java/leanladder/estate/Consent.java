package leanladder.estate;

import java.time.Instant;

/** An account's word, given at an instant, to one preview ring. */
public record Consent(String ring, Instant at) {}
