package leanladder.server.http.protection;

import io.javalin.http.Context;
import java.util.Set;
import leanladder.server.http.ProblemException;

/**
 * Accepts requests only under this machine's own names, which stops DNS rebinding by checking Host. Cross-site requests are refused by Origin or by
 * Fetch Metadata ({@code Sec-Fetch-Site}). A link from another site may open a page here, and nothing else.
 */
public record HostGuard(int port) {
    private static final Set<String> OWN = Set.of("same-origin", "none");

    /** Refuses what comes from elsewhere. */
    public void check(Context ctx) {
        Set<String> hosts = Set.of("127.0.0.1:" + port, "localhost:" + port, "[::1]:" + port);
        String host = ctx.header("Host");
        if (host == null || !hosts.contains(host))
            throw ProblemException.refused(
                    421,
                    "Wrong host",
                    "Lean Ladder answers only to 127.0.0.1, localhost and [::1] with port " + port + ".");
        String origin = ctx.header("Origin");
        String site = ctx.header("Sec-Fetch-Site");
        boolean elsewhere = origin != null && hosts.stream().noneMatch(h -> origin.equals("http://" + h))
                || site != null && !OWN.contains(site) && !isLink(ctx);
        if (elsewhere) throw ProblemException.refused(403, "Wrong origin", "Pages from elsewhere may not ask here.");
    }

    private static boolean isLink(Context ctx) {
        return ctx.method().name().equals("GET")
                && !ctx.path().startsWith("/api/")
                && "navigate".equals(ctx.header("Sec-Fetch-Mode"))
                && "document".equals(ctx.header("Sec-Fetch-Dest"));
    }
}
