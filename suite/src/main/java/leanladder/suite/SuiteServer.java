package leanladder.suite;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.Javalin;
import io.javalin.config.JavalinConfig;
import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import io.javalin.http.staticfiles.Location;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The simulated suite: pages that show what a person would see, each as the person of whoever opens it. A stand-in for tests and for looking,
 * on loopback only; it knows Lean Ladder by its public interface alone, and decides nothing.
 */
public final class SuiteServer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(SuiteServer.class);
    private static final Set<String> WORDS = Set.of("consents", "withdrawals", "refusals", "feedback");
    private static final int BODY = 262_144;
    private static final int SOME = 12;

    private final LeanLadderClient leanLadderClient;
    private final SettingsClient settingsClient;
    private final UsageReporter usageReporter;
    private final Pages pages;
    private final ConversationDemo conversationDemo;
    private final Optional<Path> web;
    private final String ladderAddress;
    private final int port;
    private Javalin javalin;

    /**
     * Not started yet.
     *
     * @param ladderAddress where Lean Ladder is, such as {@code http://127.0.0.1:7466}
     * @param secret of the clients that speak for people
     * @param web the folder of the built page
     */
    public SuiteServer(String ladderAddress, String secret, Clock clock, Optional<Path> web, int port) {
        this.leanLadderClient = new LeanLadderClient(ladderAddress, secret);
        this.ladderAddress = ladderAddress;
        this.settingsClient = new SettingsClient(leanLadderClient, clock);
        this.pages = new Pages(settingsClient, clock);
        this.usageReporter = new UsageReporter(leanLadderClient, clock);
        this.conversationDemo = new ConversationDemo(pages, clock);
        this.web = web.map(dir -> dir.toAbsolutePath().normalize());
        this.port = port;
    }

    /** Starts to answer. */
    public void start() {
        javalin = Javalin.create(this::configure).start("127.0.0.1", port);
    }

    /** Where it answers on loopback. */
    public int port() {
        return javalin.port();
    }

    @Override
    public void close() {
        if (javalin != null) javalin.stop();
        settingsClient.close();
        usageReporter.close();
    }

    /** Begins to report who uses what. */
    public void reportUsage() {
        usageReporter.start();
    }

    private void configure(JavalinConfig config) {
        config.startup.showJavalinBanner = false;
        config.http.maxRequestSize = BODY;
        web.filter(Files::isDirectory).ifPresent(dir -> {
            config.staticFiles.add(files -> {
                files.directory = dir.toString();
                files.location = Location.EXTERNAL;
                files.headers.put("Cache-Control", "no-cache");
            });
            config.spaRoot.addFile("/", dir.resolve("index.html").toString(), Location.EXTERNAL);
        });
        routes(config.routes);
    }

    private void routes(RoutesConfig routes) {
        routes.before(this::guard);
        routes.get(
                "/api/catalogue", ctx -> answer(ctx, settingsClient.catalogue().source()));
        routes.get(
                "/api/company",
                ctx -> answer(
                        ctx,
                        passed(leanLadderClient.get("/session", Optional.empty()))
                                .path("organisation")));
        routes.get("/api/people", this::people);
        routes.get(
                "/api/names",
                ctx -> answer(
                        ctx,
                        passed(leanLadderClient.get(
                                        "/target-names?targets=" + LeanLadderClient.encoded(ctx.queryParam("of")),
                                        Optional.empty()))
                                .path("names")));
        routes.get("/api/pictures/{sha256}", this::picture);
        routes.get("/api/people/{account}", ctx -> answer(ctx, person(ctx.pathParam("account"))));
        routes.post("/api/pages", this::open);
        routes.get("/api/pages/{page}", ctx -> answer(ctx, pages.view(page(ctx), workspace(ctx))));
        routes.post(
                "/api/pages/{page}/clock", ctx -> shown(ctx, pages.set(page(ctx).id(), instant(text(ctx, "at")))));
        routes.post(
                "/api/pages/{page}/deeds",
                ctx -> shown(ctx, pages.userActions(page(ctx).id(), deed(text(ctx, "deed")))));
        routes.get("/api/pages/{page}/coming", ctx -> answer(ctx, coming(page(ctx))));
        routes.post("/api/pages/{page}/words/{word}", this::word);
        routes.get(
                "/api/pages/{page}/reasons/{setting}",
                ctx -> answer(
                        ctx,
                        passed(leanLadderClient.get(
                                own(page(ctx), "reasons/" + LeanLadderClient.encoded(ctx.pathParam("setting"))),
                                Optional.empty()))));
        routes.get(
                "/api/pages/{page}/requests",
                ctx -> answer(ctx, passed(leanLadderClient.get(own(page(ctx), "requests"), Optional.empty()))));
        routes.post(
                "/api/pages/{page}/requests",
                ctx -> answer(
                        ctx,
                        passed(leanLadderClient.post(
                                own(page(ctx), "requests"),
                                sent(ctx),
                                UUID.randomUUID().toString()))));
        routes.get("/api/pages/{page}/talks", ctx -> answer(ctx, talks(page(ctx))));
        routes.post("/api/pages/{page}/talks", ctx -> {
            Pages.Page page = page(ctx);
            conversationDemo.write(page.account(), text(ctx, "to"), text(ctx, "text"));
            answer(ctx, talks(page));
        });
        routes.post("/api/report", this::report);
        routes.get("/api/*", ctx -> {
            throw new HttpStatusException(404, "There is nothing at this address.");
        });
        routes.exception(
                HttpStatusException.class,
                (httpStatusException, ctx) ->
                        fail(ctx, httpStatusException.status(), httpStatusException.getMessage()));
        routes.exception(
                LeanLadderClient.UnreachableException.class,
                (unreachableException, ctx) -> fail(ctx, 503, unreachableException.getMessage()));
        routes.exception(Exception.class, (failure, ctx) -> {
            LOG.error("{} {} failed", ctx.method(), ctx.path(), failure);
            fail(ctx, 500, "Something went wrong here; the suite's log says more.");
        });
    }

    /** Only this machine's own names, and no page from elsewhere; Lean Ladder may show a page inside its own. */
    private void guard(Context ctx) {
        String own = "localhost:" + port() + " 127.0.0.1:" + port();
        String origin = ctx.header("Origin");
        String site = ctx.header("Sec-Fetch-Site");
        boolean isPage = ctx.method().name().equals("GET") && !ctx.path().startsWith("/api/");
        if (ctx.host() == null || !List.of(own.split(" ")).contains(ctx.host()))
            throw new HttpStatusException(421, "The suite answers only to 127.0.0.1 and localhost.");
        if (!isPage && origin != null && !origin.equals("http://" + ctx.host())
                || !isPage && site != null && !site.equals("same-origin") && !site.equals("none"))
            throw new HttpStatusException(403, "Pages from elsewhere may not ask here.");
        String frames = ladderAddress + " " + ladderAddress.replace("127.0.0.1", "localhost");
        ctx.header(
                "Content-Security-Policy",
                "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors "
                        + frames);
        ctx.header("X-Content-Type-Options", "nosniff");
        ctx.header("Referrer-Policy", "no-referrer");
        if (!isPage) ctx.header("Cache-Control", "no-store");
    }

    private void picture(Context ctx) {
        LeanLadderClient.Content picture =
                leanLadderClient.content("/pictures/" + LeanLadderClient.encoded(ctx.pathParam("sha256")));
        ctx.contentType(picture.type()).result(picture.bytes());
    }

    private void people(Context ctx) {
        String words = Optional.ofNullable(ctx.queryParam("q")).orElse("").strip();
        var people = Json.MAPPER.createArrayNode();
        if (words.isEmpty())
            for (JsonNode row : passed(
                            leanLadderClient.get("/directory/people?active=true&count=" + SOME, Optional.empty()))
                    .path("rows")) found(people, row, "name", "unit");
        else
            for (JsonNode hit : passed(leanLadderClient.get(
                            "/search?kinds=account&limit=20&q=" + LeanLadderClient.encoded(words), Optional.empty()))
                    .path("hits")) found(people, hit, "title", "context");
        answer(ctx, people);
    }

    private static void found(ArrayNode people, JsonNode one, String name, String unit) {
        people.addObject()
                .put("id", one.path("id").asText())
                .put("name", one.path(name).asText())
                .put("unit", one.path(unit).asText());
    }

    private JsonNode person(String account) {
        JsonNode known =
                passed(leanLadderClient.get("/accounts/" + LeanLadderClient.encoded(account), Optional.empty()));
        ObjectNode person = Json.MAPPER.createObjectNode();
        person.put("id", account)
                .put("name", known.path("displayName").asText())
                .put("kind", known.path("kind").asText());
        person.set("title", known.path("title"));
        person.put(
                "unit",
                known.path("path")
                        .path(known.path("path").size() - 1)
                        .path("name")
                        .asText());
        person.set("workspaces", known.path("workspaces"));
        return person;
    }

    /** What it has taken up, account by account, for Lean Ladder alone. */
    private void report(Context ctx) {
        if (!leanLadderClient.isKnown(Optional.ofNullable(ctx.header("Authorization"))))
            throw new HttpStatusException(401, "The report is for Lean Ladder.");
        JsonNode sent = sent(ctx);
        String setting = sent.path("setting").asText("");
        Optional<String> workspace =
                Optional.of(sent.path("workspace").asText("")).filter(w -> !w.isEmpty());
        var answer = Json.MAPPER.createObjectNode();
        var accounts = answer.putArray("accounts");
        for (JsonNode one : sent.path("accounts"))
            pages.seen(one.asText(), setting, workspace).ifPresent(pageVisit -> {
                ObjectNode row = accounts.addObject().put("account", one.asText());
                row.set("value", pageVisit.value());
                pageVisit.waitsFor().ifPresent(userAction -> row.put("waitsFor", userAction.word()));
            });
        answer(ctx, answer);
    }

    private void open(Context ctx) {
        JsonNode sent = sent(ctx);
        String account = sent.path("account").asText("");
        JsonNode at = sent.path("at");
        Pages.Page page = pages.open(account, at.isTextual() ? Optional.of(instant(at.asText())) : Optional.empty());
        for (JsonNode deed : sent.path("deeds")) page = pages.userActions(page.id(), deed(deed.asText()));
        ctx.status(201);
        shown(ctx, page);
    }

    /** Where Lean Ladder tells what is the person's own. */
    private static String own(Pages.Page page, String what) {
        return "/suite/accounts/" + LeanLadderClient.encoded(page.account()) + "/" + what;
    }

    private JsonNode coming(Pages.Page page) {
        return passed(leanLadderClient.get(own(page, "previews"), Optional.empty()));
    }

    /** What the person says, carried to Lean Ladder in the person's name. */
    private void word(Context ctx) {
        String word = ctx.pathParam("word");
        if (!WORDS.contains(word)) throw new HttpStatusException(404, "There is nothing at this address.");
        Pages.Page page = page(ctx);
        LeanLadderClient.Answer answer = leanLadderClient.post(
                "/accounts/" + LeanLadderClient.encoded(page.account()) + "/" + word,
                sent(ctx),
                UUID.randomUUID().toString());
        if (answer.status() >= 300) throw HttpStatusException.as(answer);
        answer(ctx, coming(page));
    }

    private List<Map<String, Object>> talks(Pages.Page page) {
        return conversationDemo.of(page.account()).stream()
                .map(talk -> Map.<String, Object>of(
                        "with", talk.with(),
                        "name", person(talk.with()).path("name").asText(),
                        "open", talk.open(),
                        "lines", talk.lines()))
                .toList();
    }

    private Pages.Page page(Context ctx) {
        return pages.page(ctx.pathParam("page"));
    }

    private static Optional<String> workspace(Context ctx) {
        return Optional.ofNullable(ctx.queryParam("workspace")).filter(w -> !w.isEmpty());
    }

    private void shown(Context ctx, Pages.Page page) {
        answer(ctx, pages.view(page, Optional.empty()));
    }

    private static JsonNode passed(LeanLadderClient.Answer answer) {
        if (answer.status() >= 300) throw HttpStatusException.as(answer);
        return answer.body();
    }

    private static JsonNode sent(Context ctx) {
        try {
            JsonNode sent = Json.MAPPER.readTree(ctx.body());
            if (sent != null && sent.isObject()) return sent;
        } catch (JsonProcessingException e) {
            LOG.debug("Not JSON: {}", e.getMessage());
        }
        throw new HttpStatusException(400, "The body has to be a JSON object.");
    }

    private static String text(Context ctx, String member) {
        JsonNode text = sent(ctx).path(member);
        if (!text.isTextual()) throw new HttpStatusException(422, "\"" + member + "\" has to be a text.");
        return text.asText();
    }

    private static Instant instant(String text) {
        try {
            return Instant.parse(text);
        } catch (DateTimeParseException e) {
            throw new HttpStatusException(422, "\"" + text + "\" is not an instant such as 2026-11-25T12:00:00Z.");
        }
    }

    private static UserAction deed(String word) {
        try {
            return UserAction.parse(word);
        } catch (IllegalArgumentException e) {
            throw new HttpStatusException(422, e.getMessage() + ".");
        }
    }

    private static void answer(Context ctx, Object value) {
        ctx.contentType("application/json").result(Json.write(value));
    }

    private static void fail(Context ctx, int status, String sentence) {
        ctx.status(status).contentType("application/json").result(Json.write(Map.of("detail", sentence)));
    }
}
