package leanladder.edit;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.json.Json;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/** An edit that comes to setting some members of one part, said in terms of what is done. */
public abstract class UpdateEdit<T> implements Edit {
    private final EditKind kind;
    private final ObjectNode sent;
    private final EntityType<T> type;
    private final String id;
    private final ObjectNode members;

    /** @param members what the edit comes to: members of the part, null for those taken away */
    protected UpdateEdit(EditKind kind, ObjectNode sent, EntityType<T> type, String id, ObjectNode members) {
        this.kind = kind;
        this.sent = sent;
        this.type = type;
        this.id = id;
        this.members = members;
    }

    /** Its id, or what else tells it from others of its type. */
    public final String id() {
        return id;
    }

    /** The type of what is edited. */
    public final EntityType<T> type() {
        return type;
    }

    /** The part as it stands. */
    protected final T part(Overlay on) {
        return on.part(type, id).orElseThrow();
    }

    @Override
    public final EditKind kind() {
        return kind;
    }

    @Override
    public final ObjectNode json() {
        return sent;
    }

    @Override
    public final void apply(Overlay on) {
        on.amend(type, id, members);
    }

    /** The part as the estate file writes it, as far as the members are concerned. */
    protected ObjectNode body(Overlay before) {
        return type.shortBody(part(before));
    }

    /** The members as they were; empty where they stay the same. */
    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode was = body(before);
        ObjectNode inverse =
                Json.NODES.objectNode().put("kind", "amend-" + type.noun()).put(type.noun(), id);
        ObjectNode back = inverse.putObject("members");
        boolean same = true;
        for (var member : members.properties()) {
            JsonNode old = was.has(member.getKey()) ? was.get(member.getKey()) : Json.NODES.nullNode();
            back.set(member.getKey(), old);
            same &= old.equals(member.getValue());
        }
        return same ? Optional.empty() : Optional.of(inverse);
    }

    @Override
    public final WriteSet footprint(Overlay before) {
        return type.footprint(id, Optional.of(members), before);
    }
}
