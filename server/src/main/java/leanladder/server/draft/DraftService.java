package leanladder.server.draft;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.state.BoundedMutex;
import leanladder.server.state.Publisher;
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Snapshot;
import leanladder.server.state.StateException;
import leanladder.server.state.Timeline;
import leanladder.store.db.Database;
import leanladder.store.db.DatabaseUnavailableException;
import leanladder.store.db.DuplicateRequestException;
import leanladder.store.db.WriteRequest;
import leanladder.store.drafts.Draft;
import leanladder.store.drafts.DraftLine;
import leanladder.store.drafts.DraftTable;
import leanladder.store.drafts.StaleDraftException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Stores drafts and rebases them onto the present estate. Every modification names the version on which it was made; when two use the same version, the
 * second is refused and nothing of it is stored. Rebased drafts are cached within a memory limit, and the next edit continues from the cached one.
 */
public final class DraftService {
    private static final Logger LOG = LoggerFactory.getLogger(DraftService.class);
    private static final String ACTOR = "the clock";
    private static final int STEPS_BACK = 20;
    private static final Duration COUNTED_ANEW = Duration.ofSeconds(10);
    /** Bytes of edits from which on a draft is large. */
    private static final long LARGE = 1 << 20;

    private static final long KILOBYTES =
            Math.max(64 << 10, Runtime.getRuntime().maxMemory() / 1024 / 6);

    private final DraftTable table;
    private final Timeline timeline;
    private final Publisher publisher;
    private final Cache<Long, CachedDraft> cachedDrafts = Caffeine.newBuilder()
            .maximumWeight(KILOBYTES)
            .weigher((Long id, CachedDraft k) -> (int) Math.min(k.rebasedDraft.kilobytes(), KILOBYTES))
            .build();
    /** Bytes that all drafts take, counted a while ago, and what was staged here since. */
    private final LoadingCache<String, AtomicLong> taken;

    private final BoundedMutex large = new BoundedMutex("Several large drafts are being worked on at once.");

    /** A draft in one version, carried over, and how it was before its last step. */
    private record CachedDraft(Draft draft, RebasedDraft rebasedDraft, Optional<CachedDraft> before, int depth) {
        CachedDraft(Draft draft, RebasedDraft rebasedDraft) {
            this(draft, rebasedDraft, Optional.empty(), 0);
        }
    }

    /** Keeps drafts in a table and carries them onto a timeline. */
    public DraftService(DraftTable table, Timeline timeline, Publisher publisher) {
        this.table = table;
        this.timeline = timeline;
        this.publisher = publisher;
        this.taken = Caffeine.newBuilder().expireAfterWrite(COUNTED_ANEW).build(all -> new AtomicLong(table.size()));
    }

    /**
     * Drafts without their edits: all that are planned, and those touched last. Of one that is planned and would not publish as it is, its
     * line says so already. Costs carrying each planned draft onto the present once.
     */
    public List<DraftLine> lines() {
        return table.lines(Limits.DRAFTS).stream()
                .map(line -> line.due().isEmpty() || line.stuck().isPresent()
                        ? line
                        : find(line.id())
                                .map(draft -> line(draft, rebased(draft)))
                                .orElse(line))
                .toList();
    }

    /** The line of a draft; of one that is planned and does not stand, with why it will not publish itself. */
    static DraftLine line(Draft draft, RebasedDraft rebasedDraft) {
        DraftLine line = draft.line();
        long troubled =
                rebasedDraft.items().stream().filter(item -> !item.stands()).count();
        if (line.due().isEmpty() || line.stuck().isPresent() || troubled == 0) return line;
        String why = (troubled == 1 ? "One of its edits conflicts" : troubled + " of its edits conflict")
                + " with what was published since. Open it and choose for each of them.";
        return new DraftLine(
                line.id(),
                line.name(),
                line.author(),
                line.version(),
                line.edits(),
                line.note(),
                line.due(),
                Optional.of(why),
                line.touched());
    }

    /** The draft of this id; a problem when there is none. */
    public Draft draft(long id) {
        return find(id).orElseThrow(() -> ProblemException.unknown(
                "There is no draft " + id + " any longer: it was published or discarded meanwhile."));
    }

    /** One that holds much is kept, so that many who ask at once share it. */
    private Optional<Draft> find(long id) {
        Optional<Draft> known = known(id);
        if (known.isPresent()) return known;
        if (!isLarge(id)) return table.find(id);
        return large.get(() -> known(id).or(() -> table.find(id).map(d -> cached(d).draft)));
    }

    private Optional<Draft> known(long id) {
        Optional<CachedDraft> known = Optional.ofNullable(cachedDrafts.getIfPresent(id));
        Optional<Long> version = known.isPresent() ? table.version(id) : Optional.empty();
        return version.isPresent() && version.get() == known.get().draft.version()
                ? Optional.of(known.get().draft)
                : Optional.empty();
    }

    private boolean isLarge(long id) {
        return table.size(id) > LARGE;
    }

    /** The draft in the version that the sender knows; a problem when it has another by now. */
    public Draft draft(long id, long version) {
        Draft draft = draft(id);
        if (draft.version() != version)
            throw ProblemException.refused(
                            409,
                            "Draft moved",
                            "Somebody else altered \"" + draft.name()
                                    + "\" meanwhile; nothing of yours was kept. Look at it again, then repeat.")
                    .with("version", draft.version());
        return draft;
    }

    private interface Alteration {
        void make() throws StaleDraftException;
    }

    /** Makes an alteration of a draft; a problem when somebody was faster. */
    private void alter(Draft draft, Alteration alteration) {
        try {
            alteration.make();
        } catch (StaleDraftException moved) {
            draft(draft.id(), draft.version());
            throw new IllegalStateException("A draft moved and did not", moved);
        }
    }

    /** A new draft with no edit. */
    public Draft begin(WriteRequest writeRequest, String name) {
        return begin(writeRequest, name, "", List.of(), 0);
    }

    /** A new draft with edits that were made on a change, each a step of its own, so that they can be left out one by one. */
    public Draft begin(WriteRequest writeRequest, String name, String note, List<JsonNode> edits, long base) {
        List<List<Draft.Item>> items =
                edits.stream().map(e -> List.of(new Draft.Item(base, e))).toList();
        long more = DraftTable.EMPTY + length(edits);
        checkTogether(more);
        long id = table.begin(writeRequest, name, note, items);
        addToQuota(more);
        List<Draft.Step> steps = new ArrayList<>();
        for (List<Draft.Item> step : items) steps.add(new Draft.Step(steps.size() + 1, step));
        // Not read back: that could fail, and it is stored already.
        return new Draft(
                id,
                name,
                writeRequest.actor(),
                1,
                List.copyOf(steps),
                List.of(),
                note,
                Optional.empty(),
                Optional.empty(),
                writeRequest.at());
    }

    /** Throws a draft away. */
    public void discard(WriteRequest writeRequest, Draft draft) {
        alter(draft, () -> table.discard(writeRequest, draft));
        cachedDrafts.invalidate(draft.id());
        taken.invalidateAll();
    }

    /** Gives a draft another name or note, or another instant at which it publishes itself. */
    public Draft amend(
            WriteRequest writeRequest,
            Draft draft,
            String name,
            String note,
            Optional<Instant> due,
            Optional<String> stuck) {
        alter(draft, () -> table.amend(writeRequest, draft, name, note, due, stuck));
        return moved(writeRequest, draft, draft.steps(), draft.undone(), name, note, due, stuck);
    }

    /** The draft as it is after an alteration, and its edits, where these are the same, as they were carried over. */
    private Draft moved(
            WriteRequest writeRequest,
            Draft draft,
            List<Draft.Step> steps,
            List<Draft.Step> undone,
            String name,
            String note,
            Optional<Instant> due,
            Optional<String> stuck) {
        Draft moved = new Draft(
                draft.id(),
                name,
                draft.author(),
                draft.version() + 1,
                steps,
                undone,
                note,
                due,
                stuck,
                writeRequest.at());
        CachedDraft known = cachedDrafts.getIfPresent(draft.id());
        if (known != null && known.draft.version() == draft.version() && steps == draft.steps())
            cachedDrafts.put(draft.id(), new CachedDraft(moved, known.rebasedDraft, known.before, known.depth));
        return moved;
    }

    private Draft moved(WriteRequest writeRequest, Draft draft, List<Draft.Step> steps, List<Draft.Step> undone) {
        return moved(
                writeRequest, draft, steps, undone, draft.name(), draft.note(), Optional.empty(), Optional.empty());
    }

    /** Stages edits on the present estate as one step; when one of them does not fit, a problem says so and none is staged. */
    public Draft stage(WriteRequest writeRequest, Draft draft, List<JsonNode> edits) {
        CachedDraft known = cached(draft);
        long base = known.rebasedDraft.base().change();
        RebasedDraft more = known.rebasedDraft.with(
                edits.stream().map(e -> new RebasedDraft.RequestedEdit(e, base)).toList(), "/edits", 0);
        Defects found = new Defects();
        List<RebasedDraft.ProposedEdit> items = more.items();
        items.subList(items.size() - edits.size(), items.size())
                .forEach(i -> i.refusals().forEach(d -> found.add(d.pointer(), d.message())));
        if (!found.isEmpty()) throw ProblemException.defects(422, "Refused", found.all());
        // A draft that is stored can be shown: whatever its view asks for is computed before.
        RippleFormatter.from(more).counts();
        long length = length(edits);
        checkRoom(draft, length);
        List<Draft.Item> step = edits.stream().map(e -> new Draft.Item(base, e)).toList();
        alter(draft, () -> table.stage(writeRequest, draft, step));
        addToQuota(length);
        List<Draft.Step> steps = new ArrayList<>(draft.steps());
        int last = steps.isEmpty() ? 0 : steps.get(steps.size() - 1).number();
        steps.add(new Draft.Step(last + 1, step));
        Draft staged = moved(writeRequest, draft, List.copyOf(steps), List.of());
        boolean deep = known.depth >= STEPS_BACK;
        cachedDrafts.put(
                draft.id(),
                new CachedDraft(
                        staged, more, deep ? Optional.empty() : Optional.of(known), deep ? 0 : known.depth + 1));
        return staged;
    }

    private static long length(List<JsonNode> edits) {
        return edits.stream().mapToLong(e -> Json.write(e).length()).sum();
    }

    private void checkRoom(Draft draft, long more) {
        if (table.size(draft.id()) + more > Limits.draft())
            throw full(
                    "The edits of a draft may take %,d bytes, and those of this one would take more; nothing was staged."
                            + " Publish it, or begin another draft for the rest.",
                    Limits.draft());
        checkTogether(more);
    }

    private void checkTogether(long more) {
        if (taken.get("").get() + more > Limits.drafts())
            throw full(
                    "All drafts together may take %,d bytes, and this would take more; nothing was stored."
                            + " Publish some of the drafts, or throw some away.",
                    Limits.drafts());
    }

    /** Asks the database nothing: what took room is stored already. */
    private void addToQuota(long bytes) {
        AtomicLong counted = taken.getIfPresent("");
        if (counted != null) counted.addAndGet(bytes);
    }

    private static ProblemException full(String sentence, long bytes) {
        return ProblemException.refused(413, "Too much", String.format(Locale.ROOT, sentence, bytes));
    }

    /** Takes the last step back, or the last step that was taken back forth again. */
    public Draft undoOrRedo(WriteRequest writeRequest, Draft draft, boolean back) {
        List<Draft.Step> from = back ? draft.steps() : draft.undone();
        if (from.isEmpty())
            throw ProblemException.refused(
                    409, "Nothing there", back ? "There is no edit to undo." : "There is no edit to redo.");
        Draft.Step step = from.get(back ? from.size() - 1 : 0);
        alter(draft, () -> table.turn(writeRequest, draft, step, back));
        List<Draft.Step> steps = new ArrayList<>(draft.steps());
        List<Draft.Step> undone = new ArrayList<>(draft.undone());
        if (back) undone.add(0, steps.remove(steps.size() - 1));
        else steps.add(undone.remove(0));
        Draft turned = moved(writeRequest, draft, List.copyOf(steps), List.copyOf(undone));
        CachedDraft known = cachedDrafts.getIfPresent(draft.id());
        Optional<CachedDraft> before = Optional.ofNullable(known)
                .filter(k -> back && k.draft.steps().equals(draft.steps()))
                .flatMap(k -> k.before)
                .filter(k -> k.draft.steps().equals(turned.steps()));
        if (before.isPresent())
            cachedDrafts.put(
                    draft.id(),
                    new CachedDraft(turned, before.get().rebasedDraft, before.get().before, before.get().depth));
        else cachedDrafts.invalidate(draft.id());
        return turned;
    }

    /**
     * Decides about an edit that conflicts or no longer fits.
     *
     * @param index of the edit among all of the draft, from 0
     * @param mine keeps it as if it were made on the present; otherwise it is dropped
     */
    public Draft resolveConflict(WriteRequest writeRequest, Draft draft, int index, boolean mine) {
        int at = 0;
        for (Draft.Step step : draft.steps()) {
            if (index < at || index >= at + step.items().size()) {
                at += step.items().size();
                continue;
            }
            List<Draft.Item> items = new ArrayList<>(step.items());
            Draft.Item chosen = items.remove(index - at);
            if (mine) items.add(index - at, new Draft.Item(timeline.change(), chosen.edit()));
            alter(draft, () -> table.rewrite(writeRequest, draft, new Draft.Step(step.number(), items)));
            cachedDrafts.invalidate(draft.id());
            List<Draft.Step> steps = new ArrayList<>();
            for (Draft.Step one : draft.steps()) {
                Draft.Step is = one == step ? new Draft.Step(step.number(), List.copyOf(items)) : one;
                if (!is.items().isEmpty()) steps.add(is);
            }
            return moved(writeRequest, draft, List.copyOf(steps), draft.undone());
        }
        throw ProblemException.wrongInput("There is no edit " + index + " in this draft.");
    }

    /** The draft carried onto the present estate. */
    public RebasedDraft rebased(Draft draft) {
        return cached(draft).rebasedDraft;
    }

    private CachedDraft cached(Draft draft) {
        CachedDraft known = cachedDrafts.getIfPresent(draft.id());
        if (known != null
                && known.draft.version() == draft.version()
                && known.rebasedDraft.base() == timeline.present()) return known;
        return isLarge(draft.id()) ? large.get(() -> carriedOver(draft)) : carriedOver(draft);
    }

    private CachedDraft carriedOver(Draft draft) {
        Snapshot present = timeline.present();
        CachedDraft known = cachedDrafts.getIfPresent(draft.id());
        if (known != null && known.draft.version() == draft.version()) {
            if (known.rebasedDraft.base() == present) return known;
            CachedDraft carried = new CachedDraft(draft, timeline.rebaseOnPresent(known.rebasedDraft));
            cachedDrafts.put(draft.id(), carried);
            return carried;
        }
        List<RebasedDraft.RequestedEdit> wanted = new ArrayList<>();
        for (Draft.Step step : draft.steps())
            for (Draft.Item item : step.items()) wanted.add(new RebasedDraft.RequestedEdit(item.edit(), item.base()));
        CachedDraft made = new CachedDraft(draft, timeline.rebasedDraft().with(wanted, "/edits", 0));
        // One without edits is made in no time, and to keep it would hold an estate of before.
        if (!wanted.isEmpty()) cachedDrafts.put(draft.id(), made);
        return made;
    }

    /** Forgets how a draft was carried over: another server altered it, or it is gone. */
    public void forget(long id) {
        CachedDraft known = cachedDrafts.getIfPresent(id);
        if (known != null && !table.version(id).equals(Optional.of(known.draft.version()))) cachedDrafts.invalidate(id);
    }

    /** Publishes a draft whole; a problem when some edit does not stand. */
    public Publisher.PublishResult publish(
            WriteRequest writeRequest, Draft draft, String note, Optional<Instant> planned) {
        Publisher.PublishOptions publishOptions = new Publisher.PublishOptions(
                planned.isPresent() ? draft.author() : writeRequest.actor(),
                note,
                rebasedDraft -> RippleFormatter.from(rebasedDraft).journalled(),
                planned,
                Optional.of(draft.id()));
        Publisher.PublishResult publishResult =
                publisher.publish(writeRequest, rebased(draft).net(), publishOptions, DraftService::checkReady);
        cachedDrafts.invalidate(draft.id());
        return publishResult;
    }

    /** Refuses what holds no edit, and what holds one that does not stand. */
    static void checkReady(RebasedDraft rebasedDraft) {
        if (rebasedDraft.items().isEmpty())
            throw ProblemException.refused(422, "Nothing there", "There is no edit in this draft to publish.");
        if (!rebasedDraft.stands())
            throw ProblemException.refused(
                    409,
                    "Base moved",
                    "Some edits cannot be published as they are: somebody published meanwhile and touched the same parts."
                            + " Nothing was published. Choose for each of them, then publish again.");
    }

    /**
     * Publishes every draft that is due, the one due longest first. One that cannot be published, for whatever reason, is marked and stays,
     * and the others go on. Where the server or the database is too busy, or takes no changes, it stays due, and the task is tried again.
     */
    public void publishDue() {
        if (timeline.isEmpty()) return;
        Instant now = timeline.now();
        Optional<RuntimeException> passing = Optional.empty();
        for (long id : table.due(now)) {
            try {
                publishDue(id, now);
            } catch (RuntimeException failure) {
                passing = Optional.of(failure);
            }
        }
        if (passing.isPresent()) throw passing.get();
    }

    private void publishDue(long id, Instant now) {
        try {
            Optional<Draft> due = find(id).filter(d -> d.stuck().isEmpty()
                    && d.due().filter(at -> !at.isAfter(now)).isPresent());
            if (due.isEmpty()) return;
            Draft draft = due.get();
            // The same key whichever server does it, so that it is done once.
            String key = "draft " + draft.id() + " version " + draft.version();
            publish(new WriteRequest(key, draft.author(), "", timeline.now()), draft, draft.note(), draft.due());
        } catch (RuntimeException failure) {
            if (isPassing(failure)) throw failure;
            boolean said = failure instanceof ProblemException || failure instanceof StateException;
            if (!said) LOG.error("The scheduled draft {} could not be published", id, failure);
            markStuck(
                    id,
                    said
                            ? String.valueOf(failure.getMessage())
                            : "Something went wrong here while it was published; nothing was stored. The server's log says more.");
        }
    }

    /** Whether a failure has nothing to do with the draft. */
    private static boolean isPassing(RuntimeException failure) {
        return failure instanceof ProblemException problemException && problemException.status() >= 500
                || failure instanceof StateException stateException && stateException.isPassing()
                || failure instanceof DatabaseUnavailableException
                || failure instanceof DuplicateRequestException
                || Database.isAway(failure)
                || Database.isFull(failure)
                || Database.isReadOnly(failure);
    }

    /** Marks a draft without looking at its edits, which may be what fails. */
    private void markStuck(long id, String why) {
        table.markStuck(WriteRequest.by(ACTOR, timeline.now()), id, why);
        cachedDrafts.invalidate(id);
    }
}
