package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.edit.catalogue.UpdateCatalogue;
import leanladder.edit.directory.AddMembers;
import leanladder.edit.directory.RemoveMembers;
import leanladder.edit.policy.AddPolicy;
import leanladder.edit.policy.ChangePolicy;
import leanladder.edit.policy.MovePolicy;
import leanladder.edit.policy.PutAssignment;
import leanladder.edit.policy.PutStatement;
import leanladder.edit.policy.RemoveAssignment;
import leanladder.edit.policy.RemovePolicy;
import leanladder.edit.policy.RemoveStatement;
import leanladder.edit.preview.AskToJoin;
import leanladder.edit.preview.StopAsking;
import leanladder.edit.preview.UpdateRings;
import leanladder.edit.preview.UpdateTracks;
import leanladder.estate.Members;
import leanladder.json.Json;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Mutation;

/** The edits that undo mutations. No kind of edit states its own inverse. */
final class Inverses {
    private Inverses() {}

    /** The inverses of mutations, in the order in which they are to be applied; of one that changed nothing, none. */
    static List<ObjectNode> of(List<Mutation> mutations) {
        List<ObjectNode> inverses = new ArrayList<>(mutations.size());
        for (int i = mutations.size() - 1; i >= 0; i--) of(mutations.get(i)).ifPresent(inverses::add);
        return inverses;
    }

    private static Optional<ObjectNode> of(Mutation mutation) {
        if (mutation instanceof Mutation.PolicyAdded added)
            return Optional.of(policy(RemovePolicy.KIND, added.policy()));
        if (mutation instanceof Mutation.PolicyRemoved removed) return Optional.of(again(removed));
        if (mutation instanceof Mutation.PolicyRanked ranked)
            return Optional.of(policy(MovePolicy.KIND, ranked.policy())
                    .put("above", ranked.above().orElse(null)));
        if (mutation instanceof Mutation.PolicyAmended amended)
            return members(policy(ChangePolicy.KIND, amended.policy()), amended.members(), amended.was());
        if (mutation instanceof Mutation.StatementWritten written) return Optional.of(statement(written));
        if (mutation instanceof Mutation.AssignmentAdded added)
            return Optional.of(policy(RemoveAssignment.KIND, added.policy()).set("assignment", added.assignment()));
        if (mutation instanceof Mutation.AssignmentRemoved removed)
            return Optional.of(policy(PutAssignment.KIND, removed.policy()).set("assignment", removed.assignment()));
        if (mutation instanceof Mutation.EntityAdded added)
            return Optional.of(entity("remove-", added.type(), added.id()));
        if (mutation instanceof Mutation.EntityRemoved removed)
            return Optional.of(entity("add-", removed.type(), removed.id())
                    .set(removed.type().noun(), removed.was().get()));
        if (mutation instanceof Mutation.EntityAmended amended)
            return members(
                    entity("amend-", amended.type(), amended.id()),
                    amended.members(),
                    amended.was().get());
        if (mutation instanceof Mutation.MembersAdded added)
            return group(RemoveMembers.KIND, added.group(), added.who());
        if (mutation instanceof Mutation.MembersRemoved removed)
            return group(AddMembers.KIND, removed.group(), removed.who());
        if (mutation instanceof Mutation.InvitationWritten written) return Optional.of(invitation(written));
        if (mutation instanceof Mutation.FrameAmended amended)
            return members(edit(UpdateCatalogue.KIND.name()), amended.members(), amended.was());
        if (mutation instanceof Mutation.TracksReplaced replaced) return tracks(replaced);
        return rings((Mutation.RingsReplaced) mutation);
    }

    private static ObjectNode edit(String kind) {
        return Json.NODES.objectNode().put("kind", kind);
    }

    private static ObjectNode policy(EditKind kind, String policy) {
        return edit(kind.name()).put("policy", policy);
    }

    private static ObjectNode entity(String verb, EntityType<?> type, String id) {
        return edit(verb + type.noun()).put(type.noun(), id);
    }

    /** The strongest policy of all stood below none, so it goes above the next. */
    private static ObjectNode again(Mutation.PolicyRemoved removed) {
        ObjectNode again = edit(AddPolicy.KIND.name());
        again.set("policy", removed.was().body());
        again.put("below", removed.below().orElse(null));
        if (removed.below().isEmpty()) removed.above().ifPresent(next -> again.put("above", next));
        return again;
    }

    private static ObjectNode statement(Mutation.StatementWritten written) {
        if (written.was().isPresent())
            return policy(PutStatement.KIND, written.policy())
                    .set("statement", written.was().get());
        return policy(RemoveStatement.KIND, written.policy())
                .put("setting", written.setting())
                .put("says", written.cap() ? "cap" : "set");
    }

    /** Sets the members that were set to what they were before. */
    private static Optional<ObjectNode> members(ObjectNode inverse, ObjectNode members, ObjectNode was) {
        ObjectNode back = inverse.putObject("members");
        boolean same = true;
        for (var member : members.properties()) {
            JsonNode old = was.has(member.getKey()) ? was.get(member.getKey()) : Json.NODES.nullNode();
            back.set(member.getKey(), old);
            same &= old.equals(member.getValue());
        }
        return same ? Optional.empty() : Optional.of(inverse);
    }

    private static Optional<ObjectNode> group(EditKind kind, String group, Members who) {
        ObjectNode inverse = edit(kind.name()).put("group", group);
        ArrayNode members = inverse.putArray("who");
        who.texts().forEach(members::add);
        return members.isEmpty() ? Optional.empty() : Optional.of(inverse);
    }

    private static ObjectNode invitation(Mutation.InvitationWritten written) {
        ObjectNode inverse = edit((written.was().isPresent() ? AskToJoin.KIND : StopAsking.KIND).name())
                .put("account", written.account());
        written.was().ifPresent(inverse::setAll);
        return inverse.put(written.to(), written.what());
    }

    private static Optional<ObjectNode> tracks(Mutation.TracksReplaced replaced) {
        if (replaced.was().equals(replaced.now())) return Optional.empty();
        ObjectNode inverse = edit(UpdateTracks.KIND.name());
        ArrayNode was = inverse.putArray("tracks");
        replaced.was().forEach(track -> was.add(track.json()));
        return Optional.of(inverse);
    }

    private static Optional<ObjectNode> rings(Mutation.RingsReplaced replaced) {
        ObjectNode inverse = edit(UpdateRings.KIND.name());
        ArrayNode was = inverse.putArray("rings");
        replaced.was().forEach(ring -> was.add(ring.source()));
        ArrayNode now = Json.NODES.arrayNode();
        replaced.now().forEach(ring -> now.add(ring.source()));
        return was.equals(now) ? Optional.empty() : Optional.of(inverse);
    }
}
