package leanladder.server.http;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.Handler;
import io.javalin.http.HandlerType;
import java.io.IOException;
import java.io.OutputStream;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.concurrent.Semaphore;
import java.util.function.Supplier;
import leanladder.json.Json;
import leanladder.store.db.Database;
import leanladder.store.db.DatabaseUnavailableException;
import leanladder.store.db.DuplicateRequestException;
import leanladder.store.db.WriteRequest;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Registers the routes under {@code /api/v1}. Each route names the records with which it answers; the description is generated from them.
 *
 * <p>A route that writes uses an idempotency key: the caller's {@code Idempotency-Key}, or a generated one. A request whose key was used before is
 * answered with the stored response. Where no response was stored, because the server ended in between, the response is created again from what was
 * written. Before it answers, this server follows all changes, since another server may have written them.
 */
public final class RouteRegistry {
    /** Where all routes stand. */
    public static final String ROOT = "/api/v1";

    private static final Logger LOG = LoggerFactory.getLogger(RouteRegistry.class);
    private static final int LONGEST_KEY = 200;
    private static final int WRITERS = 48;
    /** Bytes of an answer from which on nobody waits for whoever takes it. */
    private static final int LONG = 1 << 20;

    /** Answers a request. */
    @FunctionalInterface
    public interface RouteHandler {
        Response to(RequestContext requestContext) throws IOException;
    }

    /** Tells again what a request wrote, by the number of its change or the id of its draft. */
    @FunctionalInterface
    public interface ReplayHandler {
        Response of(long reference) throws IOException;
    }

    /** A route as it is described. @param writes whether it does so under a key @param answers the records that it can answer with */
    public record Route(HandlerType method, String path, boolean writes, List<Class<?>> answers) {}

    private final Optional<RoutesConfig> routes;
    private final Optional<Database> database;
    private final Supplier<String> actor;
    private final Supplier<Instant> now;
    private final Runnable catchUp;
    private final List<Route> told = new ArrayList<>();
    private final Semaphore writers = new Semaphore(WRITERS);
    private final SpooledResponses spooledResponses = new SpooledResponses();

    /**
     * Routes that are answered.
     *
     * @param catchUp takes in what was published, as far as this server does not know it yet
     */
    public RouteRegistry(
            RoutesConfig routes, Database database, Supplier<String> actor, Supplier<Instant> now, Runnable catchUp) {
        this.routes = Optional.of(routes);
        this.database = Optional.of(database);
        this.actor = actor;
        this.now = now;
        this.catchUp = catchUp;
    }

    /** Routes that are only listed, for their description. */
    public RouteRegistry() {
        routes = Optional.empty();
        database = Optional.empty();
        actor = () -> "";
        now = () -> Instant.EPOCH;
        catchUp = () -> {};
    }

    /** Every route so far. */
    public List<Route> routes() {
        return told;
    }

    /** The methods of the routes that stand at a path, in words of HTTP. */
    public Set<String> methodsAt(String path) {
        Set<String> methods = new TreeSet<>();
        for (Route route : told)
            if (path.matches(route.path().replaceAll("\\{[^}]+}", "[^/]+"))) {
                methods.add(route.method().name());
                if (route.method() == HandlerType.GET) methods.add("HEAD");
            }
        return methods;
    }

    /** A route that only reads. */
    public void get(String path, RouteHandler routeHandler, Class<?>... answers) {
        reading(HandlerType.GET, path, routeHandler, answers);
    }

    /** A route that only reads, though it is sent a body. */
    public void postReadOnly(String path, RouteHandler routeHandler, Class<?>... answers) {
        reading(HandlerType.POST, path, routeHandler, answers);
    }

    private void reading(HandlerType method, String path, RouteHandler routeHandler, Class<?>... answers) {
        add(
                method,
                path,
                false,
                ctx -> write(ctx, routeHandler.to(new RequestContext(ctx, Optional.empty()))),
                answers);
    }

    /** A route that writes something new. */
    public void post(String path, RouteHandler routeHandler, ReplayHandler replayHandler, Class<?>... answers) {
        writing(HandlerType.POST, path, routeHandler, replayHandler, answers);
    }

    /** A route that writes in place of something. */
    public void put(String path, RouteHandler routeHandler, ReplayHandler replayHandler, Class<?>... answers) {
        writing(HandlerType.PUT, path, routeHandler, replayHandler, answers);
    }

    /** A route that alters something. */
    public void patch(String path, RouteHandler routeHandler, ReplayHandler replayHandler, Class<?>... answers) {
        writing(HandlerType.PATCH, path, routeHandler, replayHandler, answers);
    }

    /** A route that takes something away. */
    public void delete(String path, RouteHandler routeHandler, ReplayHandler replayHandler) {
        writing(HandlerType.DELETE, path, routeHandler, replayHandler);
    }

    private void writing(
            HandlerType method,
            String path,
            RouteHandler routeHandler,
            ReplayHandler replayHandler,
            Class<?>... answers) {
        add(method, path, true, ctx -> limitWriters(ctx, () -> write(ctx, routeHandler, replayHandler)), answers);
    }

    /** Something that may fail as reading does. */
    private interface Work {
        void carryOut() throws IOException;
    }

    /** Writes wait for one another; so many may, and the rest are told at once, so that whoever reads is not kept waiting by them. */
    private void limitWriters(Context ctx, Work work) throws IOException {
        if (!writers.tryAcquire())
            throw ProblemException.refused(
                    503,
                    "Too busy",
                    "More is being stored than can be at once; nothing was stored. Try again in a moment.");
        try {
            work.carryOut();
        } finally {
            writers.release();
        }
    }

    private void write(Context ctx, RouteHandler routeHandler, ReplayHandler replayHandler) throws IOException {
        Optional<String> key = Optional.ofNullable(ctx.header("Idempotency-Key"));
        key.filter(k -> k.isBlank() || k.length() > LONGEST_KEY).ifPresent(k -> {
            throw ProblemException.wrongInput("The Idempotency-Key must have 1 to " + LONGEST_KEY + " characters.");
        });
        String fingerprint =
                ctx.method() + " " + ctx.path() + (ctx.queryString() == null ? "" : "?" + ctx.queryString());
        if (key.isPresent() && repeated(ctx, key.get(), fingerprint, replayHandler)) return;
        WriteRequest writeRequest = new WriteRequest(
                key.orElseGet(() -> UUID.randomUUID().toString()), actor.get(), fingerprint, now.get());
        Response response;
        try {
            response = routeHandler.to(new RequestContext(ctx, Optional.of(writeRequest)));
        } catch (DuplicateRequestException meanwhile) {
            onceStored(ctx, () -> {
                catchUp.run();
                write(ctx, replayHandler.of(meanwhile.reference()));
            });
            return;
        } catch (RuntimeException failure) {
            throw database.orElseThrow().hasStored(writeRequest.key()) && !(failure instanceof ProblemException)
                    ? stored(ctx, failure)
                    : failure;
        }
        if (key.isPresent()) note(key.get(), response);
        write(ctx, response);
    }

    /** Tells what was stored. */
    private static void onceStored(Context ctx, Work telling) throws IOException {
        try {
            telling.carryOut();
        } catch (ProblemException told) {
            throw told;
        } catch (RuntimeException failure) {
            throw stored(ctx, failure);
        }
    }

    /** Whatever goes wrong after it was stored, it must not be said that it was not. */
    private static ProblemException stored(Context ctx, RuntimeException failure) {
        LOG.warn("{} {} was stored and could not be answered", ctx.method(), RequestTracing.route(ctx), failure);
        boolean away = failure instanceof DatabaseUnavailableException || Database.isAway(failure);
        return ProblemException.refused(
                away ? 503 : 500,
                "Stored",
                "This was stored, but what came of it cannot be told at the moment. Do not send it anew; look again in a moment.");
    }

    private void add(HandlerType method, String path, boolean writes, Handler handler, Class<?>... answers) {
        told.add(new Route(method, ROOT + path, writes, List.of(answers)));
        routes.ifPresent(r -> r.addHttpHandler(method, ROOT + path, ctx -> {
            try {
                handler.handle(ctx);
            } finally {
                LargeBodySpool.release(ctx);
            }
        }));
    }

    /** Whether the request of this key was carried out before; then it is answered as it was. */
    private boolean repeated(Context ctx, String key, String fingerprint, ReplayHandler replayHandler)
            throws IOException {
        Optional<Database.Done> done;
        try {
            done = database.orElseThrow().done(key);
        } catch (DatabaseUnavailableException away) {
            throw database.orElseThrow().hasStored(key) ? stored(ctx, away) : away;
        }
        if (done.isEmpty()) return false;
        String of = done.get().fingerprint();
        boolean same = of.equals(fingerprint) || of.equals(fingerprint + RequestContext.PRINT + fingerprint(ctx));
        if (!same)
            throw ProblemException.refused(
                    422,
                    "Key used before",
                    "This Idempotency-Key was used for another request, \""
                            + of.replaceAll(RequestContext.PRINT + ".*", "")
                            + "\". Nothing was stored; use a new key for each request.");
        onceStored(ctx, () -> {
            catchUp.run();
            if (done.get().answer().isEmpty())
                write(ctx, replayHandler.of(done.get().reference()));
            else replay(ctx, done.get().answer().get());
        });
        return true;
    }

    /** What tells the body from others, as far as it may be read. */
    private static String fingerprint(Context ctx) throws IOException {
        BodyDigest body = BodyDigest.of(ctx);
        JsonRequestBody.bounded(ctx, Limits.BATCH).transferTo(OutputStream.nullOutputStream());
        return body.fingerprint().orElse("");
    }

    private void note(String key, Response response) {
        ObjectNode noted = Json.NODES.objectNode().put("status", response.status());
        ObjectNode headers = noted.putObject("headers");
        response.headers().forEach(headers::put);
        if (response.content() != null) noted.put("body", Base64.getEncoder().encodeToString(response.json()));
        try {
            database.orElseThrow().note(key, noted);
        } catch (DatabaseUnavailableException away) {
            // It is answered all the same; the same key again is answered from what was written.
            LOG.warn(
                    "The answer to the request of key {} could not be noted: {}", key, String.valueOf(away.getCause()));
        }
    }

    private static void replay(Context ctx, JsonNode noted) {
        ctx.status(noted.get("status").asInt());
        noted.get("headers")
                .properties()
                .forEach(h -> ctx.header(h.getKey(), h.getValue().asText()));
        if (noted.has("body"))
            ctx.contentType("application/json")
                    .result(Base64.getDecoder().decode(noted.get("body").asText()));
    }

    private void write(Context ctx, Response response) throws IOException {
        ctx.status(response.status());
        response.headers().forEach(ctx::header);
        if (response.content() == null) return;
        if (response.content() instanceof CsvResponse csvResponse) {
            spooledResponses.send(ctx, csvResponse::writeTo, false);
            ctx.contentType("text/csv; charset=utf-8");
            ctx.header("Content-Disposition", "attachment; filename=\"" + csvResponse.file() + "\"");
            return;
        }
        if (response.content() instanceof TextResponse textResponse) {
            ctx.contentType(textResponse.type()).result(textResponse.text());
            return;
        }
        if (response.content() instanceof BinaryResponse binary) {
            ctx.contentType(binary.type()).result(binary.content());
            return;
        }
        ctx.contentType("application/json");
        if (response.content() instanceof Response.ContentWriter contentWriter)
            spooledResponses.send(ctx, contentWriter, true);
        else if (response.json().length > LONG) spooledResponses.send(ctx, out -> out.write(response.json()), false);
        else ctx.result(response.json());
    }
}
