package leanladder.catalogue;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.json.JsonCursor;

/** Reads what a setting needs, in one of the forms of resolution.md, section 5. */
final class NeedReader {
    private static final String DEVICE = "device";
    private static final String APP = "app";
    private static final String AT_LEAST = "atLeast";
    private static final String OTHERWISE = "otherwise";

    /** For each form the members beside the one that it is named by. */
    private static final Map<String, Set<String>> FORMS = Map.ofEntries(
            Map.entry("entitlement", Set.of()),
            Map.entry("asLooseAs", Set.of("setting")),
            Map.entry("is", Set.of("setting")),
            Map.entry("kind", Set.of()),
            Map.entry("release", Set.of()),
            Map.entry("hosting", Set.of("allowTrial")),
            Map.entry("role", Set.of()),
            Map.entry(DEVICE, Set.of(APP, AT_LEAST)),
            Map.entry(APP, Set.of(AT_LEAST)),
            Map.entry("region", Set.of()),
            Map.entry("anyOf", Set.of()));

    private final Function<String, Optional<Setting>> settings;
    private final Set<String> sizes;
    private final Set<String> apps;
    private final Set<String> entitlements;
    private final boolean hasRings;

    NeedReader(Function<String, Optional<Setting>> settings, CatalogueFrame frame, boolean hasRings) {
        this.settings = settings;
        this.sizes = Set.copyOf(frame.sizes());
        this.apps = frame.apps().keySet();
        this.entitlements = frame.entitlements().keySet();
        this.hasRings = hasRings;
    }

    /** What a setting needs, and for each need what is in force while it is not met. */
    record Needs(List<Need> needs, List<Value> consequences) {}

    /** @param fallback of the setting, where it has one */
    Needs needs(List<JsonCursor> places, Setting setting, Optional<Value> fallback) {
        List<Need> needs = new ArrayList<>();
        List<Value> consequences = new ArrayList<>();
        for (JsonCursor jsonCursor : places) {
            Optional<Need> need = need(jsonCursor, false);
            if (need.isEmpty()) continue;
            Optional<Value> consequence = jsonCursor
                    .member(OTHERWISE)
                    .flatMap(otherwise -> otherwise(otherwise, setting))
                    .or(() -> fallback);
            needs.add(need.get());
            consequence.ifPresent(consequences::add);
        }
        return new Needs(List.copyOf(needs), List.copyOf(consequences));
    }

    private static Optional<Value> otherwise(JsonCursor jsonCursor, Setting setting) {
        Optional<Value> value = setting.type().read(jsonCursor.node(), jsonCursor::defect);
        if (setting.strictness().isEmpty()) {
            jsonCursor.defect("fits only a need of an ordered setting, and \"" + setting.key() + "\" is not ordered");
            return Optional.empty();
        }
        if (value.equals(Optional.of(setting.strictness().get().looseEnd())))
            jsonCursor.warn("is the loosest value, so that this need is never asked");
        return value;
    }

    private Optional<Need> need(JsonCursor jsonCursor, boolean inside) {
        if (!jsonCursor.isObject()) return Optional.empty();
        List<String> forms = FORMS.keySet().stream()
                .filter(f -> jsonCursor.node().has(f))
                .sorted()
                .toList();
        if (forms.equals(List.of(APP, DEVICE))) forms = List.of(DEVICE);
        if (forms.size() != 1) {
            jsonCursor.defect("must be exactly one need: entitlement, setting with asLooseAs or is, kind, release,"
                    + " hosting, role, device or app, region or anyOf");
            return Optional.empty();
        }
        String form = forms.get(0);
        boolean strange = false;
        for (var member : jsonCursor.members().entrySet()) {
            boolean belongs = member.getKey().equals(form)
                    || Objects.requireNonNull(FORMS.get(form)).contains(member.getKey());
            if (belongs || member.getKey().equals(OTHERWISE) && !inside) continue;
            member.getValue()
                    .defect(
                            member.getKey().equals(OTHERWISE)
                                    ? "must not stand inside anyOf"
                                    : "does not belong to a need of the form \"" + form + "\"");
            strange = true;
        }
        if (strange) return Optional.empty();
        JsonCursor body = jsonCursor.member(form).orElseThrow();
        switch (form) {
            case "entitlement":
                var ids = known(body, entitlements::contains, "entitlement");
                return ids.map(i -> new Need.Entitlement(List.copyOf(i), jsonCursor.node()));
            case "asLooseAs", "is":
                return ofSetting(jsonCursor, body, form.equals("asLooseAs"));
            case "kind":
                Set<AccountKind> kinds = new LinkedHashSet<>();
                for (JsonCursor kind : filled(body))
                    kind.word(AccountKind.BY_WORD).ifPresent(kinds::add);
                return kinds.isEmpty()
                        ? Optional.empty()
                        : Optional.of(new Need.AccountKinds(kinds, jsonCursor.node()));
            case "release":
                if (!body.node().isBoolean() || !body.node().booleanValue()) {
                    body.defect("must be true");
                    return Optional.empty();
                }
                if (!hasRings) jsonCursor.defect("asks for a release, but the estate has no preview rings");
                return Optional.of(new Need.ReleaseNeed(jsonCursor.node()));
            case "hosting":
                boolean allowTrial = jsonCursor
                        .member("allowTrial")
                        .flatMap(JsonCursor::bool)
                        .orElse(false);
                Optional<String> size = body.text();
                size.filter(s -> !sizes.contains(s))
                        .ifPresent(s -> body.defect("names the size \"" + s + "\", which the catalogue does not list"));
                return size.map(s -> new Need.Hosting(s, allowTrial, jsonCursor.node()));
            case "role":
                Set<Need.Role> roles = new LinkedHashSet<>();
                for (JsonCursor role : filled(body))
                    role.word(Need.Role.BY_WORD).ifPresent(roles::add);
                return roles.isEmpty()
                        ? Optional.empty()
                        : Optional.of(new Need.WorkspaceRole(roles, jsonCursor.node()));
            case DEVICE, APP:
                return Optional.of(device(jsonCursor));
            case "region":
                return known(body, r -> true, "region").map(r -> new Need.Region(r, jsonCursor.node()));
            default:
                if (inside) {
                    body.defect("must not stand inside another anyOf");
                    return Optional.empty();
                }
                List<Need> inner = new ArrayList<>();
                for (JsonCursor item : filled(body)) need(item, true).ifPresent(inner::add);
                return Optional.of(new Need.AnyOf(inner, jsonCursor.node()));
        }
    }

    private Need device(JsonCursor jsonCursor) {
        Set<String> kinds = new LinkedHashSet<>();
        for (JsonCursor kind : jsonCursor.member(DEVICE).map(NeedReader::filled).orElse(List.of()))
            kind.text().ifPresent(kinds::add);
        Optional<String> app = jsonCursor.member(APP).flatMap(JsonCursor::id);
        app.filter(a -> !apps.contains(a))
                .ifPresent(a -> jsonCursor
                        .member(APP)
                        .orElseThrow()
                        .defect("names the app \"" + a + "\", which the catalogue does not list"));
        Optional<AppVersion> atLeast = jsonCursor.member(AT_LEAST).flatMap(AppVersion::read);
        if (!jsonCursor.node().has(APP))
            jsonCursor
                    .member(AT_LEAST)
                    .ifPresent(v -> v.defect("wants an \"app\" beside it: the version is the app's"));
        return new Need.Device(kinds, app, atLeast, jsonCursor.node());
    }

    private Optional<Need> ofSetting(JsonCursor jsonCursor, JsonCursor body, boolean asLooseAs) {
        Optional<JsonCursor> named = jsonCursor.required("setting");
        Optional<String> key = named.flatMap(JsonCursor::key);
        if (key.isEmpty()) return Optional.empty();
        Optional<Setting> found = settings.apply(key.get());
        if (found.isEmpty()) {
            named.get().defect("names the setting \"" + key.get() + "\", which the catalogue does not list");
            return Optional.empty();
        }
        Setting other = found.get();
        if (asLooseAs && other.strictness().isEmpty())
            body.defect("fits only an ordered setting, and \"" + key.get() + "\" is not ordered");
        Optional<Value> value = other.type().read(body.node(), body::defect);
        return value.map(v -> asLooseAs
                ? new Need.MinimumSetting(key.get(), v, jsonCursor.node())
                : new Need.ExactSetting(key.get(), v, jsonCursor.node()));
    }

    private static List<JsonCursor> filled(JsonCursor list) {
        List<JsonCursor> items = list.items();
        if (list.node().isArray() && items.isEmpty()) list.defect("must not be empty");
        return items;
    }

    private static Optional<Set<String>> known(JsonCursor list, Predicate<String> exists, String what) {
        Set<String> texts = new LinkedHashSet<>();
        for (JsonCursor item : filled(list)) {
            Optional<String> text = what.equals("region") ? item.text() : item.id();
            text.filter(exists.negate())
                    .ifPresent(t ->
                            item.defect("names the " + what + " \"" + t + "\", which the catalogue does not list"));
            text.ifPresent(texts::add);
        }
        return texts.isEmpty() ? Optional.empty() : Optional.of(texts);
    }
}
