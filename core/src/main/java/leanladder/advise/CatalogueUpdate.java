package leanladder.advise;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.CatalogueReader;
import leanladder.catalogue.RingSettings;
import leanladder.catalogue.Setting;
import leanladder.edit.EditKind;
import leanladder.edit.catalogue.UpdateCatalogue;
import leanladder.edit.directory.AddEntity;
import leanladder.edit.directory.RemoveEntity;
import leanladder.edit.directory.UpdateEntity;
import leanladder.edit.policy.RemoveStatement;
import leanladder.edit.session.AppliedEdit;
import leanladder.edit.session.EditSession;
import leanladder.estate.Statement;
import leanladder.estate.read.PolicyReader;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import org.jspecify.annotations.Nullable;

/**
 * The edits that bring a catalogue to a newer version of it, as its vendor sends it. Statements that do not fit the newer version are removed
 * first; then the lists of apps, entitlements and sizes hold what is old and what is new; then the settings change one by one, in an order in
 * which each edit fits; then the lists hold what is new alone.
 *
 * <p>Three things are the organisation's, not the vendor's, and stay: which settings workspaces may decide, the preview rings, and settings
 * that have a release.
 */
public final class CatalogueUpdate {
    private static final String OPEN = "openToWorkspaces";
    private static final List<String> LISTS = List.of("apps", "entitlements", "sizes", "families");

    private final Overlay before;
    private final EditSession session;
    private final Catalogue wanted;
    private final List<AppliedEdit> edits = new ArrayList<>();
    private final List<Setting> added = new ArrayList<>();
    private final Map<Setting, ObjectNode> amended = new LinkedHashMap<>();
    private final List<Setting> removed = new ArrayList<>();
    private final List<Misfit> misfits = new ArrayList<>();
    private final List<String> refusals = new ArrayList<>();

    /**
     * A statement that does not fit the newer version.
     *
     * @param statement as the policy says it now
     * @param setting as it will be; empty where it is removed
     */
    public record Misfit(
            String policy, String policyName, Setting was, Optional<Setting> setting, Statement statement) {}

    /**
     * Compares. Costs the catalogue and the policies.
     *
     * @param session without edits of its own; it is used up
     * @param newer the catalogue as the estate file writes it; what is wrong with it is reported
     */
    public CatalogueUpdate(EditSession session, JsonCursor newer) {
        this.session = session;
        this.before = session.overlay().copy();
        Defects defects = newer.defects();
        int found = defects.size();
        RingSettings rings = before.ringSettings();
        ObjectNode own =
                newer.isObject() ? withOwnChoices((ObjectNode) newer.node(), rings.rings()) : Json.NODES.objectNode();
        wanted = new CatalogueReader(defects).read(new JsonCursor(own, newer.pointer(), defects), rings);
        if (defects.size() > found) return;
        compare();
        removeMisfits();
        JsonNode lists = Json.read(Json.write(wanted.frame().source()));
        amendLists(unions(lists));
        settings();
        amendLists(lists);
    }

    /** The newer catalogue with what is for the organisation to say as it says it now. */
    private ObjectNode withOwnChoices(ObjectNode newer, Map<String, List<String>> ringsBySetting) {
        ObjectNode own = newer.deepCopy();
        for (JsonNode node : own.path("settings")) {
            if (!(node instanceof ObjectNode setting)) continue;
            String key = setting.path("key").asText();
            before.setting(key).ifPresent(is -> {
                if (is.source().has(OPEN)) setting.set(OPEN, is.source().get(OPEN));
                else setting.remove(OPEN);
            });
            List<String> rings = ringsBySetting.get(key);
            if (rings != null && setting.path("type").asText().equals("choice")) {
                setting.set("options", Json.MAPPER.valueToTree(rings));
                before.setting(key)
                        .map(is -> is.source().get("default"))
                        .filter(d -> !rings.contains(setting.path("default").asText()))
                        .ifPresent(d -> setting.set("default", d));
            }
        }
        return own;
    }

    private void compare() {
        Map<String, Setting> is = new TreeMap<>();
        before.settings().forEach(s -> is.put(s.key(), s));
        for (Setting setting : wanted.settings().values()) {
            Setting was = is.get(setting.key());
            if (was == null) added.add(setting);
            else {
                ObjectNode members = members(was.source(), setting.source());
                if (!members.isEmpty()) amended.put(setting, members);
            }
        }
        for (Setting setting : is.values()) if (wanted.setting(setting.key()).isEmpty()) removed.add(setting);
    }

    /** The members that differ, with their new values; null where the newer version has none. */
    private static ObjectNode members(ObjectNode was, ObjectNode is) {
        ObjectNode members = Json.NODES.objectNode();
        TreeSet<String> names = new TreeSet<>();
        was.fieldNames().forEachRemaining(names::add);
        is.fieldNames().forEachRemaining(names::add);
        for (String name : names) {
            JsonNode shall = is.has(name) ? is.get(name) : Json.NODES.nullNode();
            // As text: numbers are equal where they are written alike.
            if (!Json.write(was.path(name)).equals(Json.write(is.path(name)))) members.set(name, shall);
        }
        return members;
    }

    private void removeMisfits() {
        Map<String, Setting> touched = new HashMap<>();
        removed.forEach(s -> touched.put(s.key(), s));
        amended.keySet()
                .forEach(s -> touched.put(s.key(), before.setting(s.key()).orElseThrow()));
        PolicyReader reader = new PolicyReader(wanted::setting, before);
        for (String key : new TreeSet<>(touched.keySet()))
            for (Overlay.NamedStatement said : before.statementsOn(key)) {
                Optional<Setting> setting = wanted.setting(key);
                Defects defects = new Defects();
                reader.statement(new JsonCursor(said.json(), "", defects));
                boolean retyped = setting.filter(s -> isRetyped(amended.get(s))).isPresent();
                if (setting.isPresent() && defects.isEmpty() && !retyped) continue;
                Setting was = touched.get(key);
                misfits.add(new Misfit(said.policy(), said.policyName(), was, setting, said.statement()));
                apply(edit(RemoveStatement.KIND)
                        .put("policy", said.policy())
                        .put("setting", key)
                        .put("says", said.statement() instanceof Statement.Cap ? "cap" : "set"));
            }
    }

    private static boolean isRetyped(@Nullable ObjectNode members) {
        return members != null && members.has("type");
    }

    private static ObjectNode edit(EditKind kind) {
        return Json.NODES.objectNode().put("kind", kind.name());
    }

    private static ObjectNode edit(EditKind kind, String setting) {
        return edit(kind).put(EntityType.SETTING.noun(), setting);
    }

    /** The lists while settings change: what is old, what is new, and families that name what stays the same. */
    private ObjectNode unions(JsonNode lists) {
        ObjectNode unions = Json.NODES.objectNode();
        ObjectNode old = before.frame().source();
        for (String list : List.of("apps", "entitlements", "sizes")) {
            ArrayNode union = lists.path(list).isArray() ? lists.get(list).deepCopy() : Json.NODES.arrayNode();
            TreeSet<String> there = new TreeSet<>();
            union.forEach(item -> there.add(item.path("id").asText(item.asText())));
            for (JsonNode item : old.path(list)) if (there.add(item.path("id").asText(item.asText()))) union.add(item);
            unions.set(list, union);
        }
        boolean same = Json.write(old.path("families")).equals(Json.write(lists.path("families")));
        unions.set("families", same ? old.path("families") : Json.NODES.arrayNode());
        return unions;
    }

    private void amendLists(JsonNode lists) {
        ObjectNode members = Json.NODES.objectNode();
        ObjectNode is = session.overlay().frame().source();
        for (String list : LISTS)
            if (lists.path(list).isArray() && !Json.write(is.path(list)).equals(Json.write(lists.path(list))))
                if (!lists.path(list).isEmpty() || !is.path(list).isEmpty()) members.set(list, lists.get(list));
        if (!members.isEmpty()) apply(edit(UpdateCatalogue.KIND).set("members", members));
    }

    private void settings() {
        List<ObjectNode> waiting = new ArrayList<>();
        EditKind remove = RemoveEntity.kind(EntityType.SETTING);
        removed.forEach(s -> waiting.add(edit(remove, s.key())));
        amended.forEach((setting, members) -> {
            if (isRetyped(members)) {
                waiting.add(edit(remove, setting.key()));
                waiting.add(edit(AddEntity.kind(EntityType.SETTING)).set("setting", setting.source()));
            } else
                waiting.add(edit(UpdateEntity.kind(EntityType.SETTING), setting.key())
                        .set("members", members));
        });
        added.forEach(s -> waiting.add(edit(AddEntity.kind(EntityType.SETTING)).set("setting", s.source())));
        boolean going = true;
        while (going) {
            going = false;
            for (Iterator<ObjectNode> each = waiting.iterator(); each.hasNext(); ) {
                ObjectNode edit = each.next();
                Optional<AppliedEdit> applied = session.apply(new JsonCursor(edit, "", new Defects()));
                if (applied.isEmpty()) continue;
                edits.add(applied.get());
                each.remove();
                going = true;
            }
        }
        waiting.forEach(this::apply);
    }

    private void apply(ObjectNode edit) {
        Defects defects = new Defects();
        session.apply(new JsonCursor(edit, "", defects)).ifPresent(edits::add);
        if (!defects.isEmpty()) {
            String key =
                    edit.path("setting").path("key").asText(edit.path("setting").asText());
            String title = before.setting(key)
                    .or(() -> wanted.setting(key))
                    .map(Setting::title)
                    .orElse("The catalogue");
            defects.all().forEach(d -> refusals.add(title + " " + d.message()));
        }
    }

    /** The edits, in an order in which they fit. */
    public List<AppliedEdit> edits() {
        return edits;
    }

    /** Settings that are new. */
    public List<Setting> added() {
        return added;
    }

    /** Settings as they shall be, with the members that differ. */
    public Map<Setting, ObjectNode> amended() {
        return amended;
    }

    /** Settings that the newer version no longer has. */
    public List<Setting> removed() {
        return removed;
    }

    /** Statements that do not fit; the edits remove them. */
    public List<Misfit> misfits() {
        return misfits;
    }

    /** Why parts of the newer version cannot be applied, in sentences without their full stop. */
    public List<String> refusals() {
        return refusals;
    }
}
