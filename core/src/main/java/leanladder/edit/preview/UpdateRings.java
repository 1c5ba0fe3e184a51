package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Default;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Consent;
import leanladder.estate.Ring;
import leanladder.estate.read.EntityParsers;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.TermsRevision;

/**
 * The preview rings as they shall be, all of them, from the innermost outwards (resolution.md, section 7): some new, some called
 * otherwise, moved, asking consent or not any more, or taken away. They are few, and what each means rests on its place among the
 * others. The ring setting of the catalogue offers the same.
 */
public record UpdateRings(@Member(schema = "RingForm") List<ObjectNode> rings) implements Edit {
    private static final String RINGS = "rings";

    public static final EditKind KIND = EditKind.of(
            "arrange-rings",
            Duty.PREVIEWS,
            UpdateRings.class,
            "the preview rings as they shall be, all of them, from the innermost outwards; one without an id is new");

    @Override
    public UpdateRings apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member(RINGS).orElseThrow();
        int found = at.defects().size();
        ArrayNode whole = whole(on);
        reviseTerms(whole, on.rings(), place, on);
        List<Ring> wanted =
                EntityParsers.rings(new JsonCursor(whole, place.pointer(), at.defects()).items(), on.tracks());
        for (JsonCursor item : place.items())
            item.member("name")
                    .filter(n -> n.node().isTextual() && n.node().textValue().isBlank())
                    .ifPresent(n -> n.defect("must not be empty"));
        if (wanted.isEmpty()) place.defect("must hold at least one ring, the one that everyone stands in");
        Set<String> kept = wanted.stream().map(Ring::id).collect(Collectors.toSet());
        for (Ring ring : on.rings())
            if (!kept.contains(ring.id()))
                on.useOfRing(ring.id())
                        .ifPresent(use -> place.defect("lacks the ring " + ring.name() + ", which is named by " + use
                                + ". Take it out there first"));
        if (at.defects().size() == found) checkFollowers(place, wanted, on);
        if (at.defects().size() == found) on.replaceRings(wanted);
        return new UpdateRings(wanted.stream().map(Ring::source).toList());
    }

    /** Keeps the texts of terms that somebody has agreed to. @param rings those that stand now */
    static void reviseTerms(ArrayNode whole, List<Ring> rings, JsonCursor place, Overlay on) {
        for (int i = 0; i < whole.size(); i++)
            for (Ring was : rings)
                if (whole.get(i) instanceof ObjectNode ring
                        && was.id().equals(ring.path("id").asText()))
                    TermsRevision.revise(ring, was.source(), place, Consent.ConsentTarget.RING.member(), was.id(), on);
    }

    /** The rings as they shall be written: with ids for those that are new, and with what is known of the others besides. */
    private ArrayNode whole(Overlay on) {
        Map<String, Ring> known = new LinkedHashMap<>();
        on.rings().forEach(ring -> known.put(ring.id(), ring));
        ArrayNode whole = Json.NODES.arrayNode();
        for (ObjectNode ring : rings) {
            ObjectNode written = Json.NODES.objectNode();
            Ring there = known.get(ring.path("id").asText(""));
            if (there != null) written.setAll(there.source());
            written.setAll(ring.deepCopy());
            if (!ring.has("id"))
                written.put(
                        "id",
                        IdGenerator.generate(
                                ring.path("name").asText(""),
                                "ring",
                                id -> on.hasRing(id)
                                        || whole.findValuesAsText("id").contains(id)));
            whole.add(written);
        }
        return whole;
    }

    /** A setting that follows the ring setting must know every ring. */
    private static void checkFollowers(JsonCursor named, List<Ring> rings, Overlay on) {
        ValueType.ChoiceType options =
                new ValueType.ChoiceType(rings.stream().map(Ring::id).toList());
        on.settings()
                .filter(setting -> setting.builtIn() instanceof Default.Follow follow
                        && follow.key().equals(Setting.RING)
                        && !setting.type().holdsAllOf(options))
                .sorted(Comparator.comparing(Setting::key))
                .forEach(setting -> named.defect("names a ring that the setting " + setting.title()
                        + ", which follows the ring by default, does not offer"));
    }

    /** The rings of an edit that was found to fit, the innermost first; those that are new have no id yet. */
    public List<Ring> read(Overlay on) {
        return EntityParsers.rings(new JsonCursor(whole(on), "", new Defects()).items(), on.tracks());
    }

    @Override
    public Set<String> paths() {
        return Set.of(RINGS);
    }
}
