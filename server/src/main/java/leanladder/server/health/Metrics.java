package leanladder.server.health;

import io.javalin.http.Context;
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

    /** Tells a number whenever it is asked for. @param name as Prometheus writes it, without the prefix */
    public void gauge(String name, String description, Supplier<Number> value) {
        Gauge.builder("lean_ladder_" + name, value).description(description).register(registry);
    }

    /** Counts a request and how long it took. */
    public void request(Context ctx, Duration took) {
        String route = ctx.endpoints().lastHttpEndpoint() == null
                ? "none"
                : ctx.endpoints().lastHttpEndpoint().path;
        Timer.builder("lean_ladder_requests")
                .description("Requests by route, method and status")
                .tag("route", route)
                .tag("method", ctx.method().name())
                .tag("status", Integer.toString(ctx.status().getCode()))
                .register(registry)
                .record(took);
    }

    /** Everything, as Prometheus reads it. */
    public String told() {
        return registry.scrape();
    }
}
