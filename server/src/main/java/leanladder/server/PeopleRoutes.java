package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.reach.Position;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.seat.Allocation;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** One account: where it stands, and all its settings beside those of its unit. */
record PeopleRoutes(Estates estates) {
    void account(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about(), Set.of());
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Question question = asked.question();
        Account account = OutcomeRoutes.account(present, ctx.pathParam("id"));
        Directory directory = present.ground().directory();
        Wording wording = new Wording(present.ground().estate(), question.at());
        ObjectNode told = Answers.object();
        told.put("id", account.id());
        told.put("displayName", account.displayName());
        told.put("userName", account.userName());
        told.put("kind", wording.kind(account.kind()));
        told.put("title", account.title().orElse(null));
        told.put(
                "workspace",
                question.workspace()
                        .flatMap(present.ground().estate()::workspace)
                        .map(w -> w.name())
                        .orElse(null));
        ArrayNode path = told.putArray("path");
        for (Unit unit : directory.tree().path(account.unit()))
            path.addObject().put("id", unit.id()).put("name", unit.name());
        ArrayNode groups = told.putArray("groups");
        new Position(directory, account)
                .groups()
                .keySet()
                .forEach(g -> groups.addObject()
                        .put("id", g)
                        .put("name", directory.group(g).name()));
        ArrayNode seats = told.putArray("seats");
        int number = directory.number(account.id());
        for (Allocation allocation : present.moment(question).entitlements().allocations()) {
            if (!allocation.claimants().contains(number)) continue;
            boolean seated = allocation.seated().contains(number);
            String standing = !seated ? "waiting" : allocation.isInTerm() ? "seated" : "out of term";
            seats.addObject().put("plan", allocation.plan().name()).put("standing", standing);
        }
        ring(present, question, account, told);
        Answers.json(ctx, told);
    }

    private static void ring(Present present, Question question, Account account, ObjectNode told) {
        Optional<Setting> setting = present.ground().estate().catalogue().setting(Setting.RING);
        var rings = present.ground().estate().rings();
        if (rings.isEmpty()) {
            told.putNull("ring");
            return;
        }
        String id = setting.map(s -> ((Value.Choice)
                                present.climber(question, account).outcome(s).value())
                        .option())
                .orElse(rings.get(rings.size() - 1).id());
        Wording wording = new Wording(present.ground().estate(), question.at());
        var ring = rings.stream().filter(r -> r.id().equals(id)).findFirst().orElseThrow();
        ObjectNode in = told.putObject("ring").put("name", ring.name()).put("asksConsent", ring.asksConsent());
        in.put(
                "consented",
                account.consents().stream()
                        .filter(c -> c.ring().equals(id) && !c.at().isAfter(question.at()))
                        .findFirst()
                        .map(c -> wording.day(c.at()))
                        .orElse(null));
    }

    /** Every setting of the account with its outcome, and whether it differs from what most of its unit have. */
    void settings(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about(), Set.of());
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Question question = asked.question();
        Account account = OutcomeRoutes.account(present, ctx.pathParam("id"));
        Wording wording = new Wording(present.ground().estate(), question.at());
        Directory directory = present.ground().directory();
        int number = directory.number(account.id());
        RoaringBitmap unit = RoaringBitmap.and(directory.inOrBelow(account.unit()), directory.active());
        ObjectNode told = Answers.object();
        told.put("change", present.change());
        ArrayNode rows = told.putArray("settings");
        present.moment(question).solve(solution -> {
            for (Setting setting :
                    present.ground().estate().catalogue().settings().values()) {
                var column = solution.column(setting.key());
                Outcome outcome = column.of(number);
                Optional<Value> usual = usual(column.inForce(), unit);
                ObjectNode row = rows.addObject();
                row.put("key", setting.key());
                row.put("title", setting.title());
                row.put("app", setting.app().orElse(null));
                row.put("value", wording.value(setting, outcome.value()));
                row.put("decided", wording.value(setting, outcome.decided()));
                row.put("standing", outcome.standing().word());
                row.put("rung", outcome.rung().height().word());
                boolean differs = usual.isPresent() && !usual.get().equals(outcome.value());
                row.put("differs", differs);
                row.put("usual", differs ? wording.value(setting, usual.get()) : null);
                row.put("words", words(setting));
            }
            return null;
        });
        Answers.json(ctx, told);
    }

    private static String words(Setting setting) {
        StringBuilder words = new StringBuilder();
        setting.source().path("words").forEach(w -> words.append(w.asText()).append(' '));
        return words.toString().trim();
    }

    /** The value that more than half of these accounts have. */
    private static Optional<Value> usual(Map<Value, RoaringBitmap> inForce, RoaringBitmap accounts) {
        int half = accounts.getCardinality() / 2;
        return inForce.entrySet().stream()
                .filter(e -> RoaringBitmap.andCardinality(e.getValue(), accounts) > half)
                .map(Map.Entry::getKey)
                .collect(Collectors.reducing((a, b) -> a));
    }
}
