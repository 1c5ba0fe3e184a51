package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import io.javalin.Javalin;
import io.javalin.config.JavalinConfig;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.HttpResponseException;
import io.javalin.http.staticfiles.Location;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import leanladder.document.Json;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The web server: REST under /api/v1, and the web client for every other address. Listens on loopback only. */
final class Server {
    private static final Logger LOG = LoggerFactory.getLogger(Server.class);
    private static final String API = "/api/v1";

    private final Estates estates;
    private final Optional<Path> web;
    private final int port;
    private final Events events;
    private final Clockwork clockwork;

    Server(Estates estates, Optional<Path> web, int port) {
        this.estates = estates;
        this.web = web.map(dir -> dir.toAbsolutePath().normalize());
        this.port = port;
        this.events = new Events(estates, estates.drafts());
        this.clockwork = new Clockwork(estates, estates.drafts(), events);
    }

    /**
     * Starts to answer.
     *
     * @throws io.javalin.util.JavalinException when the port is taken
     */
    Javalin start() {
        Javalin started = Javalin.create(this::configure).start("127.0.0.1", port);
        clockwork.start();
        return started;
    }

    private void configure(JavalinConfig config) {
        config.startup.showJavalinBanner = false;
        config.http.generateEtags = false;
        config.events.serverStopping(() -> {
            clockwork.close();
            events.close();
        });
        config.jetty.modifyHttpConfiguration(http -> http.setSendServerVersion(false));
        web.filter(Files::isDirectory).ifPresent(dir -> {
            config.staticFiles.add(files -> {
                files.directory = dir.toString();
                files.location = Location.EXTERNAL;
                files.headers.put("Cache-Control", "no-cache");
            });
            config.spaRoot.addFile("/", dir.resolve("index.html").toString(), Location.EXTERNAL);
        });
        routes(config.routes);
        problems(config.routes);
    }

    private void routes(RoutesConfig routes) {
        EstateRoutes estate = new EstateRoutes(estates);
        OutcomeRoutes outcomes = new OutcomeRoutes(estates);
        PeopleRoutes people = new PeopleRoutes(estates);
        PolicyRoutes policies = new PolicyRoutes(estates);
        ChangeRoutes changes = new ChangeRoutes(estates);
        SearchRoutes search = new SearchRoutes(estates);
        DirectoryRoutes directory = new DirectoryRoutes(estates);
        DraftRoutes drafts = new DraftRoutes(estates, estates.drafts(), changes);
        HostGuard guard = new HostGuard(port);
        JsonNode openapi = openapi();

        routes.before(ctx -> {
            guard.check(ctx);
            ctx.header("X-Content-Type-Options", "nosniff");
            ctx.header("Referrer-Policy", "no-referrer");
            ctx.header(
                    "Content-Security-Policy",
                    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'");
        });
        routes.get(API + "/openapi.json", ctx -> Answers.json(ctx, openapi));
        routes.get(API + "/session", estate::session);
        routes.get(API + "/estate", estate::export);
        routes.put(API + "/estate", estate::replace);
        routes.get(API + "/catalogue", estate::catalogue);
        routes.get(API + "/search", search::search);
        routes.get(API + "/outcomes", outcomes::outcomes);
        routes.get(API + "/climb", outcomes::climb);
        routes.get(API + "/accounts/{id}", people::account);
        routes.get(API + "/accounts/{id}/settings", people::settings);
        routes.get(API + "/policies", policies::list);
        routes.get(API + "/policies/{id}", policies::one);
        routes.get(API + "/policies/{id}/reaches", policies::reaches);
        routes.get(API + "/policies/{id}/does", policies::does);
        routes.get(API + "/exceptions", new ExceptionRoutes(estates)::list);
        routes.post(API + "/spread", new SpreadRoutes(estates)::spread);
        routes.get(API + "/ways", new WayRoutes(estates)::ways);
        routes.get(API + "/crowd", new CrowdRoutes(estates)::crowd);
        routes.get(API + "/directory/{list}", directory::list);
        routes.get(API + "/directory/{list}/{id}", directory::one);
        routes.post(API + "/addresses", new PasteRoutes(estates)::addresses);
        routes.post(API + "/imports/{what}", new ImportRoutes(estates)::read);
        routes.get(API + "/differences", new DifferenceRoutes(estates)::differences);
        routes.get(API + "/changes", changes::list);
        routes.post(API + "/changes", changes::post);
        routes.get(API + "/changes/{number}", changes::one);
        routes.get(API + "/changes/{number}/inverse", changes::inverse);
        routes.get(API + "/drafts", drafts::list);
        routes.post(API + "/drafts", drafts::begin);
        routes.get(API + "/drafts/{id}", drafts::one);
        routes.patch(API + "/drafts/{id}", drafts::amend);
        routes.delete(API + "/drafts/{id}", drafts::discard);
        routes.post(API + "/drafts/{id}/edits", drafts::stage);
        routes.post(API + "/drafts/{id}/undo", drafts::undo);
        routes.post(API + "/drafts/{id}/redo", drafts::redo);
        routes.post(API + "/drafts/{id}/choose", drafts::choose);
        routes.get(API + "/drafts/{id}/reading", drafts::reading);
        routes.get(API + "/drafts/{id}/ripple", drafts::ripple);
        routes.post(API + "/drafts/{id}/publish", drafts::publish);
        routes.sse(API + "/events", events::open);
        routes.get("/api/*", Server::noSuchRoute);
        routes.post("/api/*", Server::noSuchRoute);
        routes.put("/api/*", Server::noSuchRoute);
        routes.delete("/api/*", Server::noSuchRoute);
        routes.patch("/api/*", Server::noSuchRoute);
    }

    private static void noSuchRoute(Context ctx) {
        throw Problem.unknown("There is nothing at " + ctx.method() + " " + ctx.path()
                + "; /api/v1/openapi.json lists what there is.");
    }

    private static void problems(RoutesConfig routes) {
        routes.exception(Problem.class, (problem, ctx) -> problem.write(ctx));
        routes.exception(
                HttpResponseException.class,
                (refused, ctx) -> Problem.refused(refused.getStatus(), "Refused", refused.getMessage())
                        .write(ctx));
        routes.exception(Exception.class, (failure, ctx) -> {
            LOG.error("{} {} failed", ctx.method(), ctx.path(), failure);
            Problem.refused(500, "Failed", "Something went wrong here; nothing was stored. The server's log says more.")
                    .write(ctx);
        });
    }

    /** The interface's description, kept as YAML and served as JSON. */
    static JsonNode openapi() {
        try (InputStream in = Server.class.getResourceAsStream("/openapi.yaml")) {
            JsonNode yaml = new YAMLMapper().readTree(in);
            return Json.MAPPER.valueToTree(yaml);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
