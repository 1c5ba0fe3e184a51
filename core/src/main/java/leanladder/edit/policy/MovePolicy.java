package leanladder.edit.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Moves a policy in the ranking: directly above another, or to the end. */
public final class MovePolicy extends PolicyEdit {
    public static final EditKind KIND = new PolicyEditKind("rank-policy") {
        @Override
        public Optional<MovePolicy> read(JsonCursor jsonCursor, Overlay on) {
            Optional<String> id = known(jsonCursor, on);
            Optional<JsonCursor> above = jsonCursor.required("above");
            if (id.isEmpty() || above.isEmpty()) return Optional.empty();
            ObjectNode sent = (ObjectNode) jsonCursor.node();
            if (above.get().node().isNull()) return Optional.of(new MovePolicy(sent, id.get(), Optional.empty()));
            Optional<String> other = neighbour(jsonCursor, "above", on);
            if (other.equals(id)) {
                above.get().defect("must be another policy");
                return Optional.empty();
            }
            return other.map(o -> new MovePolicy(sent, id.get(), other));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(ConflictPaths.place(edit));
        }

        @Override
        public String schema() {
            return schema(
                    "moves a policy directly above another, or to the end",
                    "\"policy\",\"above\"",
                    POLICY + ",\"above\":{\"type\":[\"string\",\"null\"]}");
        }
    };

    private final Optional<String> above;

    private MovePolicy(ObjectNode sent, String policy, Optional<String> above) {
        super(sent, policy);
        this.above = above;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.rank(policy(), above);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        List<String> ranking = before.ranking();
        int at = ranking.indexOf(policy());
        return Optional.of(form(KIND).put("above", at + 1 < ranking.size() ? ranking.get(at + 1) : null));
    }

    /** The policy above which it moves; empty where it goes to the end. */
    public Optional<String> above() {
        return above;
    }
}
