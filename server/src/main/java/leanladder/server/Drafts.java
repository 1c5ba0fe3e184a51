package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import leanladder.document.Json;
import leanladder.store.Change;
import leanladder.store.Draft;

/**
 * Drafts as they are kept, and carried onto the present estate. Every alteration names the version it was made on; the one that
 * comes second is refused and nothing of it is kept.
 */
final class Drafts {
    private static final int KEPT = 8;

    private record Key(long draft, long version, long change) {}

    private final Estates estates;
    private final List<Consumer<Long>> altered = new CopyOnWriteArrayList<>();
    private final Map<Key, Carried> carried = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, Carried> eldest) {
            return size() > KEPT;
        }
    };

    Drafts(Estates estates) {
        this.estates = estates;
    }

    List<Draft> all() {
        return estates.store().drafts();
    }

    /** The draft of this id; a problem when there is none. */
    Draft draft(long id) {
        return estates.store()
                .draft(id)
                .orElseThrow(() -> Problem.unknown(
                        "There is no draft " + id + " any more: it was published or thrown away meanwhile."));
    }

    /** The draft in the version that the sender knows; a problem when it has another by now. */
    Draft draft(long id, long version) {
        Draft draft = draft(id);
        if (draft.version() != version)
            throw Problem.refused(
                            409,
                            "Draft moved",
                            "Somebody else altered \"" + draft.name()
                                    + "\" meanwhile; nothing of yours was kept. Look at it again, then repeat.")
                    .with("version", Json.NODES.numberNode(draft.version()));
        return draft;
    }

    /** A new draft with no edit. */
    Draft begin(String name) {
        Draft draft = estates.store()
                .keep(new Draft(
                        0,
                        name,
                        estates.author(),
                        0,
                        Json.NODES.arrayNode(),
                        Json.NODES.arrayNode(),
                        "",
                        Optional.empty(),
                        Optional.empty(),
                        estates.now()));
        altered.forEach(listener -> listener.accept(draft.id()));
        return draft;
    }

    /** Keeps a draft altered; a problem when somebody was faster. */
    Draft alter(Draft as) {
        Draft kept = estates.store().alter(as).orElseGet(() -> draft(as.id(), as.version()));
        altered.forEach(listener -> listener.accept(kept.id()));
        return kept;
    }

    /** Throws a draft away. */
    void discard(Draft draft) {
        if (!estates.store().discard(draft.id(), draft.version())) draft(draft.id(), draft.version());
        altered.forEach(listener -> listener.accept(draft.id()));
    }

    /** Has somebody told the id of every draft that is begun, altered or thrown away. */
    void whenAltered(Consumer<Long> listener) {
        altered.add(listener);
    }

    /**
     * The draft with other steps. It does not publish itself any more: what was read over when it was told to is not what it holds
     * now.
     */
    private Draft with(Draft draft, JsonNode steps, JsonNode undone) {
        return new Draft(
                draft.id(),
                draft.name(),
                draft.author(),
                draft.version(),
                steps,
                undone,
                draft.note(),
                Optional.empty(),
                Optional.empty(),
                estates.now());
    }

    /** The draft with edits that were made on a change, each a step of its own, so that they can be left out one by one. */
    Draft stageEach(Draft draft, ArrayNode edits, long base) {
        Draft all = draft;
        for (JsonNode edit : edits) all = stage(all, List.of(edit), base);
        return all;
    }

    /** The draft under another name or note, or with another instant at which it publishes itself. */
    Draft named(Draft draft, String name, String note, Optional<Instant> due, Optional<String> stuck) {
        return new Draft(
                draft.id(),
                name,
                draft.author(),
                draft.version(),
                draft.steps(),
                draft.undone(),
                note,
                due,
                stuck,
                estates.now());
    }

    /** Adds a step of edits that were made on a change. */
    Draft stage(Draft draft, List<JsonNode> edits, long base) {
        ArrayNode steps = ((ArrayNode) draft.steps()).deepCopy();
        ArrayNode step = steps.addArray();
        for (JsonNode edit : edits) step.addObject().put("base", base).set("edit", edit);
        return with(draft, steps, Json.NODES.arrayNode());
    }

    /** Takes the last step back, or the last step that was taken back forth again. */
    Draft turn(Draft draft, boolean back) {
        ArrayNode steps = ((ArrayNode) draft.steps()).deepCopy();
        ArrayNode undone = ((ArrayNode) draft.undone()).deepCopy();
        ArrayNode from = back ? steps : undone;
        if (from.isEmpty())
            throw Problem.refused(
                    409, "Nothing there", back ? "There is no edit to undo." : "There is no edit to redo.");
        if (back) undone.insert(0, steps.remove(steps.size() - 1));
        else steps.add(undone.remove(0));
        return with(draft, steps, undone);
    }

    /**
     * Decides about an edit that clashes, or no longer fits.
     *
     * @param index of the edit among all of the draft, from 0
     * @param mine keeps it as if it were made on the present; otherwise it is dropped
     */
    Draft choose(Draft draft, int index, boolean mine, long present) {
        ArrayNode steps = Json.NODES.arrayNode();
        int at = 0;
        for (JsonNode step : draft.steps()) {
            ArrayNode kept = Json.NODES.arrayNode();
            for (JsonNode item : step) {
                if (at++ != index) kept.add(item);
                else if (mine) kept.add(((ObjectNode) item).deepCopy().put("base", present));
            }
            if (!kept.isEmpty()) steps.add(kept);
        }
        if (index < 0 || index >= at) throw Problem.wrongInput("There is no edit " + index + " in this draft.");
        return with(draft, steps, draft.undone());
    }

    /** The draft carried onto the present estate; kept while neither moves. */
    Carried carried(Draft draft) {
        Present present = estates.present();
        Key key = new Key(draft.id(), draft.version(), present.change());
        synchronized (carried) {
            Carried known = carried.get(key);
            if (known != null && known.base() == present) return known;
        }
        Carried made = new Carried(estates, present);
        int at = 0;
        for (JsonNode step : draft.steps())
            for (JsonNode item : step)
                made.add(item.get("edit"), "/edits/" + at++, item.get("base").longValue());
        synchronized (carried) {
            carried.put(key, made);
        }
        return made;
    }

    /** Publishes a draft whole; a problem when some edit does not stand. */
    Change publish(Draft draft, String note, Optional<Instant> planned) {
        synchronized (estates) {
            Carried ready = carried(draft);
            if (ready.items().isEmpty())
                throw Problem.refused(422, "Nothing there", "There is no edit in this draft to publish.");
            if (!ready.stands())
                throw Problem.refused(
                        409,
                        "Base moved",
                        "Some edits cannot be published as they are: somebody published meanwhile and touched the same parts."
                                + " Nothing was published. Choose for each of them, then publish again.");
            Change change = estates.publish(
                    ready,
                    new Estates.Publication(
                            planned.isPresent() ? draft.author() : estates.author(),
                            note,
                            new RippleTelling(ready.ripple(), estates.now()).summary(),
                            planned,
                            Optional.of(draft.id())));
            altered.forEach(listener -> listener.accept(draft.id()));
            return change;
        }
    }

    /** Publishes every draft that is due, the one due longest first; one that cannot be is marked and stays. */
    void publishDue() {
        List<Draft> due = new ArrayList<>(all().stream()
                .filter(d -> d.due().filter(at -> !at.isAfter(estates.now())).isPresent()
                        && d.stuck().isEmpty())
                .toList());
        due.sort(java.util.Comparator.comparing(d -> d.due().orElseThrow()));
        for (Draft draft : due) {
            try {
                publish(draft, draft.note(), draft.due());
            } catch (Problem problem) {
                alter(named(draft, draft.name(), draft.note(), draft.due(), Optional.of(problem.getMessage())));
            }
        }
    }
}
