package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.estate.Estate;
import leanladder.estate.read.Section;
import leanladder.json.JsonCursor;

/**
 * Settings of the catalogue. Edits do not change what a setting is, except for the options of the ring setting, which follow the rings. The organisation
 * decides whether workspaces may have statements on it (resolution.md, section 3, line 5).
 */
final class SettingEntityType extends EntityType<Setting> {
    private static final String OPEN = "openToWorkspaces";

    SettingEntityType() {
        super("setting", Section.SETTINGS, Set.of(OPEN), Duty.POLICIES);
    }

    @Override
    public Optional<Setting> find(Estate estate, String key) {
        return estate.catalogue().setting(key);
    }

    @Override
    public Optional<Setting> read(JsonCursor jsonCursor, Overlay on) {
        boolean open = jsonCursor.member(OPEN).flatMap(JsonCursor::bool).orElse(false);
        return jsonCursor
                .required("key")
                .flatMap(JsonCursor::text)
                .flatMap(on::setting)
                .map(s -> s.amended(open, values(s, jsonCursor), (ObjectNode) jsonCursor.node()));
    }

    /** The options of the ring setting follow the rings; no other values ever change. */
    private static ValueType values(Setting setting, JsonCursor jsonCursor) {
        if (!setting.key().equals(Setting.RING)) return setting.type();
        List<String> options = new ArrayList<>();
        jsonCursor.node().path(Overlay.OPTIONS).forEach(o -> options.add(o.asText()));
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
    public void check(JsonCursor whole, Overlay on) {
        read(whole, on);
    }

    @Override
    public WriteSet footprint(String key, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofSetting(key);
    }
}
