package leanladder.edit.preview;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.estate.read.EntityParsers;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.IdGenerator;
import leanladder.workingcopy.Overlay;

/**
 * The further preview tracks as they shall be, all of them (resolution.md, section 7). The ring setting of each is a choice of the
 * catalogue; it offers the rings of its track from then on.
 */
public record UpdateTracks(
        @Member(schema = "TrackForm", minItems = 0) List<ObjectNode> tracks) implements Edit {
    private static final String TRACKS = "tracks";
    private static final String ID = "id";
    private static final String NAME = "name";

    public static final EditKind KIND = EditKind.of(
            "arrange-tracks",
            Duty.PREVIEWS,
            UpdateTracks.class,
            "the preview tracks beside the main one as they shall be, all of them; a track or ring without an id is new");

    @Override
    public UpdateTracks apply(Overlay on, JsonCursor at) {
        JsonCursor place = at.member(TRACKS).orElseThrow();
        int found = at.defects().size();
        ArrayNode whole = whole(on);
        List<Ring> rings = on.tracks().stream().flatMap(t -> t.rings().stream()).toList();
        whole.forEach(track -> {
            if (track.path("rings") instanceof ArrayNode own) UpdateRings.reviseTerms(own, rings, place, on);
        });
        List<JsonCursor> items = new JsonCursor(whole, place.pointer(), at.defects()).items();
        List<Track> wanted = EntityParsers.tracks(items, on.rings());
        checkSettings(items, on);
        if (at.defects().size() == found) checkUses(place, wanted, on);
        if (at.defects().size() == found) on.replaceTracks(wanted);
        return new UpdateTracks(wanted.stream().map(Track::json).toList());
    }

    private static void checkSettings(List<JsonCursor> items, Overlay on) {
        Set<String> met = new HashSet<>();
        for (JsonCursor item : items) {
            JsonCursor named = item.member("setting").orElse(item);
            String key = named.node().asText();
            if (!met.add(key)) named.defect("names the rings of another track already");
            else if (on.setting(key).isEmpty())
                named.defect("names the setting \"" + key + "\", which the catalogue does not list");
            else if (!(on.setting(key).get().type() instanceof ValueType.ChoiceType)
                    || on.setting(key).get().strictness().isPresent())
                named.defect("must be a choice that is not ordered, for it names the preview ring");
            else checkDefault(item, on.setting(key).get());
            if (item.items("rings").isEmpty())
                item.defect("must hold at least one ring, the one that everyone stands in");
        }
    }

    /** What a ring setting says by itself must be a ring afterwards. */
    private static void checkDefault(JsonCursor item, Setting setting) {
        String byDefault = setting.source().path("default").asText();
        if (item.items("rings").stream()
                .noneMatch(r -> r.node().path(ID).asText().equals(byDefault)))
            item.member("rings")
                    .orElse(item)
                    .defect("lacks the ring \"" + byDefault
                            + "\", in which accounts stand by default; change the setting " + setting.title()
                            + " first");
    }

    /** A ring that something names, and a track to which a release belongs, stay. */
    private static void checkUses(JsonCursor place, List<Track> wanted, Overlay on) {
        Set<String> rings =
                wanted.stream().flatMap(t -> t.rings().stream()).map(Ring::id).collect(Collectors.toSet());
        Set<String> kept = wanted.stream().map(Track::id).collect(Collectors.toSet());
        for (Track track : on.tracks()) {
            for (Ring ring : track.rings())
                if (!rings.contains(ring.id()))
                    on.useOfRing(track, ring.id())
                            .ifPresent(use -> place.defect("lacks the ring " + ring.name() + ", which is named by "
                                    + use + ". Take it out there first"));
            if (!kept.contains(track.id()))
                on.releaseOnTrack(track.id())
                        .ifPresent(release -> place.defect("lacks the track " + track.name()
                                + ", to which the release of " + release + " belongs. Remove that release first"));
        }
    }

    /** The tracks as they shall be written: with ids for what is new. */
    private ArrayNode whole(Overlay on) {
        ArrayNode whole = Json.NODES.arrayNode();
        Set<String> trackIds = new HashSet<>();
        Set<String> ringIds = new HashSet<>();
        on.allTracks().forEach(t -> {
            trackIds.add(t.id());
            t.rings().forEach(r -> ringIds.add(r.id()));
        });
        for (ObjectNode track : tracks) {
            ObjectNode written = track.deepCopy();
            identify(written, "track", trackIds);
            written.path("rings").forEach(ring -> {
                if (ring instanceof ObjectNode one) identify(one, "ring", ringIds);
            });
            whole.add(written);
        }
        return whole;
    }

    private static void identify(ObjectNode part, String noun, Set<String> ids) {
        if (!part.has(ID)) part.put(ID, IdGenerator.generate(part.path(NAME).asText(""), noun, ids::contains));
        ids.add(part.path(ID).asText());
    }

    /** The tracks of an edit that was found to fit; those that are new have no id yet. */
    public List<Track> read(Overlay on) {
        return EntityParsers.tracks(new JsonCursor(whole(on), "", new Defects()).items(), on.rings());
    }

    /** The ids of rings are unique over all tracks, so the rings of the main track are touched, too. */
    @Override
    public Set<String> paths() {
        return Set.of(TRACKS, "rings");
    }
}
