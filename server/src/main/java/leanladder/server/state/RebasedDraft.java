package leanladder.server.state;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import leanladder.conflict.ConflictIndex;
import leanladder.conflict.NetEdits;
import leanladder.edit.session.EditKinds;
import leanladder.edit.session.EditSession;
import leanladder.estate.Plan;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.seat.SeatLedger;
import leanladder.text.EditDescriber;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.WriteSet;
import org.jspecify.annotations.Nullable;

/**
 * The edits of a draft, applied one by one to an estate that is later than the one on which they were made. An edit that conflicts with a change
 * published in between, or that no longer fits, is left out and reported; the others are applied. Objects of this class are immutable: adding edits or
 * rebasing creates another object, at the cost of what is added.
 */
public final class RebasedDraft {
    /**
     * One edit.
     *
     * @param base the change on which it was made
     * @param words the edit as a sentence; empty when it cannot be carried out
     * @param conflicts what others published since that touches the same; the edit is left out then
     * @param refusals why it does not fit; the edit is left out then
     * @param journalled as the journal keeps it; empty where it is left out
     */
    public record ProposedEdit(
            JsonNode edit,
            long base,
            String words,
            List<EditConflict> conflicts,
            List<Defect> refusals,
            Optional<JsonNode> journalForm) {
        /** Whether it can be published as it is. */
        public boolean stands() {
            return journalForm.isPresent();
        }
    }

    /** An edit to be carried over. @param base the change on which it was made */
    public record RequestedEdit(JsonNode edit, long base) {}

    private static final int MOST_CONFLICTS = 20;
    private static final int MOST_COMPARED = 200;

    private final Snapshot base;
    private final EditSession editSession;
    private final List<ProposedEdit> items;
    private final Timeline timeline;
    private @Nullable BitSet cancelled;
    private @Nullable Snapshot after;
    private @Nullable Ripple ripple;

    private RebasedDraft(Timeline timeline, Snapshot base, EditSession editSession, List<ProposedEdit> items) {
        this.timeline = timeline;
        this.base = base;
        this.editSession = editSession;
        this.items = items;
    }

    /** No edit, on an estate. */
    static RebasedDraft on(Timeline timeline, Snapshot base) {
        return new RebasedDraft(timeline, base, timeline.editSession(base), List.of());
    }

    /**
     * This with more edits. Costs what they do; the ripple, where it was asked for, is gone on with.
     *
     * @param pointer where the first of them stands in what was sent; the others follow
     */
    public RebasedDraft with(List<RequestedEdit> more, String pointer, int first) {
        EditSession edited = editSession.copy();
        edited.expect(more.stream().map(RequestedEdit::edit).toList());
        List<ProposedEdit> all = new ArrayList<>(items);
        EditDescriber telling = new EditDescriber(base.estate(), timeline.now());
        WriteSet before = edited.writeSet();
        WriteSet added = WriteSet.EMPTY;
        List<List<EditConflict>> conflicts = findConflicts(more, base.change());
        for (int i = 0; i < more.size(); i++) {
            RebasedEdit one = add(edited, telling, more.get(i), pointer + "/" + (first + i), conflicts.get(i));
            all.add(one.item);
            added = added.and(one.touched);
        }
        RebasedDraft extended = new RebasedDraft(timeline, base, edited, List.copyOf(all));
        synchronized (this) {
            if (ripple != null && isCurrent(ripple) && before == editSession.writeSet())
                extended.ripple = ripple.with(edited, edited.compile(), added);
        }
        return extended;
    }

    /** The same edits carried onto a later estate. Each is held against what was published in between, and nothing else. */
    RebasedDraft rebaseOnto(Snapshot later) {
        if (later == base) return this;
        Optional<RebasedDraft> moved = onOtherPolicies(later);
        if (moved.isPresent()) return moved.get();
        List<List<EditConflict>> conflicts = findConflicts(
                items.stream()
                        .map(i -> new RequestedEdit(i.edit, base.change()))
                        .toList(),
                later.change());
        EditSession edited = timeline.editSession(later);
        edited.expect(items.stream().map(ProposedEdit::edit).toList());
        EditDescriber telling = new EditDescriber(later.estate(), timeline.now());
        List<ProposedEdit> all = new ArrayList<>(items.size());
        for (ProposedEdit proposedEdit : items) {
            List<EditConflict> met = new ArrayList<>(proposedEdit.conflicts);
            met.addAll(conflicts.get(all.size()));
            all.add(add(
                            edited,
                            telling,
                            new RequestedEdit(proposedEdit.edit, proposedEdit.base),
                            "/edits/" + all.size(),
                            met)
                    .item);
        }
        return new RebasedDraft(timeline, later, edited, List.copyOf(all));
    }

    /**
     * What conflicts with each of some edits, among what was published after the change on which it was made; the first {@value #MOST_CONFLICTS} of
     * each. The changes are read once, and each edit of theirs is looked up among these.
     */
    private List<List<EditConflict>> findConflicts(List<RequestedEdit> mine, long until) {
        List<List<EditConflict>> conflicts = new ArrayList<>(mine.size());
        for (int i = 0; i < mine.size(); i++) conflicts.add(new ArrayList<>(0));
        long first = mine.stream().mapToLong(RequestedEdit::base).min().orElse(until);
        if (first >= until) return conflicts;
        ConflictIndex index =
                new ConflictIndex(mine.stream().map(RequestedEdit::edit).toList());
        timeline.forEachChange(first, until, change -> {
            for (int e = 0; e < change.edits().size(); e++) {
                JsonNode theirs = change.edits().get(e);
                String words = change.words().path(e).asText();
                index.forEachConflict(theirs, i -> {
                    if (mine.get(i).base < change.number() && conflicts.get(i).size() < MOST_CONFLICTS)
                        conflicts
                                .get(i)
                                .add(new EditConflict(mine.get(i).edit, theirs, "", words, Receipt.from(change)));
                });
            }
        });
        return conflicts;
    }

    /**
     * This draft on a later estate, where only policies were edited in between and this draft edits the directory alone: such edits neither
     * conflict nor depend on one another, so none is read again.
     */
    private Optional<RebasedDraft> onOtherPolicies(Snapshot later) {
        if (!stands() || later.directory() != base.directory()) return Optional.empty();
        boolean[] policiesAlone = {true};
        timeline.forEachChange(
                base.change(),
                later.change(),
                change -> change.edits().forEach(edit -> policiesAlone[0] &= isOfPolicies(edit)));
        if (!policiesAlone[0]) return Optional.empty();
        return editSession
                .onOtherPolicies(later.compiledEstate())
                .map(session -> new RebasedDraft(timeline, later, session, items));
    }

    private static boolean isOfPolicies(JsonNode edit) {
        return !edit.has("edits") && EditKinds.rights(edit).equals(Set.of(Duty.POLICIES));
    }

    private record RebasedEdit(ProposedEdit item, WriteSet touched) {}

    private static RebasedEdit add(
            EditSession editSession,
            EditDescriber telling,
            RequestedEdit requestedEdit,
            String pointer,
            List<EditConflict> conflicts) {
        Defects defects = new Defects();
        JsonCursor jsonCursor = new JsonCursor(requestedEdit.edit, pointer, defects);
        EditSession on = conflicts.isEmpty() ? editSession : editSession.copy();
        WriteSet was = on.writeSet();
        Optional<EditDescriber.EditDescription> told = telling.apply(jsonCursor, on);
        if (told.isEmpty() && defects.isEmpty()) jsonCursor.defect("cannot be carried out");
        String words = told.map(EditDescriber.EditDescription::words).orElse("");
        List<EditConflict> telled = conflicts.stream()
                .map(c -> new EditConflict(c.yours(), c.theirs(), words, c.theirsInWords(), c.change()))
                .toList();
        ProposedEdit proposedEdit = new ProposedEdit(
                requestedEdit.edit,
                requestedEdit.base,
                words,
                telled,
                conflicts.isEmpty() ? defects.all() : List.of(),
                conflicts.isEmpty() ? told.map(t -> t.applied().json()) : Optional.empty());
        return new RebasedEdit(
                proposedEdit, proposedEdit.stands() ? told.get().applied().touched() : WriteSet.EMPTY);
    }

    /** The estate that the edits are carried onto. */
    public Snapshot base() {
        return base;
    }

    /** The estate with the edits carried out. Not to be edited further. */
    public EditSession editSession() {
        return editSession;
    }

    /** All edits, in their order. */
    public List<ProposedEdit> items() {
        return items;
    }

    /** Ids of the policies that the edits touch. */
    public TreeSet<String> policies() {
        return new TreeSet<>(editSession.writeSet().policies());
    }

    /**
     * The positions of edits that cancel each other, see {@link NetEdits}; none where some edit does not stand, or where there are more than
     * {@value #MOST_COMPARED}.
     */
    public synchronized BitSet cancelled() {
        if (cancelled == null)
            cancelled = items.size() > MOST_COMPARED || !stands()
                    ? new BitSet()
                    : NetEdits.cancelled(
                            timeline.editSession(base),
                            items.stream().map(ProposedEdit::edit).toList());
        return cancelled;
    }

    /** The same without edits that cancel each other; itself, where there are none, or where nothing would be left. */
    public RebasedDraft net() {
        BitSet without = cancelled();
        if (without.isEmpty() || without.cardinality() == items.size()) return this;
        List<RequestedEdit> left = new ArrayList<>();
        for (int i = without.nextClearBit(0); i < items.size(); i = without.nextClearBit(i + 1))
            left.add(new RequestedEdit(items.get(i).edit, base.change()));
        // What is left may name what only came and went, such as a group that was added and removed.
        RebasedDraft net = on(timeline, base).with(left, "/edits", 0);
        return net.stands() ? net : this;
    }

    /** The edits that stand, as the journal keeps them. */
    ArrayNode edits() {
        ArrayNode edits = Json.NODES.arrayNode();
        items.forEach(i -> i.journalForm.ifPresent(edits::add));
        return edits;
    }

    /** The edits that stand, as sentences. */
    ArrayNode words() {
        ArrayNode words = Json.NODES.arrayNode();
        items.stream().filter(ProposedEdit::stands).forEach(i -> words.add(i.words));
        return words;
    }

    /** Whether every edit stands. */
    public boolean stands() {
        return items.stream().allMatch(ProposedEdit::stands);
    }

    /** The estate as it would be. */
    public synchronized Snapshot snapshot() {
        if (after == null) {
            Instant now = timeline.now();
            after = base.edited(
                    editSession,
                    seatsPassedOn(now).ledger(),
                    Optional.ofNullable(ripple),
                    base.change(),
                    base.at(),
                    now);
        }
        return after;
    }

    /** The seats that pass on when it is published at an instant. What the ripple knows is not worked out again. */
    synchronized SeatLedger.Moved seatsPassedOn(Instant at) {
        if (ripple == null) return Ripple.seatsPassedOn(editSession, editSession.compile(), at);
        Instant asked = ripple.evaluationContext().at();
        boolean edge = base.isEdgeBetween(asked, at)
                || base.isEdgeBetween(at, asked)
                || editSession.compile().estate().plans().stream()
                        .flatMap(Plan::edges)
                        .anyMatch(e -> e.isAfter(asked) != e.isAfter(at));
        return edge ? Ripple.seatsPassedOn(editSession, editSession.compile(), at) : ripple.seatsPassedOn(at);
    }

    /** The ripple, where somebody has asked for it. */
    synchronized Optional<Ripple> rippleIfKnown() {
        return Optional.ofNullable(ripple);
    }

    /** The estate as it would be, where somebody has asked for it. */
    synchronized Optional<Snapshot> snapshotIfKnown() {
        return Optional.ofNullable(after);
    }

    /** What the edits that stand alter now. */
    public synchronized Ripple ripple() {
        if (ripple == null || !isCurrent(ripple)) ripple = ripple(EvaluationContext.at(timeline.now()));
        return ripple;
    }

    private boolean isCurrent(Ripple known) {
        return !base.isEdgeBetween(known.evaluationContext().at(), timeline.now());
    }

    /** What they alter for a question. */
    public Ripple ripple(EvaluationContext evaluationContext) {
        return new Ripple(
                editSession,
                editSession.compile(),
                evaluationContext,
                base.resolutionAt(EvaluationContext.at(evaluationContext.at())).entitlements());
    }

    /** How much memory it holds, by and large, in kilobytes. */
    public int kilobytes() {
        int lists = editSession.writeSet().touchesDirectory()
                ? base.estate().accounts().size() / 40
                : 0;
        return 256 + items.size() + editSession.writeSet().size() / 2 + lists;
    }

    /** The instant by which the ripple and what is kept of it are told. */
    public Instant now() {
        return timeline.now();
    }
}
