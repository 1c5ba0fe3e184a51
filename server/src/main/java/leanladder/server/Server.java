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
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import leanladder.server.access.Actors;
import leanladder.server.answer.CrowdRoutes;
import leanladder.server.answer.OpenerRoutes;
import leanladder.server.answer.OutcomeRoutes;
import leanladder.server.answer.OverviewRoutes;
import leanladder.server.answer.PeopleRoutes;
import leanladder.server.answer.SettlingRoutes;
import leanladder.server.answer.SpreadRoutes;
import leanladder.server.answer.WayRoutes;
import leanladder.server.answer.WorkspaceRoutes;
import leanladder.server.check.CheckRoutes;
import leanladder.server.check.Checks;
import leanladder.server.directory.DirectoryRoutes;
import leanladder.server.directory.ImportRoutes;
import leanladder.server.directory.PasteRoutes;
import leanladder.server.draft.DraftDesk;
import leanladder.server.draft.DraftRoutes;
import leanladder.server.draft.Inquiry;
import leanladder.server.draft.Inverses;
import leanladder.server.files.EstateRoutes;
import leanladder.server.health.HealthRoutes;
import leanladder.server.health.Metrics;
import leanladder.server.http.Answers;
import leanladder.server.http.Api;
import leanladder.server.http.Description;
import leanladder.server.http.FrontDoor;
import leanladder.server.http.HostGuard;
import leanladder.server.http.Journey;
import leanladder.server.http.PageGuard;
import leanladder.server.http.Problem;
import leanladder.server.http.Rates;
import leanladder.server.http.Room;
import leanladder.server.http.Unrouted;
import leanladder.server.live.BackgroundScheduler;
import leanladder.server.live.Events;
import leanladder.server.live.Publisher;
import leanladder.server.live.Timeline;
import leanladder.server.logbook.ChangeRoutes;
import leanladder.server.logbook.DifferenceRoutes;
import leanladder.server.mail.MailMatters;
import leanladder.server.mail.MailServer;
import leanladder.server.mail.Post;
import leanladder.server.policy.ExceptionRoutes;
import leanladder.server.policy.PolicyRoutes;
import leanladder.server.preview.ArrivalRoutes;
import leanladder.server.preview.CalendarRoutes;
import leanladder.server.preview.FeedbackRoutes;
import leanladder.server.preview.Invitations;
import leanladder.server.preview.NoticeRoutes;
import leanladder.server.preview.OwnWordRoutes;
import leanladder.server.preview.PreviewRoutes;
import leanladder.server.preview.RosterRoutes;
import leanladder.server.request.OwnRequestRoutes;
import leanladder.server.request.RequestRoutes;
import leanladder.server.request.Requests;
import leanladder.server.search.SearchFacet;
import leanladder.server.search.SearchRoutes;
import leanladder.server.seat.NeededRoutes;
import leanladder.server.seat.PlanRoutes;
import leanladder.server.suite.ComingRoutes;
import leanladder.server.suite.SuiteRoutes;
import leanladder.server.suite.Wakes;
import leanladder.server.today.TodayRoutes;
import leanladder.store.Store;
import leanladder.store.db.Database;
import leanladder.store.db.Unavailable;
import org.eclipse.jetty.io.EofException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The web server: REST under /api/v1, and the web client for every other address. Listens on loopback only. */
public final class Server implements AutoCloseable {
    /** A third of the time of the usual level, and an answer of settings is a sixth longer than by it. */
    private static final int GZIP_LEVEL = 3;

    private static final Logger LOG = LoggerFactory.getLogger(Server.class);

    private static final int RATE = 3000;
    private static final List<Class<?>> STREAMED =
            Stream.of(Events.RECORDS, Wakes.RECORDS).flatMap(List::stream).toList();
    private final Store store;
    private final Actors actors;
    private final Places places;
    private final int port;
    private final Timeline timeline;
    private final Publisher publisher;
    private final Events events;
    private final BackgroundScheduler scheduler;
    private final DraftDesk drafts;
    private final Wakes wakes;
    private final Checks checks;
    private final Post post;
    private final Rates rates = Rates.of(Integer.getInteger("ladder.rate", RATE));
    private final Metrics metrics = new Metrics();
    private Javalin javalin;

    /**
     * What is elsewhere.
     *
     * @param web the folder of the built web client
     * @param suite the address of the simulated suite
     * @param mail to whom texts to people are handed over
     */
    public record Places(Optional<Path> web, Optional<String> suite, Optional<MailServer> mail) {}

    /** A server over a store, not started yet; reads the present estate. */
    public Server(Store store, Actors actors, Clock clock, Places places, int port) {
        this.store = store;
        this.actors = actors;
        this.places = places;
        this.port = port;
        this.timeline = new Timeline(store, clock);
        this.post = new Post(store, timeline, places.mail);
        this.publisher = new Publisher(store, timeline, mail());
        this.events = new Events(timeline);
        this.scheduler = new BackgroundScheduler(store, timeline, publisher, events);
        this.wakes = new Wakes(timeline, scheduler, actors.clients());
        new Requests(store, timeline, scheduler, post);
        this.checks = new Checks(store, timeline, places.suite, actors.clients());
        this.drafts = new DraftDesk(store.drafts(), timeline, publisher);
        scheduler.everyTickOnLeader("scheduled drafts", drafts::publishDue);
        scheduler.everyTickOnLeader("delivery checks", checks::lookDue);
        scheduler.everyTickOnLeader("mail", post::handOver);
        scheduler.onDraftChanged(drafts::forget);
        scheduler.keepPrepared(new SearchFacet());
        metrics.watch(store.database(), timeline, scheduler, events);
    }

    /** Without a mail server nothing is written to anybody. */
    private Publisher.ChangeMail mail() {
        return post.hands() ? Invitations::of : (after, number, edits) -> List.of();
    }

    /** Everything that answers. */
    private static List<Room> rooms(
            Store store,
            Timeline timeline,
            Publisher publisher,
            DraftDesk drafts,
            Actors actors,
            Post post,
            Optional<String> suite) {
        Inquiry.Reader inquiries = new Inquiry.Reader(timeline, drafts);
        Inverses inverses = new Inverses(store, timeline);
        SettlingRoutes settling = new SettlingRoutes(store, timeline, inquiries);
        ExceptionRoutes exceptions = new ExceptionRoutes(store, inquiries);
        PlanRoutes plans = new PlanRoutes(store, timeline, inquiries);
        PreviewRoutes previews = new PreviewRoutes(inquiries);
        RequestRoutes requests = new RequestRoutes(store, timeline, inquiries, post);
        CheckRoutes checks = new CheckRoutes(store, timeline, inquiries, drafts);
        return List.of(
                new TodayRoutes(
                        store,
                        timeline,
                        inquiries,
                        drafts,
                        List.of(requests, checks, new MailMatters(store), plans, previews, exceptions, settling)),
                requests,
                new OwnRequestRoutes(store, timeline, inquiries, actors.clients()),
                checks,
                new EstateRoutes(store, timeline, publisher, actors, suite, post),
                new SearchRoutes(inquiries),
                new OutcomeRoutes(inquiries),
                new PeopleRoutes(inquiries),
                new CrowdRoutes(inquiries),
                new OverviewRoutes(inquiries),
                new SpreadRoutes(inquiries),
                new WorkspaceRoutes(inquiries),
                new WayRoutes(inquiries, timeline),
                new OpenerRoutes(inquiries, timeline),
                settling,
                new PolicyRoutes(inquiries),
                exceptions,
                plans,
                new NeededRoutes(inquiries),
                previews,
                new ArrivalRoutes(inquiries),
                new NoticeRoutes(inquiries, post),
                new RosterRoutes(inquiries),
                new CalendarRoutes(store, inquiries),
                new FeedbackRoutes(inquiries),
                new OwnWordRoutes(store, timeline, publisher, actors.clients()),
                new SuiteRoutes(timeline, inquiries, actors.clients()),
                new ComingRoutes(inquiries, actors.clients()),
                new DirectoryRoutes(timeline, inquiries),
                new ImportRoutes(timeline, inquiries),
                new PasteRoutes(inquiries),
                new DraftRoutes(store, timeline, drafts, inverses),
                new ChangeRoutes(store, timeline, publisher, inverses),
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
        events.close();
        wakes.close();
    }

    private void configure(JavalinConfig config) {
        config.startup.showJavalinBanner = false;
        config.http.generateEtags = false;
        config.http.compressionStrategy = new CompressionStrategy(null, new Gzip(GZIP_LEVEL));
        config.events.serverStopping(() -> {
            events.close();
            wakes.close();
        });
        FrontDoor.open(config);
        places.web
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
        PageGuard pages = new PageGuard(places.suite);
        routes.before(ctx -> {
            Journey.begin(ctx);
            pages.tell(ctx);
            guard.check(ctx);
            if (ctx.path().startsWith(Api.ROOT)) rates.check(ctx);
        });
        routes.after(ctx -> metrics.request(ctx, Journey.end(ctx)));
        Api api = new Api(routes, store.database(), actors::name, timeline::now, publisher::follow);
        rooms(store, timeline, publisher, drafts, actors, post, places.suite).forEach(room -> room.routes(api));
        JsonNode description = Description.of(api.told(), STREAMED);
        routes.get(
                Api.ROOT + "/openapi.json",
                ctx -> ctx.contentType("application/json").result(Answers.write(description)));
        routes.get(Api.ROOT + "/events", events::open);
        routes.get(Api.ROOT + "/suite/changes", wakes::open);
        Unrouted.routes(routes, api);
    }

    private static void problems(RoutesConfig routes) {
        routes.exception(Problem.class, (problem, ctx) -> write(ctx, problem));
        routes.exception(
                HttpResponseException.class,
                (refused, ctx) -> write(ctx, Problem.refused(refused.getStatus(), "Refused", refused.getMessage())));
        routes.exception(
                Unavailable.Unknown.class,
                (lost, ctx) -> away(
                        ctx,
                        lost,
                        "The database went away while this was stored, and it is not known whether it was."
                                + " Send the same request with the same Idempotency-Key again: it is carried out once."));
        routes.exception(
                Unavailable.Busy.class,
                (busy, ctx) -> away(
                        ctx,
                        busy,
                        "More is asked of the database than it answers at once; nothing was stored. Try again in a moment."));
        routes.exception(
                Unavailable.class,
                (away, ctx) ->
                        away(ctx, away, "The database does not answer; nothing was stored. Try again in a moment."));
        routes.exception(Exception.class, (failure, ctx) -> {
            if (isOfTheClient(failure)) {
                LOG.info("{} {} was ended by its client", ctx.method(), Journey.route(ctx));
                write(ctx, Problem.refused(400, "Ended", "The body ended before it was whole; nothing was stored."));
                return;
            }
            if (Database.isFull(failure)) {
                LOG.error("{} {} failed: the disk is full", ctx.method(), Journey.route(ctx), failure);
                write(
                        ctx,
                        Problem.refused(
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
            LOG.error("{} {} failed", ctx.method(), Journey.route(ctx), failure);
            write(
                    ctx,
                    Problem.refused(
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
                Journey.route(ctx),
                String.valueOf(failure.getCause()));
        write(ctx, Problem.refused(503, "Not now", sentence));
    }

    /** Whatever may be tried again says when. */
    private static void write(Context ctx, Problem problem) {
        if (problem.status() == 503 || problem.status() == 429) ctx.header("Retry-After", "1");
        ctx.status(problem.status())
                .contentType("application/problem+json")
                .result(Answers.write(problem.with("request", Journey.id(ctx)).details()));
    }

    /** The interface's description, as it is served. */
    public static JsonNode description() {
        Api api = new Api();
        rooms(null, null, null, null, Actors.named(""), null, Optional.empty()).forEach(room -> room.routes(api));
        return Description.of(api.told(), STREAMED);
    }
}
