package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.estate.Release;
import leanladder.estate.Target;
import leanladder.json.CodePointOrder;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Opens a release early to a unit, a group or an account, without the rest of its ring; or no longer. */
public final class GrantEarlyAccess extends ReleaseEdit {
    public static final EditKind KIND = new ReleaseEditKind("open-early") {
        @Override
        public Optional<GrantEarlyAccess> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Release> release = known(jsonCursor, on);
            Optional<JsonCursor> named = jsonCursor.required("to");
            Optional<Target> to = named.flatMap(p -> on.reader().target(p, true));
            to.filter(t -> t instanceof Target.OrganisationTarget || t instanceof Target.WorkspaceTarget)
                    .ifPresent(t -> named.get().defect("must be a unit, an access group or an account"));
            Optional<JsonCursor> from = jsonCursor.required("from");
            Optional<Instant> at = from.filter(f -> !f.node().isNull()).flatMap(JsonCursor::instant);
            if (release.isEmpty() || to.isEmpty() || from.isEmpty()) return Optional.empty();
            boolean closes = from.get().node().isNull();
            if (!closes && at.isEmpty()) return Optional.empty();
            // By target, so that it is the same who opens it to whom first.
            Map<String, JsonNode> early = new TreeMap<>(CodePointOrder.TEXTS);
            release.get()
                    .source()
                    .path("early")
                    .forEach(one -> early.put(one.path("to").asText(), one));
            if (early.remove(to.get().text()) == null && closes) {
                named.get().defect("is not opened to early (any more)");
                return Optional.empty();
            }
            if (!closes) {
                ObjectNode one = Json.NODES.objectNode().put("to", to.get().text());
                one.set("from", from.get().node());
                early.put(to.get().text(), one);
            }
            ObjectNode members = Json.NODES.objectNode();
            members.set(
                    "early",
                    early.isEmpty()
                            ? Json.NODES.nullNode()
                            : Json.NODES.arrayNode().addAll(early.values()));
            return Optional.of(
                    new GrantEarlyAccess((ObjectNode) jsonCursor.node(), release.get(), members, to.get(), at));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of(
                    path(edit) + "/early/" + ConflictPaths.step(edit.path("to").asText()));
        }

        @Override
        public String schema() {
            return schema(
                    "opens a release early to a unit, an access group or an account; null closes it again",
                    "\"release\",\"to\",\"from\"",
                    RELEASE + ",\"to\":{\"type\":\"string\"},\"from\":" + INSTANT);
        }
    };

    private final Target to;
    private final Optional<Instant> from;

    private GrantEarlyAccess(ObjectNode sent, Release release, ObjectNode members, Target to, Optional<Instant> from) {
        super(KIND, sent, release, members);
        this.to = to;
        this.from = from;
    }

    /** For whom the release opens early. */
    public Target to() {
        return to;
    }

    /** From when on; empty where it does not open early any more. */
    public Optional<Instant> from() {
        return from;
    }
}
