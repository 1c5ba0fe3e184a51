package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.change.Book;
import leanladder.change.Ripple;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.resolve.Question;
import leanladder.tell.Wording;

/**
 * The ways to set a value for a unit, a group or an account: in the policy that is aimed at exactly this target now, else in a
 * new one; and in policies that name it among others or at another time, with their ripple beside them. Without a value, the ways
 * to say nothing there any more: none, where no policy sets one.
 */
record WayRoutes(Estates estates) {
    private static final int OTHERS = 3;

    void ways(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about("target", "setting", "value"), Set.of());
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Setting setting = OutcomeRoutes.setting(present, query.required("setting"));
        Target target = query.target("target", present.ground().estate(), true);
        Optional<ObjectNode> statement = query.one("value").map(text -> {
            ObjectNode one = Answers.object().put("setting", setting.key());
            one.set("set", value(text));
            return one;
        });
        List<Policy> exact = new ArrayList<>();
        List<Policy> wider = new ArrayList<>();
        for (Policy policy : present.ground().estate().policies()) {
            boolean sets = policy.on(setting.key()).anyMatch(s -> s instanceof Statement.Set);
            if (!policy.live() || statement.isEmpty() && !sets) continue;
            List<Target> includes = policy.assignments().stream()
                    .filter(Assignment::include)
                    .map(Assignment::target)
                    .toList();
            if (includes.equals(List.of(target))
                    && inForce(policy, asked.question().at())) exact.add(policy);
            else if (includes.contains(target) || sets && reaches(policy, target, present)) wider.add(policy);
        }
        ObjectNode told = Answers.object();
        ArrayNode ways = told.putArray("ways");
        for (Policy policy : exact) ways.add(way(present, asked.question(), policy, setting, statement, true));
        statement.ifPresent(said -> ways.add(anew(present, asked.question(), setting, target, said, exact.isEmpty())));
        for (Policy policy : wider.subList(0, Math.min(OTHERS, wider.size())))
            ways.add(way(present, asked.question(), policy, setting, statement, false));
        Answers.json(ctx, told);
    }

    private static boolean inForce(Policy policy, Instant at) {
        return policy.assignments().stream()
                .anyMatch(a -> a.include() && a.window().holds(at));
    }

    private static boolean reaches(Policy policy, Target target, Present present) {
        var directory = present.ground().directory();
        return policy.assignments().stream()
                .filter(Assignment::include)
                .anyMatch(a -> org.roaringbitmap.RoaringBitmap.intersects(
                        directory.holding(a.target()), directory.holding(target)));
    }

    private static JsonNode value(String text) {
        try {
            return Json.MAPPER.readTree(text);
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw Problem.wrongInput("The parameter \"value\" must be a value as JSON.");
        }
    }

    private ObjectNode anew(
            Present present, Question question, Setting setting, Target target, ObjectNode statement, boolean first) {
        Wording wording = new Wording(present.ground().estate(), estates.now());
        ObjectNode body = Answers.object().put("name", setting.title() + " for " + wording.target(target));
        body.putArray("statements").add(statement);
        body.putArray("assignments").addObject().put("include", target.text());
        ObjectNode edit = Answers.object().put("kind", "add-policy");
        edit.set("policy", body);
        return told(present, question, edit, body.get("name").asText(), first, true);
    }

    private static ObjectNode way(
            Present present,
            Question question,
            Policy policy,
            Setting setting,
            Optional<ObjectNode> statement,
            boolean first) {
        ObjectNode edit = Answers.object();
        if (statement.isPresent()) edit.put("kind", "put-statement").set("statement", statement.get());
        else edit.put("kind", "remove-statement").put("setting", setting.key()).put("says", "set");
        edit.put("policy", policy.id());
        return told(present, question, edit, policy.name(), first, false);
    }

    private static ObjectNode told(
            Present present, Question question, ObjectNode edit, String name, boolean first, boolean fresh) {
        Defects defects = new Defects();
        Book book = new Book(present.ground(), (section, key) -> Answers.object());
        ObjectNode told = Answers.object().put("name", name).put("first", first).put("fresh", fresh);
        told.set("edit", edit);
        if (book.apply(new Place(edit, "", defects)).isEmpty()) {
            told.put(
                    "refusal",
                    defects.all().isEmpty()
                            ? "cannot be carried out"
                            : defects.all().get(0).message());
            return told;
        }
        Ripple ripple = new Ripple(
                book,
                book.after(),
                Question.at(question.at()),
                present.moment(Question.at(question.at())).entitlements());
        told.set("ripple", RippleTelling.counts(ripple));
        return told;
    }
}
