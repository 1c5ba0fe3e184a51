package leanladder.server.http;

import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;
import java.util.Set;
import leanladder.store.db.WriteRequest;

/** A request as route groups see it. */
public final class RequestContext {
    /** What stands between the route and what tells the body from others. */
    static final String PRINT = " #";

    private final Context ctx;
    private final Optional<WriteRequest> request;

    RequestContext(Context ctx, Optional<WriteRequest> request) {
        this.ctx = ctx;
        this.request = request;
    }

    /** Its parameters, of which there may be these. */
    public QueryParameters query(Set<String> allowed) {
        return new QueryParameters(ctx.queryParamMap(), allowed, Set.of());
    }

    /** Its parameters, of which there may be these, some several times. */
    public QueryParameters query(Set<String> allowed, Set<String> repeatable) {
        return new QueryParameters(ctx.queryParamMap(), allowed, repeatable);
    }

    /** A part of its path. */
    public String path(String name) {
        return ctx.pathParam(name);
    }

    /** A part of its path that is a number; a problem that names what there is none of, where it is none. */
    public long number(String name, String what) {
        String text = path(name);
        if (!text.matches("\\d{1,18}")) throw ProblemException.unknown("There is no " + what + " \"" + text + "\".");
        return Long.parseLong(text);
    }

    /** One of its headers. */
    public Optional<String> header(String name) {
        return Optional.ofNullable(ctx.header(name));
    }

    /** Its body as JSON, of so many bytes at most. */
    public JsonRequestBody sent(long most) throws IOException {
        return JsonRequestBody.read(ctx, most);
    }

    /** Its body as JSON, of ordinary size. */
    public JsonRequestBody jsonRequestBody() throws IOException {
        return sent(Limits.BODY);
    }

    /** Its body, of so many bytes at most. */
    public InputStream body(long most) throws IOException {
        return LargeBodySpool.open(ctx, most);
    }

    /** Its body as it comes; a problem when it goes beyond so many bytes. */
    public InputStream streamedBody(long most) {
        return JsonRequestBody.bounded(ctx, most);
    }

    /** The key and the actor under which it writes; to be asked for when the body is read, so that the key holds for that alone. */
    public WriteRequest writeRequest() {
        WriteRequest asked = request.orElseThrow(() -> new IllegalStateException("This route does not write"));
        return BodyDigest.of(ctx)
                .fingerprint()
                .map(print ->
                        new WriteRequest(asked.key(), asked.actor(), asked.fingerprint() + PRINT + print, asked.at()))
                .orElse(asked);
    }
}
