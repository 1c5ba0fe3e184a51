package leanladder.server.health;

import io.javalin.config.RoutesConfig;
import io.javalin.http.Context;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import leanladder.server.http.JsonWriter;
import leanladder.server.state.BackgroundScheduler;
import leanladder.server.state.Timeline;
import leanladder.store.db.Database;

/**
 * How the server is, for whoever watches over it. {@code /health/live} says that the process answers; {@code /health/ready} whether it can do
 * its work, part by part; {@code /metrics} counts, in the format of Prometheus.
 */
public record HealthRoutes(Database database, Timeline timeline, BackgroundScheduler scheduler, Metrics metrics) {
    private static final Duration LONG = Duration.ofSeconds(5);

    /**
     * How a part is.
     *
     * @param millisAgo how long ago it was last heard of
     */
    public record PartHealth(String name, boolean well, long millisAgo, Optional<String> words) {}

    /** How the server is. @param leader whether this server, and no other, does what time brings */
    public record Health(boolean ready, long change, boolean leader, List<PartHealth> parts) {}

    /** Adds the routes. */
    public void routes(RoutesConfig routes) {
        routes.get("/health/live", ctx -> ctx.contentType("text/plain").result("alive\n"));
        routes.get("/health/ready", this::ready);
        routes.get(
                "/metrics",
                ctx -> ctx.contentType("text/plain; version=0.0.4; charset=utf-8")
                        .result(metrics.scrape()));
    }

    private void ready(Context ctx) {
        Health health = health();
        ctx.status(health.ready ? 200 : 503)
                .header("Cache-Control", "no-store")
                .contentType("application/json")
                .result(JsonWriter.write(health));
    }

    /** How it is now. Asks nothing of the database: what it last did tells. */
    public Health health() {
        Duration heard = scheduler.sinceLastContact();
        boolean away = database.isAwayNow();
        boolean follows = heard.compareTo(LONG) < 0;
        List<PartHealth> parts = new ArrayList<>(List.of(
                new PartHealth(
                        "database",
                        !away,
                        heard.toMillis(),
                        away
                                ? Optional.of(
                                        "The database does not answer: what you see stood before, and nothing is stored until it is back. It is asked again all the time; where it crashed, it is started again within 10 s.")
                                : Optional.empty()),
                new PartHealth(
                        "follower",
                        follows,
                        heard.toMillis(),
                        follows
                                ? Optional.empty()
                                : Optional.of(
                                        "What others publish has not been heard for a while; what you see may be old.")),
                new PartHealth("storage", database.storing() == Database.Storing.STORES, 0, stores(database.storing())),
                new PartHealth(
                        "estate",
                        !timeline.isEmpty() && timeline.readOnly().isEmpty(),
                        0,
                        timeline.isEmpty() ? Optional.of("No estate is loaded yet.") : timeline.readOnly())));
        scheduler.states().forEach(task -> parts.add(health(task)));
        return new Health(!away && follows, timeline.isEmpty() ? 0 : timeline.change(), scheduler.isLeader(), parts);
    }

    /** A task that fails does not make the server unready: it is tried again, and nothing else waits for it. */
    private static PartHealth health(BackgroundScheduler.TaskState task) {
        return new PartHealth(
                "task: " + task.name(),
                task.failures() == 0,
                0,
                task.failures() == 0
                        ? Optional.empty()
                        : Optional.of(String.format(
                                Locale.ROOT,
                                "It failed %s: %s. The next attempt is in %d s.",
                                task.failures() == 1 ? "once" : task.failures() + " times in a row",
                                task.trouble().replaceAll("[.\\s]+$", ""),
                                (task.nextMillis() + 999) / 1000)));
    }

    private static Optional<String> stores(Database.Storing storing) {
        return switch (storing) {
            case STORES -> Optional.empty();
            case DISK_FULL ->
                Optional.of(
                        "The disk of the database is full: everything can be looked at, and nothing is stored until there is room.");
            case READ_ONLY ->
                Optional.of(
                        "The database takes no changes, as a standby does not: everything can be looked at, and nothing is stored.");
        };
    }
}
