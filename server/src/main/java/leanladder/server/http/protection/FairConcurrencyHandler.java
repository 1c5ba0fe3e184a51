package leanladder.server.http.protection;

import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.TimeUnit;
import leanladder.server.http.RouteRegistry;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.handler.ConditionalHandler;
import org.eclipse.jetty.util.Callback;
import org.eclipse.jetty.util.thread.Scheduler;
import org.jspecify.annotations.Nullable;

/**
 * Bounds the number of requests that are processed at the same time. One path prefix (the first word of the path, such as outcomes or drafts) may use
 * at most half of the slots that it leaves free: a third of all slots when no other prefix is in use, and fewer when others are. Thus expensive
 * requests to one prefix leave slots for the others. Further requests wait without a thread. A request is answered with 503 when it has waited too
 * long, or when too many wait already.
 */
final class FairConcurrencyHandler extends ConditionalHandler.Abstract {
    private final int places;
    private final int mostWaiting;
    private final Duration patience;
    private final Map<String, Kind> kinds = new LinkedHashMap<>();
    private int workedOn;
    private int waiting;

    /**
     * @param places so many are worked on at once
     * @param mostWaiting so many wait at once
     * @param patience for so long one waits at most
     */
    FairConcurrencyHandler(int places, int mostWaiting, Duration patience) {
        this.places = places;
        this.mostWaiting = mostWaiting;
        this.patience = patience;
    }

    /** Those that ask about one thing. */
    private static final class Kind {
        private int workedOn;
        private final Deque<QueuedRequest> waiting = new ArrayDeque<>();

        int workedOn() {
            return workedOn;
        }
    }

    @Override
    public boolean onConditionsNotMet(Request request, Response response, Callback callback) throws Exception {
        return nextHandler(request, response, callback);
    }

    @Override
    public boolean onConditionsMet(Request request, Response response, Callback callback) throws Exception {
        QueuedRequest queuedRequest = new QueuedRequest(kind(request), request, response, callback);
        switch (place(queuedRequest)) {
            case NOW -> {
                return queuedRequest.begin();
            }
            case REFUSED -> queuedRequest.refuse();
            case LATER -> {}
        }
        return true;
    }

    private static String kind(Request request) {
        String path = Request.getPathInContext(request);
        if (!path.startsWith(RouteRegistry.ROOT + "/")) return "";
        int from = RouteRegistry.ROOT.length() + 1;
        int to = path.indexOf('/', from);
        return path.substring(from, to < 0 ? path.length() : to);
    }

    private enum RequestState {
        NOW,
        LATER,
        REFUSED
    }

    private synchronized RequestState place(QueuedRequest queuedRequest) {
        Kind kind = kinds.computeIfAbsent(queuedRequest.kind, k -> new Kind());
        if (hasRoom(kind)) {
            start(kind);
            return RequestState.NOW;
        }
        if (waiting >= mostWaiting) {
            forget(queuedRequest.kind);
            return RequestState.REFUSED;
        }
        waiting++;
        kind.waiting.add(queuedRequest);
        queuedRequest.untilRefused = queuedRequest
                .request
                .getComponents()
                .getScheduler()
                .schedule(queuedRequest::expire, patience.toNanos(), TimeUnit.NANOSECONDS);
        return RequestState.LATER;
    }

    private boolean hasRoom(Kind kind) {
        return 2 * kind.workedOn < places - workedOn;
    }

    private void start(Kind kind) {
        kind.workedOn++;
        workedOn++;
    }

    private void forget(String name) {
        Kind kind = Objects.requireNonNull(kinds.get(name));
        if (kind.workedOn == 0 && kind.waiting.isEmpty()) kinds.remove(name);
    }

    /** One was answered; those that wait and for whom there is room now begin. */
    private void complete(String name) {
        List<QueuedRequest> next = new ArrayList<>();
        synchronized (this) {
            workedOn--;
            Objects.requireNonNull(kinds.get(name)).workedOn--;
            forget(name);
            for (Optional<Kind> kind = next(); kind.isPresent(); kind = next()) {
                start(kind.get());
                waiting--;
                QueuedRequest queuedRequest = kind.get().waiting.remove();
                Objects.requireNonNull(queuedRequest.untilRefused).cancel();
                next.add(queuedRequest);
            }
        }
        next.forEach(QueuedRequest::resume);
    }

    /** Of what is waited for and has room, that of which least is worked on. */
    private Optional<Kind> next() {
        return kinds.values().stream()
                .filter(k -> !k.waiting.isEmpty() && hasRoom(k))
                .min(Comparator.comparingInt(Kind::workedOn));
    }

    private synchronized boolean cancel(QueuedRequest queuedRequest) {
        Kind kind = kinds.get(queuedRequest.kind);
        if (kind == null || !kind.waiting.remove(queuedRequest)) return false;
        waiting--;
        forget(queuedRequest.kind);
        return true;
    }

    /** A request and what it needs to be answered. */
    private final class QueuedRequest {
        private final String kind;
        private final Request request;
        private final Response response;
        private final Callback callback;
        private Scheduler.@Nullable Task untilRefused;

        QueuedRequest(String kind, Request request, Response response, Callback callback) {
            this.kind = kind;
            this.request = request;
            this.response = response;
            this.callback = callback;
        }

        boolean begin() throws Exception {
            Request.addCompletionListener(request, failure -> complete(kind));
            return nextHandler(request, response, callback);
        }

        void resume() {
            try {
                request.getComponents().getExecutor().execute(this::beginLate);
            } catch (RejectedExecutionException stopping) {
                complete(kind);
                callback.failed(stopping);
            }
        }

        private void beginLate() {
            try {
                if (!begin()) throw new IllegalStateException("A request was answered by nobody");
            } catch (Exception failure) {
                Response.writeError(request, response, callback, failure);
            }
        }

        void expire() {
            if (cancel(this)) refuse();
        }

        void refuse() {
            Response.writeError(request, response, callback, HttpStatus.SERVICE_UNAVAILABLE_503);
        }
    }
}
