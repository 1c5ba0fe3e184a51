package leanladder.edit.directory;

import java.util.List;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Members;
import leanladder.estate.read.EntityParsers;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Puts members into a group; those who are in it already stay as they are. */
public record AddMembers(
        @Member(names = "group") String group,
        @Member(description = "account:ID or group:ID") List<String> who) implements MembersEdit {
    public static final EditKind KIND =
            EditKind.of("put-members", EntityType.GROUP.duty(), AddMembers.class, "puts members into a group");

    @Override
    public AddMembers apply(Overlay on, JsonCursor at) {
        int found = at.defects().size();
        List<JsonCursor> items = MembersEdit.items(at);
        Members members = EntityParsers.members(items);
        on.checkMembers(group, items);
        if (at.defects().size() == found) on.putMembers(group, members);
        return this;
    }

    @Override
    public boolean commutes(Edit other) {
        return true;
    }
}
