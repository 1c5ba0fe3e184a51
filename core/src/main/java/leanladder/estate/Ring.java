package leanladder.estate;

/** A preview ring; they are listed from the innermost to the outermost. */
public record Ring(String id, String name, boolean asksConsent) {}
