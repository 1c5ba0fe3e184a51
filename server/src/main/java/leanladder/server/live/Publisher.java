package leanladder.server.live;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import leanladder.change.Book;
import leanladder.change.overlay.Footprint;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstate;
import leanladder.resolve.Ground;
import leanladder.server.http.Problem;
import leanladder.store.Store;
import leanladder.store.db.Repeated;
import leanladder.store.db.Request;
import leanladder.store.journal.BaseMoved;
import leanladder.store.journal.Change;
import leanladder.store.journal.Entry;
import leanladder.store.parts.StoredPart;

/**
 * Publishes, and follows what other servers on the same database publish. The store decides who is first; whoever is not carries
 * over onto what came in between and tries again. In this server one thread at a time publishes or follows; what is asked meanwhile
 * is answered from the snapshot before.
 */
public final class Publisher {
    private static final int TRIES = 50;
    private static final int FOLLOWED_AT_ONCE = 200;

    private final Store store;
    private final Timeline timeline;

    /** Publishes into a store and onto a timeline. */
    public Publisher(Store store, Timeline timeline) {
        this.store = store;
        this.timeline = timeline;
    }

    /**
     * How edits are published.
     *
     * @param ripple tells what they alter, as the journal keeps it
     * @param draft the draft that they were, which is taken away
     */
    public record How(
            String author,
            String note,
            Function<Proposal, JsonNode> ripple,
            Optional<Instant> planned,
            Optional<Long> draft) {}

    /** What was published, and the proposal as it was carried onto the estate before. */
    public record Published(Change change, Proposal proposal) {}

    /**
     * Publishes edits, on whatever the estate has become by then.
     *
     * @param check refuses, by throwing, a proposal that may not be published as it is; it is asked for each estate that is tried
     * @throws Repeated when the request was carried out before
     */
    public synchronized Published publish(
            Request request, Proposal proposal, How how, java.util.function.Consumer<Proposal> check) {
        Proposal ready = proposal;
        for (int i = 0; i < TRIES; i++) {
            ready = timeline.onPresent(ready);
            check.accept(ready);
            Snapshot base = ready.base();
            Entry entry = new Entry(
                    timeline.now(),
                    how.author,
                    false,
                    how.note,
                    ready.edits(),
                    ready.words(),
                    how.ripple.apply(ready),
                    how.planned,
                    how.draft);
            try {
                long number = store.parts().publish(request, base.change(), entry, ready.book());
                Change change = store.journal().change(number).orElseThrow();
                Snapshot after = base.edited(ready.book(), number, change.at(), timeline.now());
                Optional<Snapshot> known = ready.afterIfKnown();
                timeline.step(new Timeline.Step(
                        change,
                        known.isPresent() ? known.get().published(after) : after,
                        Optional.of(ready.book().footprint())));
                return new Published(change, ready);
            } catch (BaseMoved moved) {
                follow();
            }
        }
        throw Problem.refused(
                503, "Too busy", "Others publish without a pause; nothing was stored. Try again in a moment.");
    }

    /**
     * Replaces everything by an estate file, as one change. The file is read before anybody has to wait.
     *
     * @param base the change that the sender knows as the last, where it named one
     * @throws InvalidEstate when the file has defects; nothing is stored then
     */
    public Change replace(Request request, InputStream file, Optional<Long> base, String note)
            throws IOException, InvalidEstate {
        checkBase(base);
        List<StoredPart> parts = new ArrayList<>();
        EstateReader.Result read = EstateReader.read(file, part -> parts.add(StoredPart.of(part)));
        parts.addAll(StoredPart.frame(read.frame()));
        Ground ground = new Ground(read.estate());
        ArrayNode edits = Json.NODES.arrayNode();
        edits.addObject().put("kind", "replace-estate");
        return replace(request, ground, parts, base, note, edits);
    }

    private synchronized Change replace(
            Request request, Ground ground, List<StoredPart> parts, Optional<Long> base, String note, ArrayNode edits) {
        for (int i = 0; i < TRIES; i++) {
            checkBase(base);
            Entry entry = new Entry(
                    timeline.now(),
                    request.actor(),
                    false,
                    note,
                    edits,
                    Json.NODES.arrayNode().add("The whole estate is replaced"),
                    Json.NODES.objectNode(),
                    Optional.empty(),
                    Optional.empty());
            try {
                long number = store.parts().replace(request, timeline.change(), entry, parts.stream());
                Change change = store.journal().change(number).orElseThrow();
                timeline.step(new Timeline.Step(change, new Snapshot(number, change.at(), ground), Optional.empty()));
                return change;
            } catch (BaseMoved moved) {
                follow();
            }
        }
        throw Problem.refused(
                503, "Too busy", "Others publish without a pause; nothing was stored. Try again in a moment.");
    }

    private void checkBase(Optional<Long> base) {
        long last = timeline.change();
        if (base.isPresent() && base.get() != last)
            throw Problem.refused(
                    412,
                    "Base moved",
                    "The estate stands at change " + last + ", not " + base.get()
                            + ". Get it again first; nothing was stored.");
    }

    /** Carries out, on the snapshot in memory, what was published since, here or elsewhere. */
    public synchronized void follow() {
        while (true) {
            List<Change> since = store.journal().since(timeline.change(), FOLLOWED_AT_ONCE);
            if (since.isEmpty()) return;
            for (Change change : since) if (change.number() > timeline.change()) follow(change);
        }
    }

    private void follow(Change change) {
        if (change.replacesEstate()) {
            timeline.step(new Timeline.Step(change, timeline.loaded(change.number()), Optional.empty()));
            return;
        }
        Snapshot before = timeline.present();
        Book book = timeline.book(before);
        Defects defects = new Defects();
        for (JsonNode edit : change.edits()) book.apply(new Place(edit, "", defects));
        Optional<Footprint> touched = Optional.of(book.footprint());
        // What the journal holds has been carried out once; should it not fit here, what is stored counts.
        Snapshot after = defects.isEmpty()
                ? before.edited(book, change.number(), change.at(), timeline.now())
                : timeline.loaded(change.number());
        timeline.step(new Timeline.Step(change, after, defects.isEmpty() ? touched : Optional.empty()));
    }
}
