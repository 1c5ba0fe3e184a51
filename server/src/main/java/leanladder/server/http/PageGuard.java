package leanladder.server.http;

import io.javalin.http.Context;

/** What browsers are told to hold pages and answers to: nothing from elsewhere, in no frame, kept by nobody. */
public final class PageGuard {
    private static final String CONTENT = String.join(
            "; ",
            "default-src 'self'",
            "img-src 'self' data:",
            "object-src 'none'",
            "base-uri 'none'",
            "form-action 'self'",
            "frame-ancestors 'none'");

    private PageGuard() {}

    /** Sets the headers; an answer may say later that it can be kept. */
    public static void tell(Context ctx) {
        ctx.header("X-Content-Type-Options", "nosniff");
        ctx.header("Referrer-Policy", "no-referrer");
        ctx.header("Content-Security-Policy", CONTENT);
        ctx.header("Cross-Origin-Resource-Policy", "same-origin");
        ctx.header("Cross-Origin-Opener-Policy", "same-origin");
        if (ctx.path().startsWith("/api/")) ctx.header("Cache-Control", "no-store");
    }
}
