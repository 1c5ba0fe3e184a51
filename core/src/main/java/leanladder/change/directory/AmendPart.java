package leanladder.change.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Footprint;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Paths;
import leanladder.change.overlay.Tally;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.tell.Wording;

/** Changes members of a unit, account or group; null takes a member away. */
public final class AmendPart<T> extends PartEdit<T> {
    private final ObjectNode members;

    private AmendPart(EditKind kind, ObjectNode sent, PartType<T> type, String id, ObjectNode members) {
        super(kind, sent, type, id);
        this.members = members;
    }

    /** The kind that amends parts of a type. */
    public static <T> EditKind kind(PartType<T> of) {
        return new Kind<>("amend-" + of.noun(), of) {
            @Override
            public Optional<AmendPart<T>> read(Place place, Overlay on) {
                Optional<String> id = known(place, on);
                Optional<Place> members = place.required("members").filter(Place::isObject);
                if (id.isEmpty() || members.isEmpty()) return Optional.empty();
                for (var member : members.get().members().entrySet())
                    if (!type.amendable().contains(member.getKey())) {
                        member.getValue()
                                .defect("cannot be amended so; "
                                        + type.amendable().stream().sorted().collect(Collectors.joining(", "))
                                        + " can");
                        return Optional.empty();
                    }
                ObjectNode wanted = (ObjectNode) members.get().node();
                ObjectNode amended =
                        Overlay.amended(type.shortBody(on.part(type, id.get()).orElseThrow()), wanted);
                int before = place.defects().size();
                type.check(new Place(amended, members.get().pointer(), place.defects()), on);
                if (place.defects().size() == before) type.checkAmended(id.get(), amended, members.get(), on);
                return place.defects().size() > before
                        ? Optional.empty()
                        : Optional.of(new AmendPart<>(this, (ObjectNode) place.node(), type, id.get(), wanted));
            }

            @Override
            public Set<String> paths(JsonNode edit) {
                Set<String> paths = new HashSet<>();
                edit.path("members").fieldNames().forEachRemaining(m -> paths.add(path(edit) + "/" + Paths.step(m)));
                return paths;
            }

            @Override
            public String schema() {
                return schema(
                        type.amendable().stream().sorted().collect(Collectors.joining(", "))
                                + "; null takes a member away",
                        "\"" + type.noun() + "\",\"members\"",
                        idSchema() + ",\"members\":{\"type\":\"object\",\"additionalProperties\":true}");
            }
        };
    }

    @Override
    public void carryOut(Overlay on) {
        on.amend(type(), id(), members);
    }

    /** The members as they were, among them what only the stored body knows: attributes that decide nothing. */
    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode whole = before.wholeBody(type(), id());
        ObjectNode inverse = form(kind().name());
        ObjectNode back = inverse.putObject("members");
        members.fieldNames().forEachRemaining(m -> back.set(m, whole.has(m) ? whole.get(m) : Json.NODES.nullNode()));
        return Optional.of(inverse);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + " "
                + members.properties().stream()
                        .map(m -> type().amendedWords(m.getKey(), m.getValue(), before, wording))
                        .collect(Collectors.joining(" and "));
    }

    @Override
    public Footprint footprint(Overlay before) {
        return type().footprint(id(), Optional.of(members), before);
    }

    @Override
    public Tally tally() {
        return tally("altered");
    }
}
