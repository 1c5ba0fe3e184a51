package leanladder.server.paging;

/** Something by its id, and what it is called. */
public record NamedRef(String id, String name) {}
