package leanladder.edit.session;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.edit.Member.Presence;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * Several edits that count as one: they are applied together or not at all, and undone together. Each is applied to what those before it
 * left.
 *
 * @param source where they come from, such as a file's name
 */
public record BatchEdit(
        @Member(presence = Presence.OPTIONAL, description = "where they come from, such as a file's name") @Nullable
        String source,

        @Member(schema = "Edit") List<ObjectNode> edits)
        implements Edit {
    /** Its duty is not its own: what is needed is what its edits need, see {@link EditKinds#rights}. */
    public static final EditKind KIND = EditKind.of(
            "batch",
            Duty.POLICIES,
            BatchEdit.class,
            "several edits that are carried out, and undone, together or not at all; a batch holds no batch");

    @Override
    public BatchEdit apply(Overlay on, JsonCursor at) {
        List<JsonCursor> places = at.items("edits");
        if (places.isEmpty()) at.defect("must hold at least one edit in \"edits\"");
        List<ObjectNode> applied = new ArrayList<>(places.size());
        for (JsonCursor place : places) {
            // One that does not fit is left out, to report the defects of those after it as well.
            Overlay trial = on.copy();
            Optional<AppliedEdit> one = EditSession.apply(place, trial);
            if (one.isEmpty()) continue;
            on.replaceWith(trial);
            on.record(one.get().mutations());
            applied.add(one.get().json());
        }
        return new BatchEdit(source, applied);
    }

    /** A batch as it is written. */
    static ObjectNode json(List<ObjectNode> edits, @Nullable String source) {
        ObjectNode batch = Json.NODES.objectNode().put("kind", KIND.name());
        if (source != null) batch.put("source", source);
        ArrayNode all = batch.putArray("edits");
        edits.forEach(all::add);
        return batch;
    }

    @Override
    public Set<String> paths() {
        Set<String> paths = new HashSet<>();
        edits.forEach(one -> paths.addAll(EditKinds.paths(one)));
        return paths;
    }

    @Override
    public List<String> accountsAskedFor() {
        List<String> accounts = new ArrayList<>();
        edits.forEach(one -> accounts.addAll(EditKinds.accountsAskedFor(one)));
        return accounts;
    }
}
