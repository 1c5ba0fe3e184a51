package leanladder.server.http;

/** A part of the server that answers on some routes. */
@FunctionalInterface
public interface RouteGroup {
    /** Says on which routes it answers, and with what. */
    void routes(RouteRegistry routeRegistry);
}
