package leanladder.catalogue;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.json.CodePointOrder;

/** All that can be set, and the names that settings refer to. */
public final class Catalogue {
    private final CatalogueFrame frame;
    private final Map<String, String> ringSettings;
    private final Map<String, Setting> settings;
    private final Map<String, Integer> place;
    private final Map<String, List<String>> dependencies = new HashMap<>();
    private final Map<String, List<String>> dependents = new HashMap<>();
    private final Map<String, List<Setting>> chains = new ConcurrentHashMap<>();
    private final Map<Class<? extends Need>, Set<String>> asking = new ConcurrentHashMap<>();

    /** A catalogue that has been checked: every reference holds and the dependencies have no cycle. */
    public Catalogue(CatalogueFrame frame, Collection<Setting> settings) {
        this(frame, settings, Map.of());
    }

    /** @param ringSettings of the settings whose releases belong to a track other than the main one, its ring setting */
    public Catalogue(CatalogueFrame frame, Collection<Setting> settings, Map<String, String> ringSettings) {
        this.frame = frame;
        this.ringSettings = ringSettings;
        var byKey = new LinkedHashMap<String, Setting>();
        settings.stream()
                .sorted(Comparator.comparing(Setting::key, CodePointOrder.TEXTS))
                .forEach(s -> byKey.put(s.key(), s));
        this.settings = java.util.Collections.unmodifiableMap(byKey);
        byKey.forEach((key, setting) -> dependencies.put(
                key,
                setting.dependsOn(ringSettingOf(key)).filter(byKey::containsKey).toList()));
        dependencies.forEach((key, others) -> others.forEach(other ->
                dependents.computeIfAbsent(other, o -> new ArrayList<>()).add(key)));
        var order = Topology.order(byKey.keySet(), dependencies::get);
        this.place = new LinkedHashMap<>();
        order.sorted().forEach(key -> place.put(key, place.size()));
    }

    /**
     * This catalogue with some settings put or removed, and with another frame. Linear in the catalogue, where anything differs.
     *
     * @param changed by key what stands there from now on; empty for a setting that is removed
     * @param tracks of the settings whose releases belong to a track other than the main one, its ring setting
     */
    public Catalogue with(Map<String, Optional<Setting>> changed, CatalogueFrame other, Map<String, String> tracks) {
        if (changed.isEmpty() && other == frame && tracks.equals(ringSettings)) return this;
        Map<String, Setting> all = new LinkedHashMap<>(settings);
        changed.forEach((key, setting) -> setting.ifPresentOrElse(s -> all.put(key, s), () -> all.remove(key)));
        return new Catalogue(other, all.values(), tracks);
    }

    /** The key of the setting by which the release of a setting comes to accounts (resolution.md, section 7). */
    public String ringSettingOf(String setting) {
        return ringSettings.getOrDefault(setting, Setting.RING);
    }

    /** All of it but the settings. */
    public CatalogueFrame frame() {
        return frame;
    }

    /** The sizes of hosting, smallest first. */
    public List<String> sizes() {
        return frame.sizes();
    }

    /** Names of apps by id. */
    public Map<String, String> apps() {
        return frame.apps();
    }

    /** Names of entitlements by id. */
    public Map<String, String> entitlements() {
        return frame.entitlements();
    }

    /** Settings by key, in the order of keys. */
    public Map<String, Setting> settings() {
        return settings;
    }

    /** Settings that are meant to be set together. */
    public List<Family> families() {
        return frame.families();
    }

    /** The setting of this key. */
    public Optional<Setting> setting(String key) {
        return Optional.ofNullable(settings.get(key));
    }

    /** The named settings and all that they are worked out from, each after those it depends on. */
    public List<Setting> withDependencies(Collection<String> keys) {
        return inOrder(connected(keys, dependencies::get));
    }

    /** A setting and all that it is worked out from, each after those it depends on; found once, then kept. */
    public List<Setting> chain(String key) {
        return chains.computeIfAbsent(key, k -> withDependencies(List.of(k)));
    }

    /** Whether another setting depends on one. */
    public boolean hasDependents(String key) {
        return dependents.containsKey(key);
    }

    /** The named settings and all that are worked out from them, each after those it depends on. Costs what it gives. */
    public List<Setting> withDependents(Collection<String> keys) {
        return inOrder(connected(keys, key -> dependents.getOrDefault(key, List.of())));
    }

    /** The named settings that there are, and all that are reached from them step by step. */
    private Set<String> connected(Collection<String> keys, Function<String, List<String>> next) {
        Set<String> found = new LinkedHashSet<>();
        var open = new java.util.ArrayDeque<>(keys);
        while (!open.isEmpty()) {
            String key = open.pop();
            if (settings.containsKey(key) && found.add(key)) next.apply(key).forEach(open::push);
        }
        return found;
    }

    /** The keys of the settings of this catalogue that one is worked out from at once; others of theirs are not among them. */
    public List<String> dependencies(String key) {
        return Objects.requireNonNull(dependencies.get(key));
    }

    /** The keys of the settings that have a need of a kind, at any depth; found once, then kept. */
    public Set<String> asking(Class<? extends Need> kind) {
        return asking.computeIfAbsent(
                kind,
                k -> settings.values().stream()
                        .filter(s -> s.allNeeds().anyMatch(k::isInstance))
                        .map(Setting::key)
                        .collect(Collectors.toUnmodifiableSet()));
    }

    /** The settings of these keys that there are, each after those it depends on. */
    public List<Setting> inOrder(Collection<String> keys) {
        return keys.stream()
                .filter(settings::containsKey)
                .sorted(java.util.Comparator.comparing(place::get))
                .map(settings::get)
                .toList();
    }
}
