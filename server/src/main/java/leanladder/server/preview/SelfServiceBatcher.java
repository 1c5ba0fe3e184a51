package leanladder.server.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.locks.LockSupport;
import leanladder.json.Defects;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.http.ProblemException;
import leanladder.server.state.Publisher;
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Timeline;
import leanladder.store.db.DuplicateRequestException;
import leanladder.store.db.RequestTimings;
import leanladder.store.db.WriteRequest;
import leanladder.store.journal.Change;

/**
 * Publishes what people say. A word that comes alone is a change of its own; those that come while another is stored wait for it and
 * are published together, as one change, so that many people can answer at once. One thread publishes for all who wait, so that these
 * need not wake one after the other; where many came lately, it lets as many come again for a moment.
 */
final class SelfServiceBatcher {
    private static final int MOST_TOGETHER = 500;
    private static final Duration LONGEST_GATHERED = Duration.ofMillis(50);
    /** Where nobody has come for so long, nobody else is waited for. */
    private static final Duration QUIET = Duration.ofMillis(4);

    private static final Duration LOOK = Duration.ofMillis(1);
    private static final Duration IDLE = Duration.ofSeconds(10);

    private final Timeline timeline;
    private final Publisher publisher;
    private final ConcurrentLinkedQueue<PendingEdit> waiting = new ConcurrentLinkedQueue<>();
    /** Whether the thread that publishes is at work, or about to be. */
    private final AtomicBoolean atWork = new AtomicBoolean();

    private final ThreadPoolExecutor publishing =
            new ThreadPoolExecutor(1, 1, IDLE.toMillis(), TimeUnit.MILLISECONDS, new LinkedBlockingQueue<>(), work -> {
                Thread thread = new Thread(work, "words of people");
                thread.setDaemon(true);
                return thread;
            });
    /** How many were published the last time, or came meanwhile; of the thread that publishes. */
    private int lately;
    /** How long it took to publish them, in nanoseconds; of the thread that publishes. */
    private long took;

    SelfServiceBatcher(Timeline timeline, Publisher publisher) {
        this.timeline = timeline;
        this.publisher = publisher;
        publishing.allowCoreThreadTimeOut(true);
    }

    /** What became of a word. */
    record SelfServiceResult(Change change, String words) {}

    private record PendingEdit(
            WriteRequest request, ObjectNode edit, String who, CompletableFuture<SelfServiceResult> done) {}

    /**
     * Publishes a word, and returns when it is stored.
     *
     * @throws ProblemException when it does not fit
     * @throws DuplicateRequestException when the request was carried out before
     */
    SelfServiceResult publish(WriteRequest writeRequest, ObjectNode edit, String who) {
        PendingEdit mine = new PendingEdit(writeRequest, edit, who, new CompletableFuture<>());
        waiting.add(mine);
        if (atWork.compareAndSet(false, true)) publishing.execute(this::publishAll);
        long began = System.nanoTime();
        try {
            return mine.done.join();
        } catch (CompletionException failed) {
            if (failed.getCause() instanceof RuntimeException why) throw why;
            throw failed;
        } finally {
            RequestTimings.add("waiting for words to be published together", System.nanoTime() - began);
        }
    }

    /** Publishes until nobody waits. */
    private void publishAll() {
        do {
            while (!waiting.isEmpty()) {
                gather();
                List<PendingEdit> all = taken();
                long began = System.nanoTime();
                try {
                    together(all);
                } catch (RuntimeException | Error failed) {
                    all.forEach(pendingEdit -> pendingEdit.done.completeExceptionally(failed));
                }
                took = System.nanoTime() - began;
                lately = all.size() + waiting.size();
            }
            atWork.set(false);
        } while (!waiting.isEmpty() && atWork.compareAndSet(false, true));
    }

    /** Where many came lately, waits for as many to come again while they do, but not for longer than it took to publish them. */
    private void gather() {
        int seen = waiting.size();
        long now = System.nanoTime();
        long until = now + Math.min(took, LONGEST_GATHERED.toNanos());
        long quiet = now + QUIET.toNanos();
        while (seen < lately && now < until && now < quiet) {
            LockSupport.parkNanos(LOOK.toNanos());
            now = System.nanoTime();
            int came = waiting.size();
            if (came > seen) quiet = now + QUIET.toNanos();
            seen = came;
        }
    }

    /** All who wait, but for those beyond what is published at once, who keep their turn. */
    private List<PendingEdit> taken() {
        List<PendingEdit> taken = new ArrayList<>();
        for (PendingEdit next; taken.size() < MOST_TOGETHER && (next = waiting.poll()) != null; ) taken.add(next);
        return taken;
    }

    private void together(List<PendingEdit> all) {
        List<PendingEdit> fitting = new ArrayList<>();
        RebasedDraft tried = rebasedDraft(all);
        for (int i = 0; i < all.size(); i++) {
            Optional<ProblemException> problem = refusal(tried.items().get(i));
            if (problem.isPresent()) all.get(i).done.completeExceptionally(problem.get());
            else fitting.add(all.get(i));
        }
        if (fitting.isEmpty()) return;
        try {
            published(fitting, tried);
        } catch (RuntimeException failed) {
            if (fitting.size() == 1) fitting.get(0).done.completeExceptionally(failed);
            else for (PendingEdit one : fitting) alone(one);
        }
    }

    /** One by itself, where something is in the way of them together: a key used before, or an estate that others altered meanwhile. */
    private void alone(PendingEdit one) {
        try {
            RebasedDraft tried = rebasedDraft(List.of(one));
            Optional<ProblemException> problem = refusal(tried.items().get(0));
            if (problem.isPresent()) throw problem.get();
            published(List.of(one), tried);
        } catch (RuntimeException failed) {
            one.done.completeExceptionally(failed);
        }
    }

    /** Publishes the edits that fit; the others are left out. */
    private void published(List<PendingEdit> standing, RebasedDraft rebasedDraft) {
        PendingEdit first = standing.get(0);
        WriteRequest writeRequest = first.request.with(standing.subList(1, standing.size()).stream()
                .map(PendingEdit::request)
                .toList());
        String author = switch (standing.size()) {
            case 1 -> first.who;
            case 2 -> first.who + " and one other";
            default -> first.who + " and " + (standing.size() - 1) + " others";
        };
        Change change = publisher
                .publish(
                        writeRequest,
                        rebasedDraft,
                        new Publisher.PublishOptions(
                                author,
                                "",
                                p -> RippleFormatter.from(p).journalled(),
                                Optional.empty(),
                                Optional.empty()),
                        ready -> check(rebasedDraft, ready))
                .change();
        for (int i = 0; i < standing.size(); i++)
            standing.get(i)
                    .done
                    .complete(
                            new SelfServiceResult(change, change.words().path(i).asText()));
    }

    private RebasedDraft rebasedDraft(List<PendingEdit> all) {
        long base = timeline.change();
        List<RebasedDraft.RequestedEdit> wanted = new ArrayList<>();
        for (PendingEdit one : all) wanted.add(new RebasedDraft.RequestedEdit((JsonNode) one.edit, base));
        return timeline.rebasedDraft().with(wanted, "", 0);
    }

    /** What stood when it was tried must stand still when it is published, and nothing else may by then. */
    private static void check(RebasedDraft tried, RebasedDraft ready) {
        for (int i = 0; i < tried.items().size(); i++) {
            if (tried.items().get(i).stands() == ready.items().get(i).stands()) continue;
            throw refusal(ready.items().get(i))
                    .orElseGet(() -> ProblemException.refused(
                            503, "Too busy", "Others publish meanwhile. Try again in a moment."));
        }
    }

    private static Optional<ProblemException> refusal(RebasedDraft.ProposedEdit proposedEdit) {
        if (proposedEdit.stands()) return Optional.empty();
        Defects defects = new Defects();
        proposedEdit.refusals().forEach(d -> defects.add(d.pointer(), d.message()));
        if (defects.isEmpty()) defects.add("", "meets what was published meanwhile; try again");
        return Optional.of(ProblemException.defects(422, "Refused", defects.all()));
    }
}
