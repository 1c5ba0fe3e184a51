package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Estate;
import leanladder.estate.Hosting;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** Hostings, on which workspaces run. */
final class HostingEntityType extends EntityType<Hosting> {
    private static final String SIZE = "size";
    private static final String KEEPERS = "keepers";

    HostingEntityType() {
        super("hosting", Section.HOSTINGS, Set.of("name", SIZE, "trial", "state", KEEPERS, "note"));
    }

    @Override
    public Optional<Hosting> find(Estate estate, String id) {
        return estate.hosting(id);
    }

    @Override
    public Optional<Hosting> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.hosting(jsonCursor);
    }

    @Override
    public String name(Hosting hosting) {
        return hosting.name();
    }

    @Override
    public ObjectNode shortBody(Hosting hosting) {
        ObjectNode body = Json.NODES
                .objectNode()
                .put("id", hosting.id())
                .put("name", hosting.name())
                .put(SIZE, hosting.size())
                .put("trial", hosting.trial())
                .put("state", hosting.running() ? "running" : "paused");
        ArrayNode keepers = body.putArray(KEEPERS);
        hosting.keepers().forEach(keepers::add);
        return body;
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        notBlank(whole, "name");
        if (read(whole, on).isEmpty()) return;
        WorkspaceEntityType.checkSize(whole, on);
        for (JsonCursor keeper : whole.items(KEEPERS))
            if (keeper.node().isTextual() && !on.hasAccount(keeper.node().textValue()))
                unknown(keeper, "account", keeper.node().textValue());
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofHosting(id);
    }
}
