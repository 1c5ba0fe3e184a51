package leanladder.edit.directory;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.estate.Members;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.MembershipDelta;
import leanladder.workingcopy.Overlay;

/** Takes members out of a group. */
public final class RemoveMembers extends MembersEdit {
    public static final EditKind KIND = new MembersKind("remove-members", "takes members out of a group") {
        @Override
        void check(String group, List<JsonCursor> items, Overlay on) {
            MembershipDelta present = on.members(group).orElseThrow();
            for (JsonCursor item : items) {
                if (!item.node().isTextual()) continue;
                String text = item.node().textValue();
                String id = text.substring(text.indexOf(':') + 1);
                boolean in = text.startsWith("group:") ? present.hasGroup(id) : present.hasAccount(id);
                if (!in) item.defect("is no member of " + on.name(EntityType.GROUP, group) + " (any more)");
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
    public void apply(Overlay on) {
        on.removeMembers(id(), who());
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return back(AddMembers.KIND);
    }
}
