package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.change.overlay.Edit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Footprint;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.tell.Wording;

/**
 * Several edits that count as one: they are carried out together or not at all, and undone together. Each is read against what
 * those before it left.
 */
public final class Batch implements Edit {
    private static final int FEW = 3;

    /** Its right stands for none of its own: what is needed is what its edits need, see {@link Kinds#rights}. */
    public static final EditKind KIND = new EditKind("batch", Right.POLICIES) {
        @Override
        public Optional<Batch> read(Place place, Overlay on) {
            String source = place.member("source").flatMap(Place::text).orElse("");
            List<Place> places = place.required("edits").map(Place::items).orElse(List.of());
            int found = place.defects().size();
            if (places.isEmpty()) {
                place.defect("must hold at least one edit in \"edits\"");
                return Optional.empty();
            }
            Overlay trial = on.copy();
            List<Edit> edits = new ArrayList<>(places.size());
            Footprint touched = Footprint.EMPTY;
            for (Place item : places) {
                if (item.node().path("kind").asText().equals(name())) {
                    item.defect("is a batch within a batch; put its edits beside the others");
                    continue;
                }
                Optional<Edit> edit = Book.read(item, trial);
                if (edit.isEmpty()) continue;
                touched = touched.and(Book.carryOut(edit.get(), trial));
                edits.add(edit.get());
            }
            return place.defects().size() > found
                    ? Optional.empty()
                    : Optional.of(new Batch((ObjectNode) place.node(), source, edits, touched, trial));
        }

        @Override
        public List<String> accountsAskedFor(JsonNode edit) {
            List<String> accounts = new ArrayList<>();
            edit.path("edits").forEach(one -> accounts.addAll(Kinds.accountsAskedFor(one)));
            return accounts;
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            Set<String> paths = new HashSet<>();
            edit.path("edits").forEach(one -> paths.addAll(Kinds.paths(one)));
            return paths;
        }

        @Override
        public String schema() {
            return schema(
                    "several edits that are carried out, and undone, together or not at all; a batch holds no batch",
                    "\"edits\"",
                    "\"source\":{\"type\":\"string\",\"description\":\"where they come from, such as a file's name\"},"
                            + "\"edits\":{\"type\":\"array\",\"minItems\":1,\"items\":{\"$ref\":\"#/components/schemas/Edit\"}}");
        }
    };

    private final ObjectNode sent;
    private final String source;
    private final List<Edit> edits;
    private final Footprint footprint;
    private final Overlay result;

    private Batch(ObjectNode sent, String source, List<Edit> edits, Footprint footprint, Overlay result) {
        this.sent = sent;
        this.source = source;
        this.edits = edits;
        this.footprint = footprint;
        this.result = result;
    }

    /** The edits, in their order. */
    public List<Edit> edits() {
        return edits;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public ObjectNode json() {
        ObjectNode whole = Json.NODES.objectNode();
        whole.setAll(sent);
        ArrayNode all = Json.NODES.arrayNode(edits.size());
        edits.forEach(e -> all.add(e.json()));
        whole.set("edits", all);
        return whole;
    }

    /** What it came to when it was read is taken over. */
    @Override
    public void carryOut(Overlay on) {
        on.become(result);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        Overlay trial = before.copy();
        List<ObjectNode> inverses = new ArrayList<>(edits.size());
        for (Edit edit : edits) {
            edit.inverse(trial).ifPresent(inverses::add);
            Book.carryOut(edit, trial);
        }
        if (inverses.isEmpty()) return Optional.empty();
        ObjectNode whole = Json.NODES.objectNode().put("kind", KIND.name());
        if (!source.isEmpty()) whole.put("source", source);
        ArrayNode all = whole.putArray("edits");
        for (int i = inverses.size() - 1; i >= 0; i--) all.add(inverses.get(i));
        return Optional.of(whole);
    }

    /** What it does how often; of few edits, all of them. */
    @Override
    public String words(Overlay before, Wording wording) {
        String from = source.isEmpty() ? "" : " (from " + source + ")";
        if (edits.size() <= FEW) {
            Overlay trial = before.copy();
            List<String> told = new ArrayList<>();
            for (Edit edit : edits) {
                told.add(edit.words(trial, wording));
                Book.carryOut(edit, trial);
            }
            return String.join("; ", told) + from;
        }
        Map<Tally, Integer> counts = new LinkedHashMap<>();
        for (Edit edit : edits) counts.merge(edit.tally(), 1, Integer::sum);
        return counts.entrySet().stream().map(c -> c.getKey().of(c.getValue())).collect(Collectors.joining(", "))
                + from;
    }

    @Override
    public Footprint footprint(Overlay before) {
        return footprint;
    }

    @Override
    public Tally tally() {
        return new Tally("one batch", "# batches");
    }
}
