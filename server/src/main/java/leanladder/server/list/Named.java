package leanladder.server.list;

/** Something by its id, and what it is called. */
public record Named(String id, String name) {}
