package leanladder.server.http;

import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;
import java.util.Set;
import leanladder.store.db.Request;

/** A request as the rooms see it. */
public final class Call {
    /** What stands between the route and what tells the body from others. */
    static final String PRINT = " #";

    private final Context ctx;
    private final Optional<Request> request;

    Call(Context ctx, Optional<Request> request) {
        this.ctx = ctx;
        this.request = request;
    }

    /** Its parameters, of which there may be these. */
    public Query query(Set<String> allowed) {
        return new Query(ctx.queryParamMap(), allowed, Set.of());
    }

    /** Its parameters, of which there may be these, some several times. */
    public Query query(Set<String> allowed, Set<String> repeatable) {
        return new Query(ctx.queryParamMap(), allowed, repeatable);
    }

    /** A part of its path. */
    public String path(String name) {
        return ctx.pathParam(name);
    }

    /** A part of its path that is a number; a problem that names what there is none of, where it is none. */
    public long number(String name, String what) {
        String text = path(name);
        if (!text.matches("\\d{1,18}")) throw Problem.unknown("There is no " + what + " \"" + text + "\".");
        return Long.parseLong(text);
    }

    /** One of its headers. */
    public Optional<String> header(String name) {
        return Optional.ofNullable(ctx.header(name));
    }

    /** Its body as JSON, of so many bytes at most. */
    public Sent sent(long most) throws IOException {
        return Sent.of(ctx, most);
    }

    /** Its body as JSON, of ordinary size. */
    public Sent sent() throws IOException {
        return sent(Limits.BODY);
    }

    /** Its body, of so many bytes at most. */
    public InputStream body(long most) throws IOException {
        return LargeBodies.of(ctx, most);
    }

    /** Its body as it comes; a problem when it goes beyond so many bytes. */
    public InputStream streamedBody(long most) {
        return Sent.bounded(ctx, most);
    }

    /** The key and the actor under which it writes; to be asked for when the body is read, so that the key holds for that alone. */
    public Request request() {
        Request asked = request.orElseThrow(() -> new IllegalStateException("This route does not write"));
        return BodyPrint.of(ctx)
                .print()
                .map(print -> new Request(asked.key(), asked.actor(), asked.fingerprint() + PRINT + print, asked.at()))
                .orElse(asked);
    }
}
