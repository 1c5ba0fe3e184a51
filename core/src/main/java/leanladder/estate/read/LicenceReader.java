package leanladder.estate.read;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.math.BigInteger;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Setting;
import leanladder.estate.Assignment;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.estate.TimeWindow;
import leanladder.estate.Track;
import leanladder.json.JsonCursor;

/** Reads licence plans, preview rings and releases. */
final class LicenceReader {
    private final Set<String> entitlements;
    private final PolicyReader policies;

    LicenceReader(Set<String> entitlements, PolicyReader policies) {
        this.entitlements = entitlements;
        this.policies = policies;
    }

    Optional<Plan> plan(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = jsonCursor.required("name").flatMap(JsonCursor::text);
        List<Purchase> purchases = purchases(jsonCursor);
        TimeWindow term = PolicyReader.window(jsonCursor, "starts", "ends");
        List<String> components = new ArrayList<>();
        for (JsonCursor item :
                jsonCursor.required("components").map(JsonCursor::items).orElse(List.of())) {
            Optional<String> component = item.id();
            component
                    .filter(c -> !entitlements.contains(c))
                    .ifPresent(
                            c -> item.defect("names the entitlement \"" + c + "\", which the catalogue does not list"));
            component.ifPresent(components::add);
        }
        Set<AccountKind> kinds = EnumSet.allOf(AccountKind.class);
        Optional<JsonCursor> listed = jsonCursor.member("kinds");
        if (listed.isPresent()) {
            kinds.clear();
            for (JsonCursor item : listed.get().items())
                item.word(AccountKind.BY_WORD).ifPresent(kinds::add);
            if (listed.get().node().isArray() && listed.get().node().isEmpty())
                listed.get().defect("must not be empty; leave it out to allow all kinds");
        }
        List<Plan.Rule> rules = new ArrayList<>();
        for (JsonCursor item : jsonCursor.items("rules")) rule(item, components).ifPresent(rules::add);
        // Holders that are a list were taken out of the plan as they were met.
        jsonCursor.member("holders").ifPresent(h -> h.items());
        ObjectNode source = (ObjectNode) jsonCursor.node();
        return id.map(i -> new Plan(i, name.orElse(""), purchases, term, components, kinds, rules, source));
    }

    /** The seats of a plan, plain or bought. */
    private static List<Purchase> purchases(JsonCursor plan) {
        Optional<JsonCursor> plain = plan.member("seats");
        Optional<JsonCursor> bought = plan.member("purchases");
        if (plain.isPresent() == bought.isPresent())
            plan.defect("must say either \"seats\" or \"purchases\", so that it is plain how many seats it has");
        List<Purchase> purchases = new ArrayList<>();
        plain.flatMap(p -> seats(p, 0)).ifPresent(seats -> purchases.add(new Purchase(seats, TimeWindow.ALWAYS)));
        if (bought.isPresent())
            for (JsonCursor item : plan.items("purchases")) purchase(item).ifPresent(purchases::add);
        return purchases;
    }

    /** Seats that were bought together. */
    static Optional<Purchase> purchase(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<Integer> seats = jsonCursor.required("seats").flatMap(p -> seats(p, 1));
        TimeWindow timeWindow = PolicyReader.window(jsonCursor, "from", "until");
        jsonCursor.member("note").ifPresent(JsonCursor::text);
        return seats.map(s -> new Purchase(s, timeWindow));
    }

    private static Optional<Integer> seats(JsonCursor jsonCursor, int least) {
        Optional<BigInteger> seats = jsonCursor.integer();
        seats.filter(s -> s.compareTo(BigInteger.valueOf(least)) < 0)
                .ifPresent(s -> jsonCursor.defect("must not be below " + least));
        return seats.map(s -> s.min(BigInteger.valueOf(Integer.MAX_VALUE)).intValue());
    }

    Optional<Plan.Rule> rule(JsonCursor jsonCursor, List<String> components) {
        Optional<Assignment> assignment = policies.assignment(jsonCursor, false);
        Optional<JsonCursor> listed = jsonCursor.node().isObject() ? jsonCursor.member("off") : Optional.empty();
        Set<String> off = new LinkedHashSet<>();
        for (JsonCursor item : listed.map(JsonCursor::items).orElse(List.of())) {
            Optional<String> component = item.id();
            component
                    .filter(c -> !components.contains(c))
                    .ifPresent(c -> item.defect("names \"" + c + "\", which is not a component of this plan"));
            component.ifPresent(off::add);
        }
        if (listed.isPresent() && assignment.isPresent() && !assignment.get().include())
            listed.get().defect("fits only an include; an except leaves the whole seat out");
        if (!components.isEmpty() && off.containsAll(components))
            listed.orElse(jsonCursor).warn("leaves out every component, so that these seats carry nothing");
        return assignment.map(a -> new Plan.Rule(a, off));
    }

    /** A holder as the file lists it; what does not fit is reported. Whether the account exists is not looked at. */
    static Optional<Plan.Holder> holder(JsonCursor item) {
        if (!item.isObject()) return Optional.empty();
        Optional<String> account = item.required("account").flatMap(JsonCursor::id);
        Optional<JsonCursor> at = item.required("granted");
        Optional<Instant> granted = at.flatMap(JsonCursor::instant);
        if (account.isEmpty() || granted.isEmpty()) return Optional.empty();
        boolean plain = item.node().size() == 2
                && at.get().node().textValue().equals(granted.get().toString());
        return Optional.of(new Plan.Holder(
                account.get(), granted.get(), plain ? Optional.empty() : Optional.of((ObjectNode) item.node())));
    }

    /** @param ids those of other rings, which must not be repeated; those that are read are added */
    static List<Ring> rings(List<JsonCursor> places, Set<String> ids) {
        List<Ring> rings = new ArrayList<>();
        for (int i = 0; i < places.size(); i++) {
            JsonCursor jsonCursor = places.get(i);
            if (!jsonCursor.isObject()) continue;
            Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
            Optional<String> name = jsonCursor.required("name").flatMap(JsonCursor::text);
            boolean asks =
                    jsonCursor.member("asksConsent").flatMap(JsonCursor::bool).orElse(false);
            if (asks && i == places.size() - 1)
                jsonCursor
                        .member("asksConsent")
                        .orElseThrow()
                        .defect("must be false on the outermost ring, which is everyone");
            id.filter(d -> !ids.add(d)).ifPresent(d -> jsonCursor.repeats(d));
            checkTerms(jsonCursor);
            id.ifPresent(d -> rings.add(new Ring(d, name.orElse(""), asks, (ObjectNode) jsonCursor.node())));
        }
        return rings;
    }

    /** The terms of a ring or a release. */
    private static void checkTerms(JsonCursor of) {
        Optional<JsonCursor> terms = of.member("terms");
        if (terms.isEmpty() || !terms.get().isObject()) return;
        int version = terms.get()
                .required("version")
                .map(v -> DirectoryReader.whole(v, 1))
                .orElse(Integer.MAX_VALUE);
        terms.get().required("text").ifPresent(JsonCursor::text);
        Optional<JsonCursor> from = terms.get().member("from");
        if (from.map(f -> DirectoryReader.whole(f, 0)).orElse(0) > version)
            from.orElseThrow().defect("must not lie above \"version\", which is " + version);
    }

    /** A further track; rings whose ids stand elsewhere already are reported. */
    static Optional<Track> track(JsonCursor jsonCursor, Set<String> ringIds) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> name = jsonCursor.required("name").flatMap(JsonCursor::text);
        Optional<JsonCursor> named = jsonCursor.required("setting");
        Optional<String> setting = named.flatMap(JsonCursor::key);
        setting.filter(Setting.RING::equals)
                .ifPresent(s ->
                        named.get().defect("must be a setting of its own; this one names the rings of the estate"));
        List<Ring> rings =
                rings(jsonCursor.required("rings").map(JsonCursor::items).orElse(List.of()), ringIds);
        ObjectNode source = ((ObjectNode) jsonCursor.node()).deepCopy();
        source.remove("rings");
        return id.map(i -> new Track(i, name.orElse(""), setting.orElse(""), rings, source));
    }

    /** @param ringsOf by id of a track, which is empty for the main one, the ids of its rings; empty where there is no such track */
    Optional<Release> release(
            JsonCursor jsonCursor,
            Function<String, Optional<Set<String>>> ringsOf,
            java.util.function.Predicate<String> hasSetting) {
        if (!jsonCursor.isObject()) return Optional.empty();
        Optional<JsonCursor> trackPlace = jsonCursor.member("track");
        String track = trackPlace.flatMap(JsonCursor::id).orElse("");
        Optional<Set<String>> ofTrack = ringsOf.apply(track);
        if (ofTrack.isEmpty())
            trackPlace.ifPresent(t -> t.defect("names the track \"" + track + "\", which does not exist"));
        Set<String> ringIds = ofTrack.orElse(Set.of());
        checkTerms(jsonCursor);
        Optional<JsonCursor> named = jsonCursor.required("setting");
        Optional<String> setting = named.flatMap(JsonCursor::key);
        setting.filter(s -> !hasSetting.test(s))
                .ifPresent(
                        s -> named.get().defect("names the setting \"" + s + "\", which the catalogue does not list"));
        Map<String, Instant> opens = new LinkedHashMap<>();
        jsonCursor
                .required("opens")
                .filter(JsonCursor::isObject)
                .ifPresent(all -> all.members().forEach((ring, at) -> {
                    if (!ringIds.contains(ring))
                        at.defect("names the ring \"" + ring + "\", which does not exist"
                                + (track.isEmpty() ? "" : " on its track"));
                    at.instant().ifPresent(instant -> opens.put(ring, instant));
                }));
        List<Release.EarlyAccess> early = new ArrayList<>();
        for (JsonCursor item : jsonCursor.items("early")) {
            if (!item.isObject()) continue;
            Optional<JsonCursor> toPlace = item.required("to");
            Optional<Target> to = toPlace.flatMap(p -> policies.target(p, true));
            to.filter(t -> t instanceof Target.OrganisationTarget || t.isPlace())
                    .ifPresent(t -> toPlace.get().defect("must be a unit, an access group or an account"));
            Optional<Instant> from = item.required("from").flatMap(JsonCursor::instant);
            if (to.isPresent() && from.isPresent()) early.add(new Release.EarlyAccess(to.get(), from.get()));
        }
        Optional<JsonCursor> alone = jsonCursor.member("oneByOne");
        boolean oneByOne = alone.flatMap(JsonCursor::bool).orElse(false);
        if (oneByOne && ringIds.isEmpty()) alone.orElseThrow().defect("asks for rings, and there are none");
        if (!oneByOne)
            jsonCursor
                    .member("terms")
                    .ifPresent(t -> t.warn("bind nobody, because nobody can consent to this release alone (oneByOne)"));
        ObjectNode source = (ObjectNode) jsonCursor.node();
        return setting.map(s -> new Release(s, opens, early, oneByOne, source));
    }
}
