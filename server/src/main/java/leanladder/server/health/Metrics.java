package leanladder.server.health;

import io.javalin.http.Context;
import io.micrometer.core.instrument.FunctionCounter;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.Timer;
import io.micrometer.core.instrument.binder.jvm.JvmGcMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmMemoryMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmThreadMetrics;
import io.micrometer.core.instrument.binder.system.ProcessorMetrics;
import io.micrometer.core.instrument.binder.system.UptimeMetrics;
import io.micrometer.prometheusmetrics.PrometheusConfig;
import io.micrometer.prometheusmetrics.PrometheusMeterRegistry;
import java.time.Duration;
import java.util.function.Supplier;
import leanladder.server.http.RequestTracing;
import leanladder.server.state.BackgroundScheduler;
import leanladder.server.state.ChangeEventPublisher;
import leanladder.server.state.Timeline;
import leanladder.store.db.Database;

/** What is counted and measured. Requests are told apart by route, never by address, so that their number is bounded. */
public final class Metrics {
    private final PrometheusMeterRegistry registry = new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);

    /** Measures the process. */
    public Metrics() {
        new JvmMemoryMetrics().bindTo(registry);
        new JvmGcMetrics().bindTo(registry);
        new JvmThreadMetrics().bindTo(registry);
        new ProcessorMetrics().bindTo(registry);
        new UptimeMetrics().bindTo(registry);
    }

    /** Measures what the server holds, follows and waits for. */
    public void watch(
            Database database,
            Timeline timeline,
            BackgroundScheduler scheduler,
            ChangeEventPublisher changeEventPublisher) {
        gauge("journal_changes", "Changes in the journal", () -> timeline.isEmpty() ? 0 : timeline.change());
        gauge(
                "accounts",
                "Accounts, inactive ones too",
                () -> timeline.isEmpty()
                        ? 0
                        : timeline.present().estate().accounts().size());
        gauge("event_streams", "Browsers that are told of events", changeEventPublisher::streams);
        gauge(
                "follower_heard_seconds",
                "How long ago the database was last heard of",
                () -> scheduler.sinceLastContact().toMillis() / 1000.0);
        gauge("holds_clock", "Whether this server does what time brings", () -> scheduler.isLeader() ? 1 : 0);
        gauge(
                "database_active",
                "Connections in use",
                () -> database.connections().active());
        gauge(
                "database_waiting",
                "Who waits for a connection",
                () -> database.connections().waiting());
        scheduler.states().stream().map(BackgroundScheduler.TaskState::name).forEach(name -> task(scheduler, name));
    }

    private void task(BackgroundScheduler scheduler, String name) {
        FunctionCounter.builder(
                        "lean_ladder_task_runs", scheduler, s -> state(s, name).runs())
                .description("Runs of a background task")
                .tag("task", name)
                .register(registry);
        FunctionCounter.builder(
                        "lean_ladder_task_failures",
                        scheduler,
                        s -> state(s, name).allFailures())
                .description("Runs of a background task that failed")
                .tag("task", name)
                .register(registry);
    }

    private static BackgroundScheduler.TaskState state(BackgroundScheduler scheduler, String name) {
        return scheduler.states().stream()
                .filter(state -> state.name().equals(name))
                .findFirst()
                .orElseThrow();
    }

    private void gauge(String name, String description, Supplier<Number> value) {
        Gauge.builder("lean_ladder_" + name, value).description(description).register(registry);
    }

    /** Counts a request and how long it took. */
    public void request(Context ctx, Duration took) {
        Timer.builder("lean_ladder_requests")
                .description("Requests by route, method and status")
                .tag("route", RequestTracing.route(ctx))
                .tag("method", ctx.method().name())
                .tag("status", Integer.toString(ctx.status().getCode()))
                .register(registry)
                .record(took);
    }

    /** Everything, as Prometheus reads it. */
    public String scrape() {
        return registry.scrape();
    }
}
