package leanladder.change.directory;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.EditedMembers;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.document.Place;
import leanladder.estate.Members;
import leanladder.tell.Wording;

/** Takes members out of a group. */
public final class RemoveMembers extends MembersEdit {
    public static final EditKind KIND = new MembersKind("remove-members", "takes members out of a group") {
        @Override
        void check(String group, List<Place> items, Overlay on) {
            EditedMembers present = on.members(group).orElseThrow();
            for (Place item : items) {
                if (!item.node().isTextual()) continue;
                String text = item.node().textValue();
                String id = text.substring(text.indexOf(':') + 1);
                boolean in = text.startsWith("group:") ? present.hasGroup(id) : present.hasAccount(id);
                if (!in) item.defect("is no member of " + on.name(PartType.GROUP, group) + " (any more)");
            }
        }

        @Override
        MembersEdit edit(ObjectNode sent, String group, Members who, Overlay on) {
            return new RemoveMembers(sent, group, who);
        }
    };

    private RemoveMembers(ObjectNode sent, String group, Members who) {
        super(KIND, sent, group, who);
    }

    @Override
    public void carryOut(Overlay on) {
        on.removeMembers(id(), who());
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return back(PutMembers.KIND);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return whoDo(before, "leaves", "leave");
    }
}
