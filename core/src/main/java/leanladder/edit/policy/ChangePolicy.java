package leanladder.edit.policy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/**
 * Sets members of a policy beside its statements and assignments.
 *
 * @param members null removes a member
 */
public record ChangePolicy(@Member(names = "policy") String policy, ObjectNode members) implements PolicyEdit {
    private static final Set<String> AMENDABLE = Set.of("name", "description", "state", "owner", "review");

    public static final EditKind KIND = EditKind.of(
            "amend-policy",
            Duty.POLICIES,
            ChangePolicy.class,
            "name, description, state, owner or review; null takes a member away");

    @Override
    public ChangePolicy apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member("members").orElseThrow();
        for (var member : place.members().entrySet())
            if (!AMENDABLE.contains(member.getKey())) {
                member.getValue().defect("cannot be amended so; name, description, state, owner and review can");
                return this;
            }
        ObjectNode amended = Overlay.amended(on.policy(policy).rest(), members);
        if (AddPolicy.read(amended, place.pointer(), at.defects(), on).isPresent()) on.amendPolicy(policy, members);
        return this;
    }

    @Override
    public Set<String> paths() {
        return ConflictPaths.members(path(), members);
    }

    @Override
    public String policyId() {
        return policy;
    }
}
