package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import leanladder.catalogue.CatalogueFrame;
import leanladder.catalogue.CatalogueReader;
import leanladder.catalogue.Setting;
import leanladder.estate.Estate;
import leanladder.estate.Track;
import leanladder.estate.read.PolicyReader;
import leanladder.estate.read.Section;
import leanladder.estate.read.ValueReferences;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;

/**
 * Settings of the catalogue. What policies, families and other settings say of a setting fits it after every edit: an edit that would leave
 * a misfit is refused, and names it.
 */
final class SettingEntityType extends EntityType<Setting> {
    private static final String OPEN = "openToWorkspaces";
    private static final String KEY = "key";
    private static final String TYPE = "type";

    SettingEntityType() {
        super(
                "setting",
                Section.SETTINGS,
                Set.of(
                        OPEN,
                        "app",
                        "title",
                        "options",
                        "min",
                        "max",
                        "ordered",
                        "strict",
                        "default",
                        "merge",
                        "needs",
                        "fallback",
                        "help",
                        "words",
                        "settles"),
                Duty.CATALOGUE);
    }

    /** Whether workspaces may decide is for those to say who write policies. */
    @Override
    public Duty duty(JsonNode members) {
        return members.size() == 1 && members.has(OPEN) ? Duty.POLICIES : duty();
    }

    /** All but the key and the type, on which everything that is said of it rests; what only screens use is free. */
    @Override
    public boolean isAmendable(String member) {
        return !member.equals(KEY) && !member.equals(TYPE);
    }

    @Override
    public Optional<Setting> find(Estate estate, String key) {
        return estate.catalogue().setting(key);
    }

    @Override
    public Optional<Setting> read(JsonCursor jsonCursor, Overlay on) {
        return read(jsonCursor, on.frame(), on::setting, on);
    }

    private static Optional<Setting> read(
            JsonCursor jsonCursor, CatalogueFrame frame, Function<String, Optional<Setting>> others, Overlay on) {
        Optional<Setting> setting = CatalogueReader.setting(jsonCursor, frame, others, on.ringSettings());
        setting.ifPresent(s -> ValueReferences.checkSetting(jsonCursor, s.type(), on));
        return setting;
    }

    @Override
    public String name(Setting setting) {
        return setting.title();
    }

    @Override
    public String idWords(ObjectNode body) {
        return body.path("title").asText("");
    }

    @Override
    public ObjectNode shortBody(Setting setting) {
        return setting.source();
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        notBlank(whole, "title");
        int found = whole.defects().size();
        Optional<Setting> read = read(whole, on);
        if (read.isEmpty() || whole.defects().size() > found) return;
        Setting setting = read.get();
        Function<String, Optional<Setting>> others = key -> key.equals(setting.key()) ? read : on.setting(key);
        if (isInCycle(setting, others, on))
            whole.defect("closes a cycle of settings that depend on one another, through " + setting.title());
        if (on.setting(setting.key()).isEmpty()) return;
        on.settings()
                .filter(s -> s.dependsOn(on.ringSettingOf(s.key())).anyMatch(setting.key()::equals))
                .filter(s -> !fits(s, on.frame(), others, on))
                .forEach(s -> whole.defect("no longer fits what the setting " + s.title()
                        + " needs of it or follows. Change that setting first"));
        Defects families = new Defects();
        CatalogueReader.frame(new JsonCursor(on.frame().source(), "", families), others);
        if (!families.isEmpty()) whole.defect("no longer fits a family that names it. Change the families first");
        PolicyReader reader = new PolicyReader(others, on);
        for (Overlay.NamedStatement said : on.statementsOn(setting.key())) {
            Defects defects = new Defects();
            reader.statement(new JsonCursor(said.json(), "", defects));
            if (!defects.isEmpty())
                whole.defect("no longer fits what the policy " + said.policyName()
                        + " says. Change or remove that statement first");
        }
    }

    /** Whether a setting is still well written in another frame, or beside other settings. */
    static boolean fits(Setting setting, CatalogueFrame frame, Function<String, Optional<Setting>> others, Overlay on) {
        Defects defects = new Defects();
        read(new JsonCursor(setting.source(), "", defects), frame, others, on);
        return defects.isEmpty();
    }

    private static boolean isInCycle(Setting setting, Function<String, Optional<Setting>> others, Overlay on) {
        Set<String> met = new HashSet<>();
        Deque<String> open = new ArrayDeque<>(
                setting.dependsOn(on.ringSettingOf(setting.key())).toList());
        while (!open.isEmpty()) {
            String key = open.pop();
            if (key.equals(setting.key())) return true;
            if (met.add(key))
                others.apply(key)
                        .ifPresent(s -> s.dependsOn(on.ringSettingOf(key)).forEach(open::push));
        }
        return false;
    }

    @Override
    public Optional<String> whyNotRemoved(String key, Overlay on) {
        List<Overlay.NamedStatement> said = on.statementsOn(key);
        if (!said.isEmpty())
            return Optional.of("cannot be removed: the policy " + said.get(0).policyName() + " says something about it"
                    + (said.size() > 1 ? ", and " + (said.size() - 1) + " more" : "")
                    + ". Remove these statements first");
        Optional<Setting> dependent = on.settings()
                .filter(s -> s.dependsOn(on.ringSettingOf(s.key())).anyMatch(key::equals))
                .findFirst();
        if (dependent.isPresent())
            return Optional.of("cannot be removed: the setting "
                    + dependent.get().title() + " needs it or follows it. Change that setting first");
        Optional<Track> track =
                on.tracks().stream().filter(t -> t.setting().equals(key)).findFirst();
        if (track.isPresent())
            return Optional.of("cannot be removed: it names the preview ring of the track "
                    + track.get().name() + ". Remove the track first");
        if (on.hasRelease(key)) return Optional.of("cannot be removed: it has a release. Remove the release first");
        return on.frame().families().stream()
                .filter(f -> f.settings().contains(key))
                .findFirst()
                .map(f -> "cannot be removed: the family " + f.name() + " names it. Change the family first");
    }

    @Override
    public WriteSet footprint(String key, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofSetting(key);
    }
}
