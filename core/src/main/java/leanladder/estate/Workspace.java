package leanladder.estate;

import java.util.List;

/** A place where accounts work together, on hosting of some size, possibly a trial. */
public record Workspace(String id, String name, String size, boolean trial, List<String> stewards, Members members) {}
