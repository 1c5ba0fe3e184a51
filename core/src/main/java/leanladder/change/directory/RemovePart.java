package leanladder.change.directory;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Tally;
import leanladder.change.overlay.Use;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.tell.Wording;

/** Takes a unit, account or group away that nothing names any more. */
public final class RemovePart<T> extends PartEdit<T> {
    private RemovePart(EditKind kind, ObjectNode sent, PartType<T> type, String id) {
        super(kind, sent, type, id);
    }

    /** The kind that takes parts of a type away. */
    public static <T> EditKind kind(PartType<T> of) {
        return new Kind<>("remove-" + of.noun(), of) {
            @Override
            public Optional<RemovePart<T>> read(Place place, Overlay on) {
                Optional<String> id = known(place, on);
                if (id.isEmpty()) return Optional.empty();
                Place at = place.member(type.noun()).orElseThrow();
                Optional<String> never = type.whyNotRemoved(id.get(), on);
                if (never.isPresent()) {
                    at.defect(never.get());
                    return Optional.empty();
                }
                List<Use> uses = on.uses(type, id.get());
                if (!uses.isEmpty()) {
                    at.defect("cannot be taken away: " + on.name(type, id.get()) + " is used by " + Use.list(uses)
                            + ". " + type.insteadOfRemoval());
                    return Optional.empty();
                }
                return Optional.of(new RemovePart<>(this, (ObjectNode) place.node(), type, id.get()));
            }

            @Override
            public String schema() {
                return schema(
                        "takes a " + type.noun() + " away that nothing names any more",
                        "\"" + type.noun() + "\"",
                        idSchema());
            }
        };
    }

    @Override
    public void carryOut(Overlay on) {
        on.remove(type(), id());
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        ObjectNode inverse = Json.NODES.objectNode().put("kind", "add-" + type().noun());
        inverse.set(type().noun(), before.wholeBody(type(), id()));
        return Optional.of(inverse);
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + " is taken away";
    }

    @Override
    public Tally tally() {
        return tally("taken away");
    }
}
