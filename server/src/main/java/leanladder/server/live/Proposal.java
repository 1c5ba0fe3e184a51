package leanladder.server.live;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import leanladder.change.Book;
import leanladder.change.ConflictIndex;
import leanladder.change.EditTelling;
import leanladder.change.Ripple;
import leanladder.change.overlay.Footprint;
import leanladder.document.Defect;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Plan;
import leanladder.resolve.Question;
import leanladder.seat.Ledger;

/**
 * Edits carried onto an estate, one by one, each from the change on which it was made. An edit that clashes with what was published
 * since, or that does not fit any more, is left out and says so; the others stand. A proposal does not change: one with more edits,
 * or on a later estate, is another, made of this one at the cost of what is added.
 */
public final class Proposal {
    /**
     * One edit.
     *
     * @param base the change on which it was made
     * @param words the edit as a sentence; empty when it cannot be carried out
     * @param clashes what others published since that touches the same; the edit is left out then
     * @param refusals why it does not fit; the edit is left out then
     * @param journalled as the journal keeps it; empty where it is left out
     */
    public record Item(
            JsonNode edit,
            long base,
            String words,
            List<Clash> clashes,
            List<Defect> refusals,
            Optional<JsonNode> journalled) {
        /** Whether it can be published as it is. */
        public boolean stands() {
            return journalled.isPresent();
        }
    }

    /** An edit to be carried over. @param base the change on which it was made */
    public record Wanted(JsonNode edit, long base) {}

    private static final int MOST_CLASHES = 20;

    private final Snapshot base;
    private final Book book;
    private final List<Item> items;
    private final Timeline timeline;
    private Snapshot after;
    private Ripple ripple;

    private Proposal(Timeline timeline, Snapshot base, Book book, List<Item> items) {
        this.timeline = timeline;
        this.base = base;
        this.book = book;
        this.items = items;
    }

    /** No edit, on an estate. */
    static Proposal on(Timeline timeline, Snapshot base) {
        return new Proposal(timeline, base, timeline.book(base), List.of());
    }

    /**
     * This with more edits. Costs what they do; the ripple, where it was asked for, is gone on with.
     *
     * @param pointer where the first of them stands in what was sent; the others follow
     */
    public Proposal with(List<Wanted> more, String pointer, int first) {
        Book edited = book.copy();
        edited.expect(more.stream().map(Wanted::edit).toList());
        List<Item> all = new ArrayList<>(items);
        EditTelling telling = new EditTelling(base.estate(), timeline.now());
        Footprint before = edited.footprint();
        Footprint added = Footprint.EMPTY;
        List<List<Clash>> clashes = clashes(more, base.change());
        for (int i = 0; i < more.size(); i++) {
            Added one = add(edited, telling, more.get(i), pointer + "/" + (first + i), clashes.get(i));
            all.add(one.item);
            added = added.and(one.touched);
        }
        Proposal extended = new Proposal(timeline, base, edited, List.copyOf(all));
        synchronized (this) {
            if (ripple != null && isCurrent(ripple) && before == book.footprint())
                extended.ripple = ripple.with(edited, edited.after(), added);
        }
        return extended;
    }

    /** The same edits carried onto a later estate. Each is held against what was published in between, and nothing else. */
    Proposal onto(Snapshot later) {
        if (later == base) return this;
        List<List<Clash>> clashes = clashes(
                items.stream().map(i -> new Wanted(i.edit, base.change())).toList(), later.change());
        Book edited = timeline.book(later);
        edited.expect(items.stream().map(Item::edit).toList());
        EditTelling telling = new EditTelling(later.estate(), timeline.now());
        List<Item> all = new ArrayList<>(items.size());
        for (Item item : items) {
            List<Clash> met = new ArrayList<>(item.clashes);
            met.addAll(clashes.get(all.size()));
            all.add(add(edited, telling, new Wanted(item.edit, item.base), "/edits/" + all.size(), met).item);
        }
        return new Proposal(timeline, later, edited, List.copyOf(all));
    }

    /**
     * What conflicts with each of some edits, among what was published after the change on which it was made; the first {@value #MOST_CLASHES} of
     * each. The changes are read once, and each edit of theirs is looked up among these.
     */
    private List<List<Clash>> clashes(List<Wanted> mine, long until) {
        List<List<Clash>> clashes = new ArrayList<>(mine.size());
        for (int i = 0; i < mine.size(); i++) clashes.add(new ArrayList<>(0));
        long first = mine.stream().mapToLong(Wanted::base).min().orElse(until);
        if (first >= until) return clashes;
        ConflictIndex index = new ConflictIndex(mine.stream().map(Wanted::edit).toList());
        timeline.forEachChange(first, until, change -> {
            for (int e = 0; e < change.edits().size(); e++) {
                JsonNode theirs = change.edits().get(e);
                String words = change.words().path(e).asText();
                index.forEachConflict(theirs, i -> {
                    if (mine.get(i).base < change.number() && clashes.get(i).size() < MOST_CLASHES)
                        clashes.get(i).add(new Clash(mine.get(i).edit, theirs, "", words, Receipt.of(change)));
                });
            }
        });
        return clashes;
    }

    private record Added(Item item, Footprint touched) {}

    private static Added add(Book book, EditTelling telling, Wanted wanted, String pointer, List<Clash> clashes) {
        Defects defects = new Defects();
        Place place = new Place(wanted.edit, pointer, defects);
        Book on = clashes.isEmpty() ? book : book.copy();
        Footprint was = on.footprint();
        Optional<EditTelling.Told> told = telling.apply(place, on);
        if (told.isEmpty() && defects.isEmpty()) place.defect("cannot be carried out");
        String words = told.map(EditTelling.Told::words).orElse("");
        List<Clash> telled = clashes.stream()
                .map(c -> new Clash(c.yours(), c.theirs(), words, c.theirsInWords(), c.change()))
                .toList();
        Item item = new Item(
                wanted.edit,
                wanted.base,
                words,
                telled,
                clashes.isEmpty() ? defects.all() : List.of(),
                clashes.isEmpty() ? told.map(t -> t.edit().json()) : Optional.empty());
        return new Added(item, item.stands() ? told.get().touched() : Footprint.EMPTY);
    }

    /** The estate that the edits are carried onto. */
    public Snapshot base() {
        return base;
    }

    /** The estate with the edits carried out. Not to be edited further. */
    public Book book() {
        return book;
    }

    /** All edits, in their order. */
    public List<Item> items() {
        return items;
    }

    /** Ids of the policies that the edits touch. */
    public TreeSet<String> policies() {
        return new TreeSet<>(book.footprint().policies());
    }

    /** The edits that stand, as the journal keeps them. */
    ArrayNode edits() {
        ArrayNode edits = Json.NODES.arrayNode();
        items.forEach(i -> i.journalled.ifPresent(edits::add));
        return edits;
    }

    /** The edits that stand, as sentences. */
    ArrayNode words() {
        ArrayNode words = Json.NODES.arrayNode();
        items.stream().filter(Item::stands).forEach(i -> words.add(i.words));
        return words;
    }

    /** Whether every edit stands. */
    public boolean stands() {
        return items.stream().allMatch(Item::stands);
    }

    /** The estate as it would be. */
    public synchronized Snapshot after() {
        if (after == null) {
            Instant now = timeline.now();
            after = base.edited(
                    book, passedOn(now).ledger(), Optional.ofNullable(ripple), base.change(), base.at(), now);
        }
        return after;
    }

    /** The seats that pass on when it is published at an instant. What the ripple knows is not worked out again. */
    synchronized Ledger.Moved passedOn(Instant at) {
        if (ripple == null) return Ripple.seatsPassedOn(book, book.after(), at);
        Instant asked = ripple.question().at();
        boolean edge = base.isEdgeBetween(asked, at)
                || base.isEdgeBetween(at, asked)
                || book.after().estate().plans().stream()
                        .flatMap(Plan::edges)
                        .anyMatch(e -> e.isAfter(asked) != e.isAfter(at));
        return edge ? Ripple.seatsPassedOn(book, book.after(), at) : ripple.seatsPassedOn(at);
    }

    /** The ripple, where somebody has asked for it. */
    synchronized Optional<Ripple> rippleIfKnown() {
        return Optional.ofNullable(ripple);
    }

    /** The estate as it would be, where somebody has asked for it. */
    synchronized Optional<Snapshot> afterIfKnown() {
        return Optional.ofNullable(after);
    }

    /** What the edits that stand alter now. */
    public synchronized Ripple ripple() {
        if (ripple == null || !isCurrent(ripple)) ripple = ripple(Question.at(timeline.now()));
        return ripple;
    }

    private boolean isCurrent(Ripple known) {
        return !base.isEdgeBetween(known.question().at(), timeline.now());
    }

    /** What they alter for a question. */
    public Ripple ripple(Question question) {
        return new Ripple(
                book,
                book.after(),
                question,
                base.moment(Question.at(question.at())).entitlements());
    }

    /** How much memory it holds, by and large, in kilobytes. */
    public int kilobytes() {
        int lists =
                book.footprint().touchesDirectory() ? base.estate().accounts().size() / 40 : 0;
        return 256 + items.size() + book.footprint().size() / 2 + lists;
    }

    /** The instant by which the ripple and what is kept of it are told. */
    public Instant now() {
        return timeline.now();
    }
}
