package leanladder.estate;

import java.util.Optional;

/** A node of the tree; the one without a parent is the organisation. */
public record Unit(String id, String name, Optional<String> parent) {}
