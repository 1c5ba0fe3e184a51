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
    private static final Map<String, Set<String>> FORMS = Map.of(
            "entitlement", Set.of("entitlement"),
            "asLooseAs", Set.of("setting", "asLooseAs"),
            "is", Set.of("setting", "is"),
            "kind", Set.of("kind"),
            "release", Set.of("release"),
            "hosting", Set.of("hosting", "allowTrial"),
            "region", Set.of("region"),
            "anyOf", Set.of("anyOf"));

    private final Function<String, Optional<Setting>> settings;
    private final Set<String> sizes;
    private final Set<String> entitlements;
    private final boolean hasRings;

    NeedReader(
            Function<String, Optional<Setting>> settings,
            Set<String> sizes,
            Set<String> entitlements,
            boolean hasRings) {
        this.settings = settings;
        this.sizes = sizes;
        this.entitlements = entitlements;
        this.hasRings = hasRings;
    }

    List<Need> needs(List<JsonCursor> places) {
        List<Need> needs = new ArrayList<>();
        for (JsonCursor jsonCursor : places) need(jsonCursor, false).ifPresent(needs::add);
        return List.copyOf(needs);
    }

    private Optional<Need> need(JsonCursor jsonCursor, boolean inside) {
        if (!jsonCursor.isObject()) return Optional.empty();
        List<String> forms = FORMS.keySet().stream()
                .filter(f -> jsonCursor.node().has(f))
                .sorted()
                .toList();
        if (forms.size() != 1) {
            jsonCursor.defect(
                    "must be exactly one need: entitlement, setting with asLooseAs or is, kind, release, hosting, region or anyOf");
            return Optional.empty();
        }
        String form = forms.get(0);
        boolean strange = false;
        for (var member : jsonCursor.members().entrySet())
            if (!Objects.requireNonNull(FORMS.get(form)).contains(member.getKey())) {
                member.getValue().defect("does not belong to a need of the form \"" + form + "\"");
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
