package leanladder.edit.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.estate.Members;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.MembershipDelta;
import leanladder.workingcopy.Overlay;

/** Puts members into a group; those who are in it already stay as they are. */
public final class AddMembers extends MembersEdit {
    public static final EditKind KIND = new MembersKind("put-members", "puts members into a group") {
        @Override
        void check(String group, List<JsonCursor> items, Overlay on) {
            on.checkMembers(group, items);
        }

        @Override
        MembersEdit edit(ObjectNode sent, String group, Members who, Overlay on) {
            MembershipDelta present = on.members(group).orElseThrow();
            Members fresh = new Members(
                    who.accounts().stream()
                            .distinct()
                            .filter(a -> !present.hasAccount(a))
                            .toList(),
                    who.groups().stream()
                            .distinct()
                            .filter(g -> !present.hasGroup(g))
                            .toList());
            return new AddMembers(sent, group, fresh);
        }

        @Override
        public boolean commutes(JsonNode mine, JsonNode theirs) {
            return true;
        }
    };

    private AddMembers(ObjectNode sent, String group, Members who) {
        super(KIND, sent, group, who);
    }

    @Override
    public void apply(Overlay on) {
        on.putMembers(id(), who());
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return back(RemoveMembers.KIND);
    }
}
