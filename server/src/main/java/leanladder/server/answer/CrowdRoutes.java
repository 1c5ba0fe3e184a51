package leanladder.server.answer;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.reach.Height;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.resolve.Standing;
import leanladder.server.draft.Inquiry;
import leanladder.server.draft.Values;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** The ladder for many: on which rung, and by which statement, a setting is decided for a unit, a group or everyone. */
public record CrowdRoutes(Inquiry.Reader inquiries) implements Room {
    /** Whom a crowd is. */
    public enum CrowdKind {
        EVERYONE,
        UNIT,
        GROUP;

        static CrowdKind of(Target target) {
            return target instanceof Target.Whole ? EVERYONE : target instanceof Target.OfUnit ? UNIT : GROUP;
        }
    }

    /** How many have a value. */
    public record CrowdValue(String value, @Shape("Value") JsonNode inForce, int accounts) {}

    /** How many stand so. @param by the policy whose cap bends them, or that locks, where all have the same */
    public record CrowdStanding(Standing standing, int accounts, Optional<String> by) {}

    /**
     * Accounts of one rung that are decided by the same statement, with the same value and standing.
     *
     * @param policy that decides; null on the built-in rung
     * @param cappedBy the name of the policy whose cap changed the value
     * @param blockedBy the needs that are not met, in words
     */
    public record Length(
            Optional<String> policy,
            Optional<String> name,
            String value,
            @Shape("Value") JsonNode inForce,
            String decided,
            Standing standing,
            Optional<String> cappedBy,
            Optional<String> blockedBy,
            int accounts) {}

    /** A rung, with the lengths on it, the longest first. */
    public record CrowdRung(Height height, List<Length> lengths) {}

    /**
     * The ladder for many.
     *
     * @param opensEarlyTo to whom the setting's release could be opened early, as the estate file writes it, who are asked about and have it
     *     not all; null where there is no release, or it is open to them early already
     */
    public record Crowd(
            long change,
            String name,
            CrowdKind kind,
            String setting,
            Optional<String> app,
            int accounts,
            List<CrowdValue> values,
            List<CrowdStanding> standings,
            List<CrowdRung> rungs,
            Optional<String> opensEarlyTo) {}

    private record Part(Outcome outcome, RoaringBitmap accounts) {}

    @Override
    public void routes(Api api) {
        api.get("/crowd", this::crowd, Crowd.class, AccountPage.PeopleList.class);
    }

    private Answer crowd(Call call) {
        Query query = call.query(Query.about(
                "who", "setting", "rung", "policy", "value", "standing", "list", "limit", "after", "format"));
        Inquiry inquiry = inquiries.of(query);
        Setting setting = inquiry.setting(query.required("setting"));
        Target who = query.target("who", inquiry.estate(), false);
        RoaringBitmap crowd = inquiry.directory().holding(who);
        crowd.and(inquiry.directory().active());
        List<Part> parts = new ArrayList<>();
        for (Share<Outcome> share :
                inquiry.moment().solution().column(setting.key()).shares()) {
            RoaringBitmap here = RoaringBitmap.and(share.accounts(), crowd);
            if (!here.isEmpty()) parts.add(new Part(share.what(), here));
        }
        parts.sort(
                Comparator.comparingInt((Part p) -> p.accounts.getCardinality()).reversed());
        if (query.one("list").isPresent() || query.isCsv())
            return Answer.of(AccountPage.answer(query, inquiry.directory(), chosen(query, parts)));
        Wording wording = inquiry.wording();
        List<CrowdRung> rungs = new ArrayList<>();
        for (Height height : Height.values()) {
            if (height == Height.WORKSPACE && inquiry.question().workspace().isEmpty()) continue;
            rungs.add(new CrowdRung(
                    height,
                    parts.stream()
                            .filter(p -> p.outcome.rung().height() == height)
                            .map(p -> length(p, inquiry, setting, wording))
                            .toList()));
        }
        return Answer.of(new Crowd(
                inquiry.snapshot().change(),
                who instanceof Target.Whole ? "everyone" : wording.target(who),
                CrowdKind.of(who),
                setting.title(),
                inquiry.app(setting),
                crowd.getCardinality(),
                values(setting, wording, parts),
                standings(inquiry, parts),
                rungs,
                opensEarlyTo(inquiry, setting, who, crowd)));
    }

    /** Whom a release could be opened to early without the rest of their ring: those asked about, where they have it not all. */
    private static Optional<String> opensEarlyTo(Inquiry inquiry, Setting setting, Target who, RoaringBitmap crowd) {
        boolean aimed = who instanceof Target.OfUnit
                || who instanceof Target.OfGroup group
                        && inquiry.estate().group(group.id()).orElseThrow().access();
        boolean asks = setting.needs().stream().flatMap(Need::flatten).anyMatch(Need.Released.class::isInstance);
        if (!aimed || !asks) return Optional.empty();
        return inquiry.estate()
                .release(setting.key())
                .filter(r -> r.early().stream().noneMatch(e -> e.to().equals(who)))
                .filter(r -> RoaringBitmap.andNotCardinality(
                                crowd, inquiry.moment().solution().releases().reachedBy(setting.key()))
                        > 0)
                .map(r -> who.text());
    }

    /** How many have each value, the most frequent first. */
    private static List<CrowdValue> values(Setting setting, Wording wording, List<Part> parts) {
        Map<Value, Integer> byValue = new LinkedHashMap<>();
        parts.forEach(p -> byValue.merge(p.outcome.value(), p.accounts.getCardinality(), Integer::sum));
        return byValue.entrySet().stream()
                .sorted(Map.Entry.<Value, Integer>comparingByValue().reversed())
                .map(e -> new CrowdValue(
                        wording.value(setting, e.getKey()), e.getKey().json(), e.getValue()))
                .toList();
    }

    /** How many stand how, the most frequent first. */
    private static List<CrowdStanding> standings(Inquiry inquiry, List<Part> parts) {
        Map<Standing, List<Part>> byStanding = parts.stream()
                .collect(Collectors.groupingBy(p -> p.outcome.standing(), LinkedHashMap::new, Collectors.toList()));
        return byStanding.entrySet().stream()
                .map(e -> new CrowdStanding(
                        e.getKey(),
                        e.getValue().stream()
                                .mapToInt(p -> p.accounts.getCardinality())
                                .sum(),
                        by(inquiry, e.getKey(), e.getValue())))
                .sorted(Comparator.comparingInt(CrowdStanding::accounts).reversed())
                .toList();
    }

    private static Optional<String> by(Inquiry inquiry, Standing standing, List<Part> parts) {
        List<Optional<String>> by = parts.stream()
                .map(p -> standing == Standing.CAPPED ? p.outcome.cappedBy() : p.outcome.policy())
                .distinct()
                .toList();
        return by.size() == 1 ? by.get(0).flatMap(id -> name(inquiry, id)) : Optional.empty();
    }

    private static Optional<String> name(Inquiry inquiry, String policy) {
        return inquiry.estate().policy(policy).map(Policy::name);
    }

    private static Length length(Part part, Inquiry inquiry, Setting setting, Wording wording) {
        Outcome outcome = part.outcome;
        return new Length(
                outcome.policy(),
                outcome.policy().flatMap(id -> name(inquiry, id)),
                wording.value(setting, outcome.value()),
                outcome.value().json(),
                wording.value(setting, outcome.decided()),
                outcome.standing(),
                outcome.cappedBy().flatMap(id -> name(inquiry, id)),
                outcome.blockedBy().isEmpty()
                        ? Optional.empty()
                        : Optional.of(
                                outcome.blockedBy().stream().map(wording::need).collect(Collectors.joining("; "))),
                part.accounts.getCardinality());
    }

    /** Those of the lengths that the parameters name; values are told apart by what they are. */
    private static RoaringBitmap chosen(Query query, List<Part> parts) {
        Predicate<Value> value = query.one("value")
                .map(text -> Values.json("value", text))
                .map(json -> (Predicate<Value>) v -> v.json().equals(json))
                .orElse(v -> true);
        RoaringBitmap found = new RoaringBitmap();
        for (Part part : parts) {
            Outcome o = part.outcome;
            boolean fits = fits(query, "rung", o.rung().height().word())
                    && fits(query, "policy", o.policy().orElse("none"))
                    && fits(query, "standing", o.standing().word())
                    && value.test(o.value());
            if (fits) found.or(part.accounts);
        }
        return found;
    }

    private static boolean fits(Query query, String name, String is) {
        Optional<String> wanted = query.one(name);
        return wanted.isEmpty() || wanted.get().equals(is);
    }
}
