package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import leanladder.change.Touch;
import leanladder.store.Change;

/** Finds what others published meanwhile that touches the same parts as an edit. */
final class Clashes {
    private Clashes() {}

    /**
     * Both sides of each clash of one edit with the changes since its base, but for the words of the edit itself.
     */
    static List<ObjectNode> between(JsonNode mine, List<Change> since) {
        List<ObjectNode> clashes = new ArrayList<>();
        for (Change change : since) {
            for (int i = 0; i < change.edits().size(); i++) {
                JsonNode theirs = change.edits().get(i);
                if (!Touch.meet(mine, theirs)) continue;
                ObjectNode clash = Answers.object();
                clash.set("yours", mine);
                clash.set("theirs", theirs);
                clash.put("theirsInWords", change.words().path(i).asText());
                clash.set("change", ChangeRoutes.receipt(change));
                clashes.add(clash);
            }
        }
        return clashes;
    }
}
