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
     * Both sides of each clash of one edit with the changes since its base.
     *
     * @param words the edit as a sentence; empty when it cannot be carried out any more
     */
    static List<ObjectNode> between(JsonNode mine, String words, List<Change> since) {
        List<ObjectNode> clashes = new ArrayList<>();
        for (Change change : since) {
            for (int i = 0; i < change.edits().size(); i++) {
                JsonNode theirs = change.edits().get(i);
                if (!Touch.meet(mine, theirs)) continue;
                ObjectNode clash = Answers.object();
                clash.set("yours", mine);
                clash.set("theirs", theirs);
                clash.put("yoursInWords", words);
                clash.put("theirsInWords", change.words().path(i).asText());
                clash.set("change", ChangeRoutes.receipt(change));
                clashes.add(clash);
            }
        }
        return clashes;
    }
}
