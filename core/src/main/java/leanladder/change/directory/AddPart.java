package leanladder.change.directory;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.FreeId;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.Right;
import leanladder.change.overlay.Tally;
import leanladder.document.Place;
import leanladder.tell.Wording;

/** A new unit, account, group, workspace, licence plan, release or word on a release. */
public final class AddPart<T> extends PartEdit<T> {
    private final ObjectNode body;

    private AddPart(EditKind kind, ObjectNode whole, PartType<T> type, String id, ObjectNode body) {
        super(kind, whole, type, id);
        this.body = body;
    }

    /** The kind that adds parts of a type. */
    public static <T> EditKind kind(PartType<T> of) {
        return kind(of, of.right());
    }

    /** The same, where adding needs another right than editing. */
    public static <T> EditKind kind(PartType<T> of, Right right) {
        return new Kind<>("add-" + of.noun(), of, right) {
            @Override
            public Optional<AddPart<T>> read(Place place, Overlay on) {
                Optional<Place> named = place.required(type.noun());
                if (named.isEmpty() || !named.get().isObject()) return Optional.empty();
                ObjectNode body = ((ObjectNode) named.get().node()).deepCopy();
                String key = type.section().key();
                if (key.equals("id") && !body.has(key))
                    body.put(
                            "id",
                            FreeId.of(
                                    type.idWords(body),
                                    type.noun(),
                                    id -> on.part(type, id).isPresent()));
                String id = body.path(key).asText();
                int before = place.defects().size();
                type.check(new Place(body, named.get().pointer(), place.defects()), on);
                if (place.defects().size() == before && on.part(type, id).isPresent())
                    named.get()
                            .defect(
                                    key.equals("id")
                                            ? "has the id \"" + id + "\", which another " + type.noun()
                                                    + " has; leave the id out to be given one"
                                            : "is of \"" + id + "\", which has a " + type.noun() + " already");
                if (place.defects().size() == before) type.checkNew(named.get(), body, on);
                if (place.defects().size() > before) return Optional.empty();
                ObjectNode whole = ((ObjectNode) place.node()).deepCopy();
                whole.set(type.noun(), body);
                return Optional.of(new AddPart<>(this, whole, type, id, body));
            }

            @Override
            public String schema() {
                return schema(
                        "a new " + type.noun()
                                + (type.section().key().equals("id") ? "; without an id it is given one" : ""),
                        "\"" + type.noun() + "\"",
                        "\"" + type.noun() + "\":{\"type\":\"object\",\"additionalProperties\":true}");
            }
        };
    }

    @Override
    public void carryOut(Overlay on) {
        on.add(type(), id(), body);
    }

    @Override
    public Optional<ObjectNode> inverse(Overlay before) {
        return Optional.of(form("remove-" + type().noun()));
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return type().newWords(body, before);
    }

    @Override
    public Tally tally() {
        return tally("new");
    }
}
