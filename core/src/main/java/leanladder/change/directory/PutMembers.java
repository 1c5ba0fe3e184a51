package leanladder.change.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.EditedMembers;
import leanladder.change.overlay.Overlay;
import leanladder.document.Place;
import leanladder.estate.Members;
import leanladder.tell.Wording;

/** Puts members into a group; those who are in it already stay as they are. */
public final class PutMembers extends MembersEdit {
    public static final EditKind KIND = new MembersKind("put-members", "puts members into a group") {
        @Override
        void check(String group, List<Place> items, Overlay on) {
            on.checkMembers(group, items);
        }

        @Override
        MembersEdit edit(ObjectNode sent, String group, Members who, Overlay on) {
            EditedMembers present = on.members(group).orElseThrow();
            Members fresh = new Members(
                    who.accounts().stream()
                            .distinct()
                            .filter(a -> !present.hasAccount(a))
                            .toList(),
                    who.groups().stream()
                            .distinct()
                            .filter(g -> !present.hasGroup(g))
                            .toList());
            return new PutMembers(sent, group, fresh);
        }

        @Override
        public boolean commutes(JsonNode mine, JsonNode theirs) {
            return true;
        }
    };

    private PutMembers(ObjectNode sent, String group, Members who) {
        super(KIND, sent, group, who);
    }

    @Override
    public void carryOut(Overlay on) {
        on.putMembers(id(), who());
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return back(RemoveMembers.KIND);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return whoDo(before, "joins", "join");
    }
}
