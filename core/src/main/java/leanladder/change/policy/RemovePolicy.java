package leanladder.change.policy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.Paths;
import leanladder.document.Place;
import leanladder.tell.Wording;

/** Takes a policy away, with its place in the ranking. */
public final class RemovePolicy extends PolicyEdit {
    public static final EditKind KIND = new Kind("remove-policy") {
        @Override
        public Optional<RemovePolicy> read(Place place, Overlay on) {
            return known(place, on).map(id -> new RemovePolicy((ObjectNode) place.node(), id));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(Paths.policy(edit), Paths.place(edit));
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
    public void carryOut(Overlay on) {
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

    @Override
    public String words(Overlay before, Wording wording) {
        return policy(before).name() + " is deleted";
    }
}
