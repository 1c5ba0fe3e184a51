package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.Book;
import leanladder.change.Edit;
import leanladder.change.EditWords;
import leanladder.change.Ripple;
import leanladder.document.Defect;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.resolve.Question;
import leanladder.store.Change;

/**
 * Edits carried onto the present estate, one by one, each from the change on which it was made. An edit that clashes with what
 * was published since, or that does not fit any more, is left out and says so; the others stand.
 */
final class Carried {
    /**
     * One edit.
     *
     * @param base the change on which it was made
     * @param words the edit as a sentence; empty when it cannot be carried out
     * @param clashes what others published since that touches the same, both sides; the edit is left out then
     * @param refusals why it does not fit; the edit is left out then
     */
    record Item(JsonNode edit, long base, String words, List<ObjectNode> clashes, List<Defect> refusals) {
        boolean stands() {
            return clashes.isEmpty() && refusals.isEmpty();
        }
    }

    private final Present base;
    private final Book book;
    private final EditWords telling;
    private final Estates estates;
    private final List<Item> items = new ArrayList<>();
    private final ArrayNode journalled = Json.NODES.arrayNode();
    private final Set<String> policies = new LinkedHashSet<>();
    private Present after;
    private Ripple ripple;

    /** Starts from the present, with no edit yet. */
    Carried(Estates estates, Present base) {
        this.estates = estates;
        this.base = base;
        this.book = estates.book(base);
        this.telling = new EditWords(base.ground().estate(), estates.now());
    }

    /**
     * Carries the next edit over.
     *
     * @param place the edit; defects found are kept under its pointer
     */
    Item add(JsonNode edit, String pointer, long madeOn) {
        List<Change> since = madeOn < base.change() ? estates.since(madeOn) : List.of();
        Defects defects = new Defects();
        Place place = new Place(edit, pointer, defects);
        List<ObjectNode> clashes = Clashes.between(edit, since);
        List<Edit> read = new ArrayList<>();
        Optional<String> words = telling.apply(place, clashes.isEmpty() ? book : book.copy(), read::add);
        clashes.forEach(c -> c.put("yoursInWords", words.orElse("")));
        if (words.isEmpty() && defects.isEmpty()) place.defect("cannot be carried out");
        Item item = new Item(edit, madeOn, words.orElse(""), clashes, clashes.isEmpty() ? defects.all() : List.of());
        items.add(item);
        if (item.stands()) {
            journalled.add(journalled(edit, read.get(0)));
            touched(read.get(0));
        }
        after = null;
        ripple = null;
        return item;
    }

    private void touched(Edit edit) {
        if (edit instanceof Edit.OfPolicy one) policies.add(one.policy());
        if (edit instanceof Edit.Batch batch) batch.edits().forEach(this::touched);
    }

    /** An edit as the journal keeps it: what was given an id carries it. */
    private static JsonNode journalled(JsonNode sent, Edit edit) {
        ObjectNode whole = ((ObjectNode) sent).deepCopy();
        if (edit instanceof Edit.AddPolicy add) whole.set("policy", add.body());
        else if (edit instanceof Edit.AddPart add)
            whole.set(add.section().member().substring(0, add.section().member().length() - 1), add.body());
        else if (edit instanceof Edit.Batch batch) {
            ArrayNode edits = whole.putArray("edits");
            for (int i = 0; i < batch.edits().size(); i++)
                edits.add(journalled(sent.get("edits").get(i), batch.edits().get(i)));
        } else return sent;
        return whole;
    }

    Present base() {
        return base;
    }

    Book book() {
        return book;
    }

    List<Item> items() {
        return items;
    }

    /** Ids of the policies that the edits touch. */
    Set<String> policies() {
        return policies;
    }

    /** The edits that stand, as the journal keeps them. */
    ArrayNode edits() {
        return journalled;
    }

    /** The edits that stand, as sentences. */
    ArrayNode words() {
        ArrayNode words = Json.NODES.arrayNode();
        items.stream().filter(Item::stands).forEach(i -> words.add(i.words()));
        return words;
    }

    /** Whether every edit stands. */
    boolean stands() {
        return items.stream().allMatch(Item::stands);
    }

    /** The estate as it would be. */
    synchronized Present after() {
        if (after == null) after = base.edited(base.change(), book.after());
        return after;
    }

    /** What the edits that stand alter now. */
    synchronized Ripple ripple() {
        Instant now = estates.now();
        if (ripple == null || base.isEdgeBetween(ripple.question().at(), now)) ripple = ripple(Question.at(now));
        return ripple;
    }

    Ripple ripple(Question question) {
        return new Ripple(
                book,
                after().ground(),
                question,
                base.moment(Question.at(question.at())).entitlements());
    }
}
