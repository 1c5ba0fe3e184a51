package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import io.javalin.Javalin;
import io.javalin.compression.CompressionStrategy;
import io.javalin.compression.Gzip;
import io.javalin.config.JavalinConfig;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.HttpResponseException;
import io.javalin.http.staticfiles.Location;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import leanladder.server.access.Identity;
import leanladder.server.catalogue.CatalogueRoutes;
import leanladder.server.catalogue.CatalogueTodoSource;
import leanladder.server.check.CheckRoutes;
import leanladder.server.check.DeliveryChecker;
import leanladder.server.directory.AdmissionRoutes;
import leanladder.server.directory.DepartureRoutes;
import leanladder.server.directory.DirectoryRoutes;
import leanladder.server.directory.GroupRuleRoutes;
import leanladder.server.directory.ImportRoutes;
import leanladder.server.directory.OutdatedDeviceRoutes;
import leanladder.server.directory.PasteRoutes;
import leanladder.server.draft.DraftRoutes;
import leanladder.server.draft.DraftService;
import leanladder.server.draft.UndoService;
import leanladder.server.explain.AccountRoutes;
import leanladder.server.explain.DistributionRoutes;
import leanladder.server.explain.GateRemedyRoutes;
import leanladder.server.explain.OutcomeRoutes;
import leanladder.server.explain.OverviewRoutes;
import leanladder.server.explain.SettingRoutes;
import leanladder.server.explain.SettlingRoutes;
import leanladder.server.explain.TurnOffRoutes;
import leanladder.server.explain.WayRoutes;
import leanladder.server.explain.WorkspaceOverviewRoutes;
import leanladder.server.explain.WorkspaceRoutes;
import leanladder.server.files.EstateRoutes;
import leanladder.server.files.PictureRoutes;
import leanladder.server.files.SetupTodoSource;
import leanladder.server.files.StartRoutes;
import leanladder.server.health.HealthRoutes;
import leanladder.server.health.Metrics;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.NotFoundRoutes;
import leanladder.server.http.ProblemException;
import leanladder.server.http.RequestTracing;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.OpenApiDocument;
import leanladder.server.http.protection.HostGuard;
import leanladder.server.http.protection.OverloadProtection;
import leanladder.server.http.protection.RateLimiter;
import leanladder.server.http.protection.SecurityHeaders;
import leanladder.server.logbook.ChangeRoutes;
import leanladder.server.logbook.DifferenceRoutes;
import leanladder.server.mail.MailTodoSource;
import leanladder.server.mail.Mailer;
import leanladder.server.mail.SmtpClient;
import leanladder.server.matrix.MatrixRoutes;
import leanladder.server.policy.PolicyExceptionRoutes;
import leanladder.server.policy.PolicyRoutes;
import leanladder.server.preview.AnnouncementRoutes;
import leanladder.server.preview.ArrivalRoutes;
import leanladder.server.preview.CalendarRoutes;
import leanladder.server.preview.FeedbackRoutes;
import leanladder.server.preview.InvitationMail;
import leanladder.server.preview.PreviewRoutes;
import leanladder.server.preview.RingMemberRoutes;
import leanladder.server.preview.SelfServiceRoutes;
import leanladder.server.query.QueryContext;
import leanladder.server.request.FeatureRequestRoutes;
import leanladder.server.request.FeatureRequestWatcher;
import leanladder.server.request.MyFeatureRequestRoutes;
import leanladder.server.search.SearchIndexDefinition;
import leanladder.server.search.SearchRoutes;
import leanladder.server.seat.ComponentExclusionRoutes;
import leanladder.server.seat.LicenceGapRoutes;
import leanladder.server.seat.PlanRoutes;
import leanladder.server.state.BackgroundScheduler;
import leanladder.server.state.ChangeEventPublisher;
import leanladder.server.state.Publisher;
import leanladder.server.state.StateException;
import leanladder.server.state.Timeline;
import leanladder.server.suite.MyPreviewRoutes;
import leanladder.server.suite.SettingsChangeNotifier;
import leanladder.server.suite.SuiteRoutes;
import leanladder.server.today.TodayRoutes;
import leanladder.server.usage.UsageReader;
import leanladder.server.usage.UsageRoutes;
import leanladder.store.Store;
import leanladder.store.db.Database;
import leanladder.store.db.DatabaseUnavailableException;
import org.eclipse.jetty.io.EofException;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The web server: REST under /api/v1, and the web client for every other address. Listens on loopback only. */
public final class Server implements AutoCloseable {
    /** A third of the time of the usual level, and an answer of settings is a sixth longer than by it. */
    private static final int GZIP_LEVEL = 3;

    private static final Logger LOG = LoggerFactory.getLogger(Server.class);

    private static final int RATE = 3000;
    private static final List<Class<?>> STREAMED = Stream.of(
                    ChangeEventPublisher.RECORDS, SettingsChangeNotifier.RECORDS)
            .flatMap(List::stream)
            .toList();
    private final Store store;
    private final Identity identity;
    private final Endpoints endpoints;
    private final int port;
    private final Timeline timeline;
    private final Publisher publisher;
    private final ChangeEventPublisher changeEventPublisher;
    private final BackgroundScheduler scheduler;
    private final DraftService drafts;
    private final SettingsChangeNotifier settingsChangeNotifier;
    private final DeliveryChecker deliveryChecker;
    private final Mailer mailer;
    private final UsageReader usage;
    private final RateLimiter rateLimiter = RateLimiter.of(Integer.getInteger("ladder.rate", RATE));
    private final Metrics metrics = new Metrics();
    private @Nullable Javalin javalin;

    /**
     * What is elsewhere.
     *
     * @param web the folder of the built web client
     * @param suite the address of the simulated suite
     * @param mail to whom texts to people are handed over
     */
    public record Endpoints(Optional<Path> web, Optional<String> suite, Optional<SmtpClient> mail) {}

    /** A server over a store, not started yet; reads the present estate. */
    public Server(Store store, Identity identity, Clock clock, Endpoints endpoints, int port) {
        this.store = store;
        this.identity = identity;
        this.endpoints = endpoints;
        this.port = port;
        this.timeline = new Timeline(store, clock);
        this.usage = new UsageReader(store.usage());
        this.mailer = new Mailer(store, timeline, endpoints.mail);
        this.publisher = new Publisher(store, timeline, mail());
        this.changeEventPublisher = new ChangeEventPublisher(timeline);
        this.scheduler = new BackgroundScheduler(store, timeline, publisher, changeEventPublisher);
        this.settingsChangeNotifier = new SettingsChangeNotifier(timeline, scheduler, identity.clients());
        new FeatureRequestWatcher(store, timeline, scheduler, mailer);
        this.deliveryChecker = new DeliveryChecker(store, timeline, endpoints.suite, identity.clients());
        this.drafts = new DraftService(store.drafts(), timeline, publisher);
        scheduler.everyTickOnLeader("scheduled drafts", drafts::publishDue);
        scheduler.everyTickOnLeader("delivery checks", deliveryChecker::lookDue);
        scheduler.everyTickOnLeader("mail", mailer::handOver);
        scheduler.everyOnLeader(
                "usage", Duration.ofHours(1), () -> store.usage().compact(timeline.now()));
        scheduler.onDraftChanged(drafts::forget);
        scheduler.keepPrepared(new SearchIndexDefinition());
        metrics.watch(store.database(), timeline, scheduler, changeEventPublisher);
    }

    /** Without a mail server nothing is written to anybody. */
    private Publisher.ChangeMail mail() {
        return mailer.hands() ? InvitationMail::compute : (after, number, edits) -> List.of();
    }

    /** Everything that answers. */
    private static List<RouteGroup> rooms(
            Store store,
            Timeline timeline,
            Publisher publisher,
            DraftService drafts,
            Identity identity,
            Mailer mailer,
            UsageReader usage,
            Optional<String> suite) {
        QueryContext.Reader queries = new QueryContext.Reader(timeline, id -> drafts.rebased(drafts.draft(id)));
        UndoService undoService = new UndoService(store, timeline);
        SettlingRoutes settling = new SettlingRoutes(store, timeline, queries);
        PolicyExceptionRoutes exceptions = new PolicyExceptionRoutes(store, queries);
        PlanRoutes plans = new PlanRoutes(store, timeline, queries, usage);
        PreviewRoutes previews = new PreviewRoutes(queries, usage);
        FeatureRequestRoutes requests = new FeatureRequestRoutes(store, timeline, queries, mailer);
        CheckRoutes checks = new CheckRoutes(store, timeline, queries, drafts);
        return List.of(
                new TodayRoutes(
                        store,
                        timeline,
                        queries,
                        drafts,
                        List.of(
                                requests,
                                checks,
                                new MailTodoSource(store),
                                plans,
                                previews,
                                exceptions,
                                settling,
                                new CatalogueTodoSource(store),
                                new SetupTodoSource())),
                requests,
                new MyFeatureRequestRoutes(store, timeline, queries, identity.clients()),
                checks,
                new EstateRoutes(store, timeline, publisher, identity, suite, mailer),
                new PictureRoutes(store),
                new CatalogueRoutes(queries, timeline),
                new StartRoutes(store, timeline, publisher),
                new SearchRoutes(queries),
                new SettingRoutes(queries),
                new UsageRoutes(usage, timeline, queries, identity.clients()),
                new OutcomeRoutes(queries),
                new AccountRoutes(queries),
                new DistributionRoutes(queries),
                new OverviewRoutes(queries),
                new MatrixRoutes(queries),
                new WorkspaceRoutes(queries),
                new WorkspaceOverviewRoutes(queries),
                new WayRoutes(queries, timeline),
                new TurnOffRoutes(queries, timeline),
                new DepartureRoutes(queries, store),
                new ComponentExclusionRoutes(queries),
                new GateRemedyRoutes(queries, timeline),
                settling,
                new PolicyRoutes(queries, timeline),
                exceptions,
                plans,
                new LicenceGapRoutes(queries),
                previews,
                new ArrivalRoutes(queries),
                new AnnouncementRoutes(queries, mailer),
                new RingMemberRoutes(queries),
                new CalendarRoutes(store, queries),
                new FeedbackRoutes(queries),
                new GroupRuleRoutes(timeline, queries),
                new AdmissionRoutes(queries),
                new OutdatedDeviceRoutes(queries),
                new SelfServiceRoutes(store, timeline, publisher, identity.clients()),
                new SuiteRoutes(timeline, queries, identity.clients()),
                new MyPreviewRoutes(queries, identity.clients()),
                new DirectoryRoutes(timeline, queries),
                new ImportRoutes(timeline, queries),
                new PasteRoutes(queries),
                new DraftRoutes(store, timeline, drafts, undoService, usage),
                new ChangeRoutes(store, timeline, publisher, undoService),
                new DifferenceRoutes(store, timeline));
    }

    /**
     * Starts to answer.
     *
     * @throws io.javalin.util.JavalinException when the port is taken
     */
    public void start() {
        javalin = Javalin.create(this::configure).start("127.0.0.1", port);
        scheduler.start();
    }

    /** Where it answers on loopback. */
    public int port() {
        return port;
    }

    /** The estate in memory. */
    public Timeline timeline() {
        return timeline;
    }

    /** Publishes without a request: what is loaded at the start. */
    public Publisher publisher() {
        return publisher;
    }

    @Override
    public void close() {
        if (javalin != null) javalin.stop();
        scheduler.close();
        changeEventPublisher.close();
        settingsChangeNotifier.close();
    }

    private void configure(JavalinConfig config) {
        config.startup.showJavalinBanner = false;
        config.http.generateEtags = false;
        config.http.compressionStrategy = new CompressionStrategy(null, new Gzip(GZIP_LEVEL));
        config.events.serverStopping(() -> {
            changeEventPublisher.close();
            settingsChangeNotifier.close();
        });
        OverloadProtection.open(config);
        endpoints
                .web
                .map(dir -> dir.toAbsolutePath().normalize())
                .filter(Files::isDirectory)
                .ifPresent(dir -> {
                    config.staticFiles.add(files -> {
                        files.directory = dir.toString();
                        files.location = Location.EXTERNAL;
                        files.headers.put("Cache-Control", "no-cache");
                    });
                    config.spaRoot.addFile("/", dir.resolve("index.html").toString(), Location.EXTERNAL);
                });
        new HealthRoutes(store.database(), timeline, scheduler, metrics).routes(config.routes);
        routes(config.routes);
        problems(config.routes);
    }

    private void routes(RoutesConfig routes) {
        HostGuard guard = new HostGuard(port);
        SecurityHeaders pages = new SecurityHeaders(endpoints.suite);
        routes.before(ctx -> {
            RequestTracing.begin(ctx);
            pages.set(ctx);
            guard.check(ctx);
            if (ctx.path().startsWith(RouteRegistry.ROOT)) rateLimiter.check(ctx);
        });
        routes.after(ctx -> metrics.request(ctx, RequestTracing.end(ctx)));
        RouteRegistry routeRegistry =
                new RouteRegistry(routes, store.database(), identity::name, timeline::now, publisher::follow);
        rooms(store, timeline, publisher, drafts, identity, mailer, usage, endpoints.suite)
                .forEach(routeGroup -> routeGroup.routes(routeRegistry));
        JsonNode description = OpenApiDocument.generate(routeRegistry.routes(), STREAMED);
        routes.get(
                RouteRegistry.ROOT + "/openapi.json",
                ctx -> ctx.contentType("application/json").result(JsonWriter.write(description)));
        routes.get(RouteRegistry.ROOT + "/events", changeEventPublisher::open);
        routes.get(RouteRegistry.ROOT + "/suite/changes", settingsChangeNotifier::open);
        NotFoundRoutes.routes(routes, routeRegistry);
    }

    private static void problems(RoutesConfig routes) {
        routes.exception(ProblemException.class, (problemException, ctx) -> write(ctx, problemException));
        routes.exception(StateException.class, (refused, ctx) -> write(ctx, problem(refused)));
        routes.exception(
                HttpResponseException.class,
                (refused, ctx) -> write(
                        ctx,
                        ProblemException.refused(
                                refused.getStatus(), "Refused", String.valueOf(refused.getMessage()))));
        routes.exception(
                DatabaseUnavailableException.UnknownOutcomeException.class,
                (lost, ctx) -> away(
                        ctx,
                        lost,
                        "The database went away while this was stored, and it is not known whether it was."
                                + " Send the same request with the same Idempotency-Key again: it is carried out once."));
        routes.exception(
                DatabaseUnavailableException.BusyException.class,
                (busyException, ctx) -> away(
                        ctx,
                        busyException,
                        "More is asked of the database than it answers at once; nothing was stored. Try again in a moment."));
        routes.exception(
                DatabaseUnavailableException.class,
                (away, ctx) ->
                        away(ctx, away, "The database does not answer; nothing was stored. Try again in a moment."));
        routes.exception(Exception.class, (failure, ctx) -> {
            if (isOfTheClient(failure)) {
                LOG.info("{} {} was ended by its client", ctx.method(), RequestTracing.route(ctx));
                write(
                        ctx,
                        ProblemException.refused(
                                400, "Ended", "The body ended before it was whole; nothing was stored."));
                return;
            }
            if (Database.isFull(failure)) {
                LOG.error("{} {} failed: the disk is full", ctx.method(), RequestTracing.route(ctx), failure);
                write(
                        ctx,
                        ProblemException.refused(
                                507,
                                "Disk full",
                                "The disk is full; nothing was stored, and nothing is lost. Make room, and send it again."));
                return;
            }
            if (Database.isReadOnly(failure)) {
                away(
                        ctx,
                        failure,
                        "The database takes no changes at the moment, as a standby does not; nothing was stored. Try again in a moment.");
                return;
            }
            if (Database.isAway(failure)) {
                away(ctx, failure, "The database does not answer. Try again in a moment.");
                return;
            }
            LOG.error("{} {} failed", ctx.method(), RequestTracing.route(ctx), failure);
            write(
                    ctx,
                    ProblemException.refused(
                            500,
                            "Failed",
                            "Something went wrong here; nothing was stored. The server's log says more."));
        });
    }

    /** Whether a client left before its request was whole. */
    private static boolean isOfTheClient(Throwable failure) {
        for (Throwable e = failure; e != null && e.getCause() != e; e = e.getCause())
            if (e instanceof EofException) return true;
        return false;
    }

    private static void away(Context ctx, Exception failure, String sentence) {
        LOG.warn(
                "{} {} could not be answered: {}",
                ctx.method(),
                RequestTracing.route(ctx),
                String.valueOf(failure.getCause()));
        write(ctx, ProblemException.refused(503, "Not now", sentence));
    }

    private static ProblemException problem(StateException refused) {
        String detail = String.valueOf(refused.getMessage());
        return switch (refused.reason()) {
            case UNKNOWN -> ProblemException.unknown(detail);
            case READ_ONLY -> ProblemException.refused(409, "Read only", detail);
            case BUSY -> ProblemException.refused(503, "Too busy", detail);
            case TRANSITION_FAILED -> ProblemException.refused(503, "Edge of time failed", detail);
            case STALE -> ProblemException.refused(412, "Base moved", detail);
            case TOO_LARGE -> ProblemException.refused(413, "Too large", detail);
        };
    }

    /** Whatever may be tried again says when. */
    private static void write(Context ctx, ProblemException problemException) {
        if (problemException.status() == 503 || problemException.status() == 429) ctx.header("Retry-After", "1");
        ctx.status(problemException.status())
                .contentType("application/problem+json")
                .result(JsonWriter.write(
                        problemException.with("request", RequestTracing.id(ctx)).details()));
    }

    /** The interface's description, as it is served. */
    @SuppressWarnings("NullAway") // Routes are registered here and never called.
    public static JsonNode description() {
        RouteRegistry routeRegistry = new RouteRegistry();
        rooms(null, null, null, null, Identity.named(""), null, null, Optional.empty())
                .forEach(routeGroup -> routeGroup.routes(routeRegistry));
        return OpenApiDocument.generate(routeRegistry.routes(), STREAMED);
    }
}
