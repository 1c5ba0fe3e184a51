package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.estate.Estate;
import leanladder.estate.Nesting;
import leanladder.estate.Unit;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** Units, which stand in one tree. */
final class UnitEntityType extends EntityType<Unit> {
    private static final String PARENT = "parent";

    UnitEntityType() {
        super("unit", Section.UNITS, Set.of("name", PARENT));
    }

    @Override
    public Optional<Unit> find(Estate estate, String id) {
        return estate.unit(id);
    }

    @Override
    public Optional<Unit> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.unit(jsonCursor);
    }

    @Override
    public String name(Unit unit) {
        return unit.name();
    }

    @Override
    public ObjectNode shortBody(Unit unit) {
        ObjectNode body = Json.NODES.objectNode().put("id", unit.id()).put("name", unit.name());
        unit.parent().ifPresent(p -> body.put(PARENT, p));
        return body;
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        read(whole, on)
                .flatMap(Unit::parent)
                .filter(p -> !on.hasUnit(p))
                .ifPresent(p -> unknown(whole.member(PARENT).orElseThrow(), noun(), p));
        notBlank(whole, "name");
    }

    @Override
    public void checkNew(JsonCursor named, ObjectNode body, Overlay on) {
        if (!body.path(PARENT).isTextual())
            named.defect("lacks the member \"parent\"; only the organisation stands below no other unit");
        else checkDepth(1, body.get(PARENT).textValue(), named, on);
    }

    @Override
    public void checkAmended(String id, ObjectNode amended, JsonCursor members, Overlay on) {
        Optional<JsonCursor> at = members.member(PARENT);
        if (at.isEmpty()) return;
        if (on.isRootUnit(id))
            at.get().defect("cannot be given: this is the organisation, and everything stands below it");
        else if (!amended.path(PARENT).isTextual())
            at.get().defect("cannot be taken away: only the organisation stands below no other unit");
        else checkCycle(id, amended.get(PARENT).textValue(), at.get(), on);
    }

    private static void checkCycle(String id, String parent, JsonCursor at, Overlay on) {
        List<String> way = new ArrayList<>(List.of(id));
        for (String up = parent;
                up != null;
                up = on.part(UNIT, up).flatMap(Unit::parent).orElse(null)) {
            way.add(up);
            if (up.equals(id)) {
                at.defect("would close a cycle of units: "
                        + way.stream().map(u -> on.name(UNIT, u)).collect(Collectors.joining(" → ")));
                return;
            }
        }
        checkDepth(
                Objects.requireNonNull(Objects.requireNonNull(
                        Nesting.levels(List.of(id), on::unitsBelow).get(id))),
                parent,
                at,
                on);
    }

    /** @param levels of the unit that is put below the parent, with all below it */
    private static void checkDepth(int levels, String parent, JsonCursor at, Overlay on) {
        int above = 0;
        for (String up = parent;
                up != null;
                up = on.part(UNIT, up).flatMap(Unit::parent).orElse(null)) above++;
        if (above + levels > Nesting.MOST)
            at.defect("would have units stand " + (above + levels) + " levels deep; at most " + Nesting.MOST
                    + " are possible");
    }

    @Override
    public Optional<String> whyNotRemoved(String id, Overlay on) {
        return on.isRootUnit(id)
                ? Optional.of("is the organisation itself and cannot be taken away")
                : Optional.empty();
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        boolean moves = members.isEmpty()
                || members.get().has(PARENT)
                        && !before.part(UNIT, id)
                                .flatMap(Unit::parent)
                                .equals(Optional.of(members.get().get(PARENT).asText()));
        return WriteSet.ofUnit(id, moves);
    }
}
