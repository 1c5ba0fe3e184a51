package leanladder.edit.preview;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Default;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.read.EntityParsers;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.WriteSet;

/**
 * The preview rings as they shall be, all of them, from the innermost outwards (resolution.md, section 7): some new, some called
 * otherwise, moved, asking consent or not any more, or taken away. They are few, and what each means rests on its place among the
 * others. The ring setting of the catalogue offers the same.
 */
public final class UpdateRings implements Edit {
    public static final EditKind KIND = new EditKind("arrange-rings", Duty.PREVIEWS) {
        @Override
        public Optional<UpdateRings> read(JsonCursor jsonCursor, Overlay on) {
            Optional<JsonCursor> named = jsonCursor.required("rings");
            if (named.isEmpty() || !named.get().node().isArray()) {
                named.ifPresent(JsonCursor::items);
                return Optional.empty();
            }
            int before = jsonCursor.defects().size();
            ArrayNode whole = whole(named.get(), on);
            List<Ring> rings =
                    EntityParsers.rings(new JsonCursor(whole, named.get().pointer(), jsonCursor.defects()).items());
            named.get()
                    .items()
                    .forEach(item -> item.member("name")
                            .filter(n ->
                                    n.node().isTextual() && n.node().textValue().isBlank())
                            .ifPresent(n -> n.defect("must not be empty")));
            if (rings.isEmpty()) named.get().defect("must hold at least one ring, the one that everyone stands in");
            Set<String> kept = rings.stream().map(Ring::id).collect(Collectors.toSet());
            for (Ring ring : on.rings())
                if (!kept.contains(ring.id()))
                    on.useOfRing(ring.id())
                            .ifPresent(use -> named.get()
                                    .defect("lacks the ring " + ring.name() + ", which is named by " + use
                                            + ". Take it out there first"));
            if (jsonCursor.defects().size() == before) checkFollowers(named.get(), rings, on);
            if (jsonCursor.defects().size() > before) return Optional.empty();
            ObjectNode sent = ((ObjectNode) jsonCursor.node()).deepCopy();
            sent.set("rings", whole);
            return Optional.of(new UpdateRings(sent, rings));
        }

        @Override
        public Set<String> paths(JsonNode edit) {
            return Set.of("rings");
        }

        @Override
        public String schema() {
            return schema(
                    "the preview rings as they shall be, all of them, from the innermost outwards; one without an id is new",
                    "\"rings\"",
                    "\"rings\":{\"type\":\"array\",\"minItems\":1,\"items\":{\"type\":\"object\",\"required\":[\"name\"],"
                            + "\"properties\":{\"id\":{\"type\":\"string\"},\"name\":{\"type\":\"string\"},"
                            + "\"asksConsent\":{\"type\":\"boolean\"}}}}");
        }
    };

    private final ObjectNode sent;
    private final List<Ring> rings;

    private UpdateRings(ObjectNode sent, List<Ring> rings) {
        this.sent = sent;
        this.rings = rings;
    }

    /** The rings as they shall be written: with ids for those that are new, and with what is known of the others besides. */
    private static ArrayNode whole(JsonCursor named, Overlay on) {
        Map<String, Ring> known = byId(on.rings());
        ArrayNode whole = Json.NODES.arrayNode();
        for (JsonNode item : named.node()) {
            if (!(item instanceof ObjectNode ring)) {
                whole.add(item);
                continue;
            }
            ObjectNode written = Json.NODES.objectNode();
            Ring there = known.get(ring.path("id").asText(""));
            if (there != null) written.setAll(there.source());
            written.setAll(ring);
            if (!ring.has("id"))
                written.put(
                        "id",
                        IdGenerator.generate(
                                ring.path("name").asText(""),
                                "ring",
                                id -> known.containsKey(id)
                                        || whole.findValuesAsText("id").contains(id)));
            whole.add(written);
        }
        return whole;
    }

    /** A setting that follows the ring setting must know every ring. */
    private static void checkFollowers(JsonCursor named, List<Ring> rings, Overlay on) {
        ValueType.ChoiceType options =
                new ValueType.ChoiceType(rings.stream().map(Ring::id).toList());
        for (Setting setting : on.base().estate().catalogue().settings().values())
            if (setting.builtIn() instanceof Default.Follow follow
                    && follow.key().equals(Setting.RING)
                    && !setting.type().holdsAllOf(options))
                named.defect("names a ring that the setting " + setting.title()
                        + ", which follows the ring by default, does not offer");
    }

    private static Map<String, Ring> byId(List<Ring> rings) {
        Map<String, Ring> byId = new LinkedHashMap<>();
        rings.forEach(r -> byId.put(r.id(), r));
        return byId;
    }

    @Override
    public EditKind kind() {
        return KIND;
    }

    @Override
    public ObjectNode json() {
        return sent;
    }

    @Override
    public void apply(Overlay on) {
        on.arrange(rings);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode inverse = Json.NODES.objectNode().put("kind", KIND.name());
        ArrayNode was = inverse.putArray("rings");
        before.rings().forEach(r -> was.add(r.source()));
        return was.equals(sent.get("rings")) ? Optional.empty() : Optional.of(inverse);
    }

    @Override
    public WriteSet footprint(Overlay before) {
        WriteSet writeSet = WriteSet.ofRings(before.base().estate().releases().stream()
                .map(Release::setting)
                .filter(before::hasRelease)
                .toList());
        return before.setting(Setting.RING).isPresent() ? writeSet.and(WriteSet.ofSetting(Setting.RING)) : writeSet;
    }

    /** The rings as they come to be, the innermost first. */
    public List<Ring> rings() {
        return rings;
    }
}
