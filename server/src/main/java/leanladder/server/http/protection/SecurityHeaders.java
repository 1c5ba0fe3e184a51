package leanladder.server.http.protection;

import io.javalin.http.Context;
import java.util.Optional;

/** What browsers are told to hold pages and answers to: nothing from elsewhere but the simulated suite in a frame, in no frame, kept by nobody. */
public final class SecurityHeaders {
    private final String content;

    /** @param suite the address of the simulated suite */
    public SecurityHeaders(Optional<String> suite) {
        content = String.join(
                "; ",
                "default-src 'self'",
                "img-src 'self' data:",
                "object-src 'none'",
                "base-uri 'none'",
                "form-action 'self'",
                "frame-ancestors 'none'",
                "frame-src " + suite.orElse("'none'"));
    }

    /** Sets the headers; an answer may say later that it can be kept. */
    public void set(Context ctx) {
        ctx.header("X-Content-Type-Options", "nosniff");
        ctx.header("Referrer-Policy", "no-referrer");
        ctx.header("Content-Security-Policy", content);
        ctx.header("Cross-Origin-Resource-Policy", "same-origin");
        ctx.header("Cross-Origin-Opener-Policy", "same-origin");
        if (ctx.path().startsWith("/api/")) ctx.header("Cache-Control", "no-store");
    }
}
