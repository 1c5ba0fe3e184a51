package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.Workspace;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** Workspaces; they run on a hosting. */
final class WorkspaceEntityType extends EntityType<Workspace> {
    private static final String HOSTING = "hosting";
    private static final String SIZE = "size";
    private static final String TRIAL = "trial";
    private static final String STEWARDS = "stewards";
    private static final String MEMBERS = "members";

    WorkspaceEntityType() {
        super("workspace", Section.WORKSPACES, Set.of("name", HOSTING, SIZE, TRIAL, STEWARDS, MEMBERS));
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
        ObjectNode body = Json.NODES.objectNode().put("id", workspace.id()).put("name", workspace.name());
        workspace.hosting().ifPresent(hosting -> body.put(HOSTING, hosting));
        workspace.size().ifPresent(size -> body.put(SIZE, size).put(TRIAL, workspace.trial()));
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
        checkSize(whole, on);
        whole.member(HOSTING)
                .filter(h -> h.node().isTextual() && !on.hasHosting(h.node().textValue()))
                .ifPresent(h -> unknown(h, HOSTING, h.node().textValue()));
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

    /** What runs on a shared hosting has no size of its own, and the other way round. */
    @Override
    public ObjectNode complete(String id, ObjectNode members, JsonCursor place, Overlay on) {
        boolean moves = members.path(HOSTING).isTextual();
        boolean leaves = members.path(SIZE).isTextual();
        if (moves == leaves) return members;
        ObjectNode all = members.deepCopy();
        part(id, on).ifPresent(was -> {
            if (moves && was.size().isPresent()) {
                if (!all.has(SIZE)) all.putNull(SIZE);
                if (!all.has(TRIAL)) all.putNull(TRIAL);
            } else if (leaves && was.hosting().isPresent() && !all.has(HOSTING)) all.putNull(HOSTING);
        });
        return all;
    }

    @Override
    public Set<String> touchedBy(Set<String> members) {
        if (!members.contains(HOSTING)) return members;
        Set<String> all = new HashSet<>(members);
        all.add(SIZE);
        all.add(TRIAL);
        return all;
    }

    private Optional<Workspace> part(String id, Overlay on) {
        return on.part(this, id);
    }

    /** Checks that the size of a workspace or a hosting is one of the catalogue's. */
    static void checkSize(JsonCursor whole, Overlay on) {
        var sizes = on.frame().sizes();
        whole.member(SIZE)
                .filter(s -> s.node().isTextual() && !sizes.contains(s.node().textValue()))
                .ifPresent(s -> s.defect("must be a size of the catalogue: " + String.join(", ", sizes)));
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofWorkspace(id);
    }
}
