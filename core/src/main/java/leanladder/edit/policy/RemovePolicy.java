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

/** Takes a policy away, with its place in the ranking. */
public final class RemovePolicy extends PolicyEdit {
    public static final EditKind KIND = new PolicyEditKind("remove-policy") {
        @Override
        public Optional<RemovePolicy> read(JsonCursor jsonCursor, Overlay on) {
            return known(jsonCursor, on).map(id -> new RemovePolicy((ObjectNode) jsonCursor.node(), id));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(ConflictPaths.policy(edit), ConflictPaths.place(edit));
        }

        @Override
        public String schema() {
            return schema("takes a policy away", "\"policy\"", POLICY);
        }
    };

    private RemovePolicy(ObjectNode sent, String policy) {
        super(sent, policy);
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public void apply(Overlay on) {
        on.removePolicy(policy());
    }

    /** The policy again, where it stood; the strongest of all stood below none, so it goes above the next. */
    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        List<String> ranking = before.ranking();
        int at = ranking.indexOf(policy());
        ObjectNode inverse = form(AddPolicy.KIND);
        inverse.set("policy", policy(before).body());
        inverse.put("below", at > 0 ? ranking.get(at - 1) : null);
        if (at == 0 && ranking.size() > 1) inverse.put("above", ranking.get(1));
        return Optional.of(inverse);
    }
}
