package leanladder.change.overlay;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.estate.read.Section;
import leanladder.tell.Wording;

/**
 * Settings of the catalogue. What a setting is, is never edited, but for the options of the ring setting, which are those of the rings; whether policies may speak on it for those who work in a workspace
 * (resolution.md, section 3, line 5) is for the organisation to say.
 */
final class SettingType extends PartType<Setting> {
    private static final String OPEN = "openToWorkspaces";

    SettingType() {
        super("setting", Section.SETTINGS, Set.of(OPEN), Right.POLICIES);
    }

    @Override
    public Optional<Setting> find(Estate estate, String key) {
        return estate.catalogue().setting(key);
    }

    @Override
    public Optional<Setting> read(Place place, Overlay on) {
        boolean open = place.member(OPEN).flatMap(Place::bool).orElse(false);
        return place.required("key")
                .flatMap(Place::text)
                .flatMap(on::setting)
                .map(s -> s.amended(open, values(s, place), (ObjectNode) place.node()));
    }

    /** The options of the ring setting follow the rings; no other values ever change. */
    private static ValueType values(Setting setting, Place place) {
        if (!setting.key().equals(Setting.RING)) return setting.type();
        List<String> options = new ArrayList<>();
        place.node().path(Overlay.OPTIONS).forEach(o -> options.add(o.asText()));
        return new ValueType.ChoiceType(options);
    }

    @Override
    public String name(Setting setting) {
        return setting.title();
    }

    @Override
    public ObjectNode shortBody(Setting setting) {
        return setting.source();
    }

    @Override
    public void check(Place whole, Overlay on) {
        read(whole, on);
    }

    @Override
    public String newWords(ObjectNode body, Overlay on) {
        return body.path("title").asText() + " is a new setting";
    }

    @Override
    public String amendedWords(String member, JsonNode value, Overlay on, Wording wording) {
        return value.asBoolean() ? "is open to workspaces" : "is closed to workspaces";
    }

    @Override
    public Footprint footprint(String key, Optional<ObjectNode> members, Overlay before) {
        return Footprint.ofSetting(key);
    }
}
