package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.reach.Directory;
import leanladder.reach.Height;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** The ladder for many: on which rung, and by which statement, a setting is decided for a unit, a group or everyone. */
record CrowdRoutes(Estates estates) {
    /** Accounts of one rung that are decided by the same statement, with the same value and standing. */
    private record Length(Outcome outcome, RoaringBitmap accounts) {
        private static final Comparator<Length> LONGEST_FIRST = Comparator.<Length>comparingInt(
                        l -> l.accounts.getCardinality())
                .reversed();
    }

    void crowd(Context ctx) throws IOException {
        Query query = new Query(
                ctx,
                estates.now(),
                Query.about(
                        "who", "setting", "rung", "policy", "value", "standing", "list", "limit", "after", "format"),
                Set.of());
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Setting setting = OutcomeRoutes.setting(present, query.required("setting"));
        Target who = query.target("who", present.ground().estate(), false);
        Directory directory = present.ground().directory();
        RoaringBitmap crowd = directory.holding(who);
        crowd.and(directory.active());
        Wording wording =
                new Wording(present.ground().estate(), asked.question().at());
        List<Length> lengths = new ArrayList<>();
        present.moment(asked.question()).solve(solution -> {
            for (Share<Outcome> share : solution.column(setting.key()).shares()) {
                RoaringBitmap here = RoaringBitmap.and(share.accounts(), crowd);
                if (!here.isEmpty()) lengths.add(new Length(share.what(), here));
            }
            return null;
        });
        if (query.one("list").isPresent() || query.isCsv()) {
            people(ctx, query, present, setting, wording, lengths);
            return;
        }
        ObjectNode told = Answers.object();
        told.put("change", present.change());
        told.put("name", who instanceof Target.Whole ? "everyone" : wording.target(who));
        told.put("kind", who instanceof Target.Whole ? "everyone" : who instanceof Target.OfUnit ? "unit" : "group");
        told.put("setting", setting.title());
        told.put(
                "app",
                setting.app()
                        .map(present.ground().estate().catalogue().apps()::get)
                        .orElse(null));
        told.put("accounts", crowd.getCardinality());
        values(told, setting, wording, lengths);
        ArrayNode rungs = told.putArray("rungs");
        for (Height height : Height.values()) {
            if (height == Height.WORKSPACE && asked.question().workspace().isEmpty()) continue;
            ObjectNode rung = rungs.addObject().put("height", height.word());
            ArrayNode list = rung.putArray("lengths");
            lengths.stream()
                    .filter(l -> l.outcome.rung().height() == height)
                    .sorted(Length.LONGEST_FIRST)
                    .forEach(l -> list.add(told(l, present, setting, wording)));
        }
        Answers.json(ctx, told);
    }

    /** How many have each value. */
    private static void values(ObjectNode told, Setting setting, Wording wording, List<Length> lengths) {
        java.util.Map<String, Integer> byValue = new java.util.LinkedHashMap<>();
        lengths.forEach(l ->
                byValue.merge(wording.value(setting, l.outcome.value()), l.accounts.getCardinality(), Integer::sum));
        ArrayNode values = told.putArray("values");
        byValue.entrySet().stream()
                .sorted(java.util.Map.Entry.<String, Integer>comparingByValue().reversed())
                .forEach(e -> values.addObject().put("value", e.getKey()).put("accounts", e.getValue()));
    }

    private static ObjectNode told(Length length, Present present, Setting setting, Wording wording) {
        Outcome outcome = length.outcome;
        ObjectNode told = Answers.object();
        told.put("policy", outcome.policy().orElse(null));
        told.put(
                "name",
                outcome.policy()
                        .flatMap(present.ground().estate()::policy)
                        .map(Policy::name)
                        .orElse(null));
        told.put("value", wording.value(setting, outcome.value()));
        told.put("decided", wording.value(setting, outcome.decided()));
        told.put("standing", outcome.standing().word());
        told.put(
                "blockedBy",
                outcome.blockedBy().isEmpty()
                        ? null
                        : outcome.blockedBy().stream()
                                .map(wording::need)
                                .collect(java.util.stream.Collectors.joining("; ")));
        told.put("accounts", length.accounts.getCardinality());
        return told;
    }

    private static void people(
            Context ctx, Query query, Present present, Setting setting, Wording wording, List<Length> lengths) {
        RoaringBitmap found = new RoaringBitmap();
        for (Length length : lengths) {
            Outcome o = length.outcome;
            boolean fits = fits(query, "rung", o.rung().height().word())
                    && fits(query, "policy", o.policy().orElse("none"))
                    && fits(query, "value", wording.value(setting, o.value()))
                    && fits(query, "standing", o.standing().word());
            if (fits) found.or(length.accounts);
        }
        PeoplePage.answer(ctx, query, present.ground().directory(), found);
    }

    private static boolean fits(Query query, String name, String is) {
        Optional<String> wanted = query.one(name);
        return wanted.isEmpty() || wanted.get().equals(is);
    }
}
