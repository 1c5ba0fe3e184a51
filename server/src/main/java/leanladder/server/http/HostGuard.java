package leanladder.server.http;

import io.javalin.http.Context;
import java.util.Set;

/**
 * Answers only to this machine's own names. A page from elsewhere that gets a browser to ask here is refused by its Origin,
 * and a name that was made to point here by its Host.
 */
public record HostGuard(int port) {
    /** Refuses what comes from elsewhere. */
    public void check(Context ctx) {
        Set<String> hosts = Set.of("127.0.0.1:" + port, "localhost:" + port, "[::1]:" + port);
        String host = ctx.header("Host");
        if (host == null || !hosts.contains(host))
            throw Problem.refused(
                    421,
                    "Wrong host",
                    "Lean Ladder answers only to 127.0.0.1, localhost and [::1] with port " + port + ".");
        String origin = ctx.header("Origin");
        if (origin != null && hosts.stream().noneMatch(h -> origin.equals("http://" + h)))
            throw Problem.refused(403, "Wrong origin", "Pages from elsewhere may not ask here.");
    }
}
