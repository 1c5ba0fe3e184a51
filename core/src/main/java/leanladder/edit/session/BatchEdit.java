package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/**
 * Several edits that count as one: they are carried out together or not at all, and undone together. Each is read against what
 * those before it left.
 */
public final class BatchEdit implements Edit {

    /** Its right stands for none of its own: what is needed is what its edits need, see {@link EditKinds#rights}. */
    public static final EditKind KIND = new EditKind("batch", Duty.POLICIES) {
        @Override
        public Optional<BatchEdit> read(JsonCursor jsonCursor, Overlay on) {
            String source =
                    jsonCursor.member("source").flatMap(JsonCursor::text).orElse("");
            List<JsonCursor> places =
                    jsonCursor.required("edits").map(JsonCursor::items).orElse(List.of());
            int found = jsonCursor.defects().size();
            if (places.isEmpty()) {
                jsonCursor.defect("must hold at least one edit in \"edits\"");
                return Optional.empty();
            }
            Overlay trial = on.copy();
            List<Edit> edits = new ArrayList<>(places.size());
            WriteSet touched = WriteSet.EMPTY;
            for (JsonCursor item : places) {
                if (item.node().path("kind").asText().equals(name())) {
                    item.defect("is a batch within a batch; put its edits beside the others");
                    continue;
                }
                Optional<Edit> edit = EditSession.read(item, trial);
                if (edit.isEmpty()) continue;
                touched = touched.and(EditSession.apply(edit.get(), trial));
                edits.add(edit.get());
            }
            return jsonCursor.defects().size() > found
                    ? Optional.empty()
                    : Optional.of(new BatchEdit((ObjectNode) jsonCursor.node(), source, edits, touched, trial));
        }

        @Override
        public List<String> accountsAskedFor(JsonNode edit) {
            List<String> accounts = new ArrayList<>();
            edit.path("edits").forEach(one -> accounts.addAll(EditKinds.accountsAskedFor(one)));
            return accounts;
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            Set<String> paths = new HashSet<>();
            edit.path("edits").forEach(one -> paths.addAll(EditKinds.paths(one)));
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
    private final WriteSet writeSet;
    private final Overlay result;

    private BatchEdit(ObjectNode sent, String source, List<Edit> edits, WriteSet writeSet, Overlay result) {
        this.sent = sent;
        this.source = source;
        this.edits = edits;
        this.writeSet = writeSet;
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
    public void apply(Overlay on) {
        on.replaceWith(result);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        Overlay trial = before.copy();
        List<ObjectNode> inverses = new ArrayList<>(edits.size());
        for (Edit edit : edits) {
            edit.inverse(trial).ifPresent(inverses::add);
            EditSession.apply(edit, trial);
        }
        if (inverses.isEmpty()) return Optional.empty();
        ObjectNode whole = Json.NODES.objectNode().put("kind", KIND.name());
        if (!source.isEmpty()) whole.put("source", source);
        ArrayNode all = whole.putArray("edits");
        for (int i = inverses.size() - 1; i >= 0; i--) all.add(inverses.get(i));
        return Optional.of(whole);
    }

    @Override
    public WriteSet footprint(Overlay before) {
        return writeSet;
    }

    /** The name of the file that the edits came from; empty where they came from none. */
    public String source() {
        return source;
    }
}
