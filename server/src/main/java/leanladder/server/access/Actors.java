package leanladder.server.access;

/** Who asks. Until people sign in, everybody who asks this server is known by one name. */
public record Actors(String name) {}
