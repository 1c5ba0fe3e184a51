package leanladder.bench;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Flow;
import java.util.function.BiConsumer;

/** Hears a stream of events, until it is closed. */
final class EventStreamReader implements AutoCloseable, Flow.Subscriber<String> {
    private static final HttpClient CLIENT =
            HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

    private final BiConsumer<String, String> hears;
    private final CompletableFuture<Flow.Subscription> lines = new CompletableFuture<>();
    private String event = "";

    /** @param hears each event's name and data, as it comes */
    EventStreamReader(String address, BiConsumer<String, String> hears, String... headers) {
        this.hears = hears;
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(address));
        if (headers.length > 0) request.headers(headers);
        CLIENT.sendAsync(request.build(), BodyHandlers.fromLineSubscriber(this)).whenComplete((answer, failure) -> {
            if (failure != null) lines.completeExceptionally(failure);
        });
    }

    @Override
    public void onSubscribe(Flow.Subscription subscription) {
        lines.complete(subscription);
        subscription.request(Long.MAX_VALUE);
    }

    @Override
    public void onNext(String line) {
        if (line.startsWith("event: ")) event = line.substring("event: ".length());
        if (line.startsWith("data: ")) hears.accept(event, line.substring("data: ".length()));
    }

    @Override
    public void onError(Throwable failure) {
        hears.accept("closed", String.valueOf(failure.getMessage()));
    }

    @Override
    public void onComplete() {
        hears.accept("closed", "the server ended it");
    }

    /** Hears nothing any more; the connection is given up. */
    @Override
    public void close() {
        lines.join().cancel();
    }
}
