package leanladder.server.http;

import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.HandlerType;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/** What is asked where there is no route: nothing there, or another verb than those that there are (RFC 9110, section 15.5.6). */
public final class NotFoundRoutes {
    private static final List<HandlerType> METHODS = List.of(
            HandlerType.GET,
            HandlerType.POST,
            HandlerType.PUT,
            HandlerType.DELETE,
            HandlerType.PATCH,
            HandlerType.OPTIONS,
            HandlerType.TRACE);

    private NotFoundRoutes() {}

    /** Adds what answers then; after all other routes. */
    public static void routes(RoutesConfig routes, RouteRegistry routeRegistry) {
        for (HandlerType method : METHODS) {
            routes.addHttpHandler(method, "/api/*", ctx -> programs(ctx, routeRegistry));
            if (method != HandlerType.GET) routes.addHttpHandler(method, "/*", NotFoundRoutes::pages);
        }
    }

    private static void pages(Context ctx) {
        throw wrongVerb(
                ctx,
                new TreeSet<>(Set.of("GET", "HEAD")),
                "A page can only be read; programs ask below " + RouteRegistry.ROOT + ".");
    }

    private static void programs(Context ctx, RouteRegistry routeRegistry) {
        Set<String> methods = routeRegistry.methodsAt(ctx.path());
        if (methods.isEmpty())
            throw ProblemException.unknown("There is nothing at " + ctx.method() + " " + ctx.path()
                    + "; /api/v1/openapi.json lists what there is.");
        throw wrongVerb(
                ctx,
                methods,
                ctx.method() + " is not for " + ctx.path() + "; " + String.join(" and ", methods)
                        + (methods.size() == 1 ? " is." : " are."));
    }

    private static ProblemException wrongVerb(Context ctx, Set<String> methods, String sentence) {
        ctx.header("Allow", String.join(", ", methods));
        return ProblemException.refused(405, "Not so", sentence);
    }
}
