package leanladder.estate.read;

import com.fasterxml.jackson.databind.node.ObjectNode;

/** One element of a {@link Section}, as the file writes it, with every member, known or not. */
public record EntityRecord(Section section, String key, ObjectNode body) {}
