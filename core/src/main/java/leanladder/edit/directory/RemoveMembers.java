package leanladder.edit.directory;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Members;
import leanladder.estate.read.EntityParsers;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Takes members out of a group. */
public record RemoveMembers(
        @Member(names = "group") String group,
        @Member(description = "account:ID or group:ID") List<String> who) implements MembersEdit {
    public static final EditKind KIND =
            EditKind.of("remove-members", EntityType.GROUP.duty(), RemoveMembers.class, "takes members out of a group");

    @Override
    public RemoveMembers apply(Overlay on, JsonCursor at) {
        int found = at.defects().size();
        List<JsonCursor> items = MembersEdit.items(at);
        Members members = EntityParsers.members(items);
        Set<String> absent =
                on.members(group).orElseThrow().absentOf(members).texts().collect(Collectors.toSet());
        for (JsonCursor item : items)
            if (absent.contains(item.node().asText()))
                item.defect("is no member of " + on.name(EntityType.GROUP, group) + " (any more)");
        if (at.defects().size() == found) on.removeMembers(group, members);
        return this;
    }
}
