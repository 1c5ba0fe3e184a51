package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.Workspace;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** Workspaces; their members are told of changes and decide nothing. */
final class WorkspaceEntityType extends EntityType<Workspace> {
    private static final String SIZE = "size";
    private static final String TRIAL = "trial";
    private static final String STEWARDS = "stewards";
    private static final String MEMBERS = "members";

    WorkspaceEntityType() {
        super("workspace", Section.WORKSPACES, Set.of("name", SIZE, TRIAL, STEWARDS, MEMBERS));
    }

    @Override
    public Optional<Workspace> find(Estate estate, String id) {
        return estate.workspace(id);
    }

    @Override
    public Optional<Workspace> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.workspace(jsonCursor);
    }

    @Override
    public String name(Workspace workspace) {
        return workspace.name();
    }

    @Override
    public ObjectNode shortBody(Workspace workspace) {
        ObjectNode body = Json.NODES
                .objectNode()
                .put("id", workspace.id())
                .put("name", workspace.name())
                .put(SIZE, workspace.size())
                .put(TRIAL, workspace.trial());
        ArrayNode stewards = body.putArray(STEWARDS);
        workspace.stewards().forEach(stewards::add);
        ArrayNode members = body.putArray(MEMBERS);
        workspace.members().texts().forEach(members::add);
        return body;
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        notBlank(whole, "name");
        if (read(whole, on).isEmpty()) return;
        var sizes = on.frame().sizes();
        whole.member(SIZE)
                .filter(s -> s.node().isTextual() && !sizes.contains(s.node().textValue()))
                .ifPresent(s -> s.defect("must be a size of the catalogue: " + String.join(", ", sizes)));
        for (JsonCursor steward : whole.items(STEWARDS))
            if (steward.node().isTextual() && !on.hasAccount(steward.node().textValue()))
                unknown(steward, "account", steward.node().textValue());
        for (JsonCursor member : whole.items(MEMBERS)) {
            String text = member.node().asText();
            String id = text.substring(text.indexOf(':') + 1);
            if (text.startsWith("account:") && !on.hasAccount(id)) unknown(member, "account", id);
            if (text.startsWith("group:") && on.isAccessGroup(id).isEmpty()) unknown(member, "group", id);
        }
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofWorkspace(id);
    }
}
