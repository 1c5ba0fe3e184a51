package leanladder.catalogue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;

/** Reads the catalogue and checks it: values against types, needs against settings, dependencies against cycles. */
public final class CatalogueReader {
    private static final Map<String, Merge> MERGES = Map.of(
            "ranked", Merge.RANKED, "strictest", Merge.STRICTEST, "loosest", Merge.LOOSEST, "gather", Merge.GATHER);
    private static final Map<String, String> TYPES =
            words("switch", "choice", "number", "text", "link", "list", "people", "picture");
    private static final Map<String, String> THEN = words("refresh", "sign-in", "restart", "update", "clear");
    private static final Map<String, String> RUNGS =
            words("organisation", "unit", "group", "hosting", "workspace", "person");
    private static final Map<String, String> ABSENCES = words("hide", "grey");

    private static final String SETTINGS = "settings";

    private final Defects defects;
    private final Function<String, Optional<Setting>> others;
    private final Map<String, Setting> settings = new LinkedHashMap<>();
    private final Map<String, JsonCursor> places = new HashMap<>();

    /** Reads a whole catalogue. */
    public CatalogueReader(Defects defects) {
        this(defects, key -> Optional.empty());
    }

    /** @param others the settings beside those that are read */
    private CatalogueReader(Defects defects, Function<String, Optional<Setting>> others) {
        this.defects = defects;
        this.others = others;
    }

    private static Map<String, String> words(String... words) {
        var map = new HashMap<String, String>();
        for (String word : words) map.put(word, word);
        return map;
    }

    /**
     * Reads the whole catalogue.
     *
     * @param rings which the ring settings must offer
     * @return a catalogue that can be used for further checks; when there are defects it is not whole
     */
    public Catalogue read(JsonCursor jsonCursor, RingSettings rings) {
        CatalogueFrame frame = CatalogueFrame.EMPTY;
        if (jsonCursor.isObject()) {
            CatalogueFrame named = names(jsonCursor);
            List<JsonCursor> all =
                    jsonCursor.required(SETTINGS).map(JsonCursor::items).orElse(List.of());
            for (JsonCursor item : all) declare(item, named.apps());
            complete(named, rings);
            frame = withFamilies(named, jsonCursor);
        }
        checkDependencies(rings);
        return new Catalogue(frame, defects.isEmpty() ? settings.values() : independent(), rings.tracks());
    }

    /**
     * Reads one setting beside others. Costs what it says.
     *
     * @param others the settings that it can name
     * @param rings which the ring settings must offer
     * @return empty where it is not a setting at all; where it has other defects, it is not whole
     */
    public static Optional<Setting> setting(
            JsonCursor jsonCursor,
            CatalogueFrame frame,
            Function<String, Optional<Setting>> others,
            RingSettings rings) {
        CatalogueReader reader = new CatalogueReader(jsonCursor.defects(), others);
        reader.declare(jsonCursor, frame.apps());
        reader.complete(frame, rings);
        return reader.settings.values().stream().findFirst();
    }

    /**
     * Reads a catalogue without its settings.
     *
     * @param settings finds a setting of a family
     */
    public static CatalogueFrame frame(JsonCursor jsonCursor, Function<String, Optional<Setting>> settings) {
        CatalogueReader reader = new CatalogueReader(jsonCursor.defects(), settings);
        return reader.withFamilies(names(jsonCursor), jsonCursor);
    }

    private static CatalogueFrame names(JsonCursor jsonCursor) {
        List<String> sizes = new ArrayList<>();
        for (JsonCursor size : jsonCursor.items("sizes")) {
            Optional<String> text = size.text();
            if (text.isPresent() && sizes.contains(text.get())) size.defect("repeats the size \"" + text.get() + "\"");
            text.ifPresent(sizes::add);
        }
        return new CatalogueFrame(
                sizes,
                named(jsonCursor, "apps"),
                named(jsonCursor, "entitlements"),
                List.of(),
                Json.NODES.objectNode());
    }

    private CatalogueFrame withFamilies(CatalogueFrame named, JsonCursor jsonCursor) {
        ObjectNode source = Json.NODES.objectNode();
        source.setAll((ObjectNode) jsonCursor.node());
        source.remove(SETTINGS);
        return new CatalogueFrame(named.sizes(), named.apps(), named.entitlements(), families(jsonCursor), source);
    }

    private void complete(CatalogueFrame frame, RingSettings rings) {
        var needs = new NeedReader(this::find, frame, rings.exist());
        for (String key : List.copyOf(settings.keySet())) complete(key, needs);
        rings.rings().forEach(this::checkRingSetting);
    }

    private Optional<Setting> find(String key) {
        return setting(key).or(() -> others.apply(key));
    }

    /** The settings without what ties them together, for checks that go on although there are defects. */
    private List<Setting> independent() {
        return settings.values().stream()
                .map(s -> new Setting(
                        s.key(),
                        s.app(),
                        s.title(),
                        s.type(),
                        s.strictness(),
                        NONE,
                        s.merge(),
                        s.openToWorkspaces(),
                        List.of(),
                        List.of(),
                        s.fallback(),
                        s.source()))
                .toList();
    }

    private static final Default NONE = new Default.Fixed(Value.Switch.of(false));

    private static Map<String, String> named(JsonCursor catalogue, String member) {
        Map<String, String> names = new LinkedHashMap<>();
        for (JsonCursor item : catalogue.items(member)) {
            if (!item.isObject()) continue;
            Optional<String> id = item.required("id").flatMap(JsonCursor::id);
            Optional<String> name = item.required("name").flatMap(JsonCursor::text);
            if (id.isPresent() && names.putIfAbsent(id.get(), name.orElse("")) != null) item.repeats(id.get());
        }
        return names;
    }

    /** First pass: what a setting is by itself, without what it says of others. */
    private void declare(JsonCursor jsonCursor, Map<String, String> apps) {
        if (!jsonCursor.isObject()) return;
        Optional<String> key = jsonCursor.required("key").flatMap(JsonCursor::key);
        Optional<String> app = jsonCursor.member("app").flatMap(JsonCursor::id);
        app.filter(a -> !apps.containsKey(a))
                .ifPresent(a -> jsonCursor
                        .member("app")
                        .orElseThrow()
                        .defect("names the app \"" + a + "\", which the catalogue does not list"));
        Optional<String> title = jsonCursor.required("title").flatMap(JsonCursor::text);
        jsonCursor.required("default");
        checkForScreens(jsonCursor);
        Optional<ValueType> type =
                jsonCursor.required("type").flatMap(p -> p.word(TYPES)).flatMap(t -> type(jsonCursor, t));
        boolean ordered = jsonCursor.member("ordered").flatMap(JsonCursor::bool).orElse(false);
        if (ordered && type.isPresent() && !(type.get() instanceof ValueType.ChoiceType))
            jsonCursor
                    .member("ordered")
                    .orElseThrow()
                    .defect("fits only a choice; a switch or a number names its \"strict\" end");
        Optional<Strictness> strictness = type.flatMap(t -> strictness(jsonCursor, t, ordered));
        Optional<Merge> merge = jsonCursor.member("merge").flatMap(p -> p.word(MERGES));
        merge.filter(m -> type.isPresent())
                .ifPresent(m -> checkMerge(jsonCursor.member("merge").orElseThrow(), m, type.get(), strictness));
        boolean open =
                jsonCursor.member("openToWorkspaces").flatMap(JsonCursor::bool).orElse(false);
        if (key.isEmpty()) return;
        if (places.containsKey(key.get())) {
            jsonCursor.member("key").orElseThrow().defect("repeats the key \"" + key.get() + "\"; keys must differ");
            return;
        }
        places.put(key.get(), jsonCursor);
        if (type.isEmpty()) return;
        settings.put(
                key.get(),
                new Setting(
                        key.get(),
                        app,
                        title.orElse(""),
                        type.get(),
                        strictness,
                        NONE,
                        merge.orElse(Merge.RANKED),
                        open,
                        List.of(),
                        List.of(),
                        Optional.empty(),
                        (ObjectNode) jsonCursor.node()));
    }

    private static void checkMerge(
            JsonCursor jsonCursor, Merge merge, ValueType type, Optional<Strictness> strictness) {
        boolean byStrictness = merge == Merge.STRICTEST || merge == Merge.LOOSEST;
        if (byStrictness && strictness.isEmpty()) jsonCursor.defect("can only merge so when the setting is ordered");
        if (merge == Merge.GATHER && !(type instanceof ValueType.ListType || type instanceof ValueType.PeopleType))
            jsonCursor.defect("can only gather lists and people");
    }

    private static void checkForScreens(JsonCursor jsonCursor) {
        for (String member : List.of("help", "area", "caution", "notice", "decides", "article"))
            jsonCursor.member(member).ifPresent(JsonCursor::text);
        jsonCursor.items("words").forEach(JsonCursor::text);
        jsonCursor.items("rungs").forEach(p -> p.word(RUNGS));
        jsonCursor.member("absence").ifPresent(p -> p.word(ABSENCES));
        jsonCursor.member("settles").filter(JsonCursor::isObject).ifPresent(settles -> {
            settles.member("minMinutes").ifPresent(JsonCursor::integer);
            settles.member("maxMinutes").ifPresent(JsonCursor::integer);
            settles.member("then").filter(p -> !p.node().isNull()).ifPresent(p -> p.word(THEN));
        });
    }

    private static Optional<ValueType> type(JsonCursor jsonCursor, String type) {
        List<String> options = new ArrayList<>();
        Optional<JsonCursor> listed = jsonCursor.member("options");
        for (JsonCursor option : listed.map(JsonCursor::items).orElse(List.of())) {
            Optional<String> text = option.text();
            if (type.equals("choice") && text.isPresent() && options.contains(text.get()))
                option.defect("repeats the option \"" + text.get() + "\"");
            text.ifPresent(options::add);
        }
        Optional<BigInteger> min = jsonCursor.member("min").flatMap(JsonCursor::integer);
        Optional<BigInteger> max = jsonCursor.member("max").flatMap(JsonCursor::integer);
        Optional<JsonCursor> languages = jsonCursor.member("byLanguage");
        boolean byLanguage = languages.flatMap(JsonCursor::bool).orElse(false);
        if (byLanguage && !type.equals("text") && !type.equals("link"))
            languages.orElseThrow().defect("fits only a text or a link");
        switch (type) {
            case "switch":
                return Optional.of(new ValueType.SwitchType());
            case "choice":
                if (options.isEmpty()) listed.orElse(jsonCursor).defect("is a choice and must list its \"options\"");
                return options.isEmpty()
                        ? Optional.empty()
                        : Optional.of(new ValueType.ChoiceType(List.copyOf(options)));
            case "number":
                for (String end : List.of("min", "max"))
                    if (jsonCursor.member(end).isEmpty())
                        jsonCursor.defect("is a number and must name its \"" + end + "\"");
                if (min.isEmpty() || max.isEmpty()) return Optional.empty();
                if (min.get().compareTo(max.get()) <= 0)
                    return Optional.of(new ValueType.NumberType(min.get(), max.get()));
                jsonCursor.member("min").orElseThrow().defect("must not lie above \"max\", which is " + max.get());
                return Optional.empty();
            case "text":
                return Optional.of(new ValueType.TextType(byLanguage));
            case "link":
                return Optional.of(new ValueType.LinkType(byLanguage));
            case "people":
                return Optional.of(new ValueType.PeopleType());
            case "picture":
                return Optional.of(new ValueType.PictureType());
            default:
                return Optional.of(new ValueType.ListType());
        }
    }

    private static Optional<Strictness> strictness(JsonCursor jsonCursor, ValueType type, boolean ordered) {
        Optional<JsonCursor> strict = jsonCursor.member("strict");
        if (type instanceof ValueType.SwitchType) {
            return strict.flatMap(JsonCursor::bool).map(Strictness::ofSwitch);
        } else if (type instanceof ValueType.NumberType number) {
            return strict.flatMap(p -> p.word(Map.of("lower", true, "higher", false)))
                    .map(lower -> Strictness.ofNumber(number, lower));
        }
        strict.ifPresent(p -> p.defect("fits only a switch or a number"
                + (type instanceof ValueType.ChoiceType
                        ? "; a choice says \"ordered\" and lists its options strictest first"
                        : "")));
        if (ordered && type instanceof ValueType.ChoiceType choice)
            return Optional.of(Strictness.ofOptions(choice.options()));
        return Optional.empty();
    }

    /** Second pass: default, fallback and needs, which may speak of other settings. */
    private void complete(String key, NeedReader needReader) {
        JsonCursor jsonCursor = Objects.requireNonNull(places.get(key));
        Setting s = Objects.requireNonNull(settings.get(key));
        Default builtIn = jsonCursor.member("default").map(p -> builtIn(p, s)).orElse(NONE);
        Optional<JsonCursor> fallbackPlace = jsonCursor.member("fallback");
        Optional<Value> fallback = fallbackPlace.flatMap(p -> s.type().read(p.node(), p::defect));
        if (fallback.isPresent() && s.strictness().isPresent()) {
            Value end = s.strictness().get().strictEnd();
            if (!fallback.get().equals(end))
                fallbackPlace.get().defect("must be the strict end of this ordered setting, " + end.json());
        }
        var needs = needReader.needs(jsonCursor.items("needs"), s, fallback);
        if (!jsonCursor.items("needs").isEmpty() && fallbackPlace.isEmpty())
            jsonCursor
                    .member("needs")
                    .orElseThrow()
                    .defect("wants a \"fallback\" beside it: the value while a need is unmet");
        settings.put(
                key,
                new Setting(
                        key,
                        s.app(),
                        s.title(),
                        s.type(),
                        s.strictness(),
                        builtIn,
                        s.merge(),
                        s.openToWorkspaces(),
                        needs.needs(),
                        needs.consequences(),
                        fallback,
                        s.source()));
    }

    private Default builtIn(JsonCursor jsonCursor, Setting setting) {
        boolean isValue = jsonCursor.node().has(Value.LocalisedText.ANY);
        Optional<JsonCursor> follow =
                jsonCursor.node().isObject() && !isValue ? jsonCursor.member("follow") : Optional.empty();
        if (follow.isEmpty())
            return setting.type()
                    .read(jsonCursor.node(), jsonCursor::defect)
                    .<Default>map(Default.Fixed::new)
                    .orElse(NONE);
        if (jsonCursor.node().size() > 1) jsonCursor.defect("must hold \"follow\" alone");
        Optional<String> key = follow.get().text();
        if (key.isEmpty()) return NONE;
        Optional<Setting> other = find(key.get());
        if (other.isEmpty()) {
            if (!places.containsKey(key.get()))
                follow.get().defect("names the setting \"" + key.get() + "\", which the catalogue does not list");
            return NONE;
        }
        if (!setting.type().holdsAllOf(other.get().type()))
            follow.get().defect("follows \"" + key.get() + "\", which can take values that this setting cannot");
        return new Default.Follow(key.get());
    }

    private void checkRingSetting(String key, List<String> ringIds) {
        Setting ring = settings.get(key);
        if (ring == null) return;
        JsonCursor jsonCursor = Objects.requireNonNull(places.get(key));
        if (!(ring.type() instanceof ValueType.ChoiceType choice)) {
            jsonCursor
                    .member("type")
                    .orElse(jsonCursor)
                    .defect("must be choice, for this setting names the preview ring");
            return;
        }
        if (ring.strictness().isPresent())
            jsonCursor
                    .member("ordered")
                    .orElse(jsonCursor)
                    .defect("must not be ordered, for this setting names the preview ring");
        if (!choice.options().equals(ringIds))
            jsonCursor
                    .member("options")
                    .orElse(jsonCursor)
                    .defect("must be the ids of the preview rings from the inside out: " + String.join(", ", ringIds));
    }

    private List<Family> families(JsonCursor catalogue) {
        List<Family> families = new ArrayList<>();
        Set<String> ids = new HashSet<>();
        for (JsonCursor item : catalogue.items("families")) {
            if (!item.isObject()) continue;
            Optional<String> id = item.required("id").flatMap(JsonCursor::id);
            Optional<String> name = item.required("name").flatMap(JsonCursor::text);
            id.filter(i -> !ids.add(i)).ifPresent(i -> item.repeats(i));
            List<Family.State> states = new ArrayList<>();
            for (JsonCursor state :
                    item.required("states").map(JsonCursor::items).orElse(List.of())) {
                if (!state.isObject()) continue;
                Optional<String> stateName = state.required("name").flatMap(JsonCursor::text);
                Map<String, Value> values = new LinkedHashMap<>();
                state.required("values")
                        .filter(JsonCursor::isObject)
                        .ifPresent(all -> all.members().forEach((key, value) -> {
                            Optional<Setting> setting = find(key);
                            if (setting.isPresent())
                                setting.get()
                                        .type()
                                        .read(value.node(), value::defect)
                                        .ifPresent(v -> values.put(key, v));
                            else if (!places.containsKey(key))
                                value.defect("names the setting \"" + key + "\", which the catalogue does not list");
                        }));
                states.add(new Family.State(stateName.orElse(""), values));
            }
            families.add(new Family(id.orElse(""), name.orElse(""), states));
        }
        return families;
    }

    /** No cycles; and no ring setting is worked out from what a release decides. */
    private void checkDependencies(RingSettings rings) {
        Function<String, List<String>> dependencies = k -> Objects.requireNonNull(settings.get(k))
                .dependsOn(rings.of(k))
                .filter(settings::containsKey)
                .toList();
        List<String> cycle = Topology.order(settings.keySet(), dependencies).cycle();
        if (!cycle.isEmpty()) {
            Objects.requireNonNull(places.get(cycle.get(0)))
                    .defect("closes a cycle of settings that depend on one another: " + String.join(" → ", cycle));
            return;
        }
        for (String ring : rings.rings().keySet())
            if (settings.containsKey(ring))
                for (String key : Topology.order(List.of(ring), dependencies).sorted())
                    if (Objects.requireNonNull(settings.get(key))
                            .allNeeds()
                            .anyMatch(Need.ReleaseNeed.class::isInstance))
                        Objects.requireNonNull(places.get(ring))
                                .defect("names the preview ring and must not depend on a release, but "
                                        + (key.equals(ring)
                                                ? "needs one"
                                                : "depends on \"" + key + "\", which needs one"));
    }

    /** A setting by key, when it could be read. */
    public Optional<Setting> setting(String key) {
        return Optional.ofNullable(settings.get(key));
    }

    /** The keys of all settings of the file, readable or not. */
    public Set<String> keys() {
        return places.keySet();
    }
}
