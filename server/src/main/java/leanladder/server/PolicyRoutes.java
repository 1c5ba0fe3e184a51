package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Merge;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.reach.Directory;
import leanladder.reach.Height;
import leanladder.reach.Position;
import leanladder.reach.ReachedSets;
import leanladder.reach.Rung;
import leanladder.reach.Way;
import leanladder.resolve.Column;
import leanladder.resolve.Missed;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Share;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** Policies in their ranking, as sentences and whole. */
record PolicyRoutes(Estates estates) {
    private static final int NAMED = 3;
    private static final int PEOPLE_SHOWN = 500;
    private static final int MOST_PEOPLE = 5000;

    void list(Context ctx) throws IOException {
        Present present = new Query(ctx, estates.now(), Query.about(), Set.of())
                .asked(estates)
                .estate();
        ObjectNode answer = Answers.object();
        answer.put("change", present.change());
        ArrayNode list = answer.putArray("policies");
        for (Policy policy : present.ground().estate().policies()) list.add(line(present, policy));
        Answers.json(ctx, answer);
    }

    void one(Context ctx) throws IOException {
        Present present = new Query(ctx, estates.now(), Query.about(), Set.of())
                .asked(estates)
                .estate();
        String id = ctx.pathParam("id");
        Policy policy = policy(present, id);
        ObjectNode answer = line(present, policy);
        answer.put("change", present.change());
        answer.set("policy", policy.source());
        Wording wording = new Wording(present.ground().estate(), estates.now());
        ObjectNode names = answer.putObject("names");
        policy.assignments().forEach(a -> names.put(a.target().text(), name(present, wording, a.target())));
        ArrayNode says = answer.putArray("says");
        for (Statement statement : policy.statements()) {
            var setting = present.ground()
                    .estate()
                    .catalogue()
                    .setting(statement.setting())
                    .orElseThrow();
            says.addObject()
                    .put("setting", setting.key())
                    .put("title", setting.title())
                    .put(
                            "app",
                            setting.app()
                                    .map(present.ground().estate().catalogue().apps()::get)
                                    .orElse(null))
                    .put("cap", statement instanceof Statement.Cap)
                    .put("lock", statement instanceof Statement.Set set && set.lock())
                    .put("value", wording.value(setting, statement.value()));
        }
        Answers.json(ctx, answer);
    }

    /** Everyone a policy reaches, each with the way in; or everyone it names and does not reach, each with the reason. */
    void reaches(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about("show", "q", "limit", "format"), Set.of());
        Present present = query.asked(estates).estate();
        Policy policy = policy(present, ctx.pathParam("id"));
        boolean reached = query.one("show")
                .map(s -> switch (s) {
                    case "reached" -> true;
                    case "left-out" -> false;
                    default -> throw Problem.wrongInput("The parameter \"show\" must be reached or left-out.");
                })
                .orElse(true);
        Directory directory = present.ground().directory();
        RoaringBitmap in = reachedNow(present, policy);
        RoaringBitmap out = new RoaringBitmap();
        policy.assignments().stream().filter(Assignment::include).forEach(a -> out.or(directory.holding(a.target())));
        out.and(directory.active());
        out.andNot(in);
        if (query.isCsv()) {
            csv(ctx, query, present, policy, reached ? in : out, reached);
            return;
        }
        ObjectNode answer = Answers.object();
        answer.put("reached", in.getCardinality());
        answer.put("leftOut", out.getCardinality());
        List<String> words = Spelling.words(query.one("q").orElse(""));
        List<Account> fitting = directory.byName(reached ? in : out).stream()
                .filter(a -> {
                    String all = Spelling.plain(a.displayName() + " " + a.userName());
                    return words.stream().allMatch(all::contains);
                })
                .toList();
        answer.put("fitting", fitting.size());
        ArrayNode people = answer.putArray("people");
        Wording wording = new Wording(present.ground().estate(), estates.now());
        for (Account account :
                fitting.subList(0, Math.min(fitting.size(), query.number("limit", PEOPLE_SHOWN, MOST_PEOPLE))))
            people.add(person(present, policy, account, reached, wording));
        Answers.json(ctx, answer);
    }

    /** What a policy's statements come to: for how many of those reached each decides, adds, is outranked, or is blocked. */
    void does(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about(), Set.of());
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Policy policy = policy(present, ctx.pathParam("id"));
        ReachedSets inWorkspace =
                reach(present, policy, asked.question(), asked.question().workspace());
        ReachedSets elsewhere = reach(present, policy, asked.question(), Optional.empty());
        ObjectNode answer =
                Answers.object().put("reached", inWorkspace.everyone().getCardinality());
        ArrayNode does = answer.putArray("does");
        present.moment(asked.question()).solve(solution -> {
            for (Statement statement : policy.statements()) {
                Setting setting = present.ground()
                        .estate()
                        .catalogue()
                        .setting(statement.setting())
                        .orElseThrow();
                ReachedSets reached = setting.openToWorkspaces() ? inWorkspace : elsewhere;
                does.add(new Doing(statement, setting, policy, reached, present, asked.question())
                        .told(solution.column(setting.key())));
            }
            return null;
        });
        Answers.json(ctx, answer);
    }

    /** Whom a policy reaches at the instant asked about; nobody while it is paused. */
    static ReachedSets reach(Present present, Policy policy, Question question, Optional<String> workspace) {
        if (!policy.live()) return ReachedSets.NOBODY;
        List<Assignment> holding = policy.assignments().stream()
                .filter(a -> a.window().holds(question.at()))
                .toList();
        return ReachedSets.of(holding, present.ground().directory(), workspace);
    }

    /** One statement, and what it comes to for those whom its policy reaches. */
    private record Doing(
            Statement statement,
            Setting setting,
            Policy policy,
            ReachedSets reached,
            Present present,
            Question question) {

        ObjectNode told(Column column) {
            Wording wording = new Wording(present.ground().estate(), question.at());
            boolean cap = statement instanceof Statement.Cap;
            int decides = 0;
            int adds = 0;
            Map<String, Integer> beaten = new LinkedHashMap<>();
            Map<String, Integer> blocked = new LinkedHashMap<>();
            for (var onRung : reached.byRung().entrySet())
                for (Share<Outcome> share : column.shares()) {
                    int here = RoaringBitmap.andCardinality(share.accounts(), onRung.getValue());
                    if (here == 0) continue;
                    Outcome outcome = share.what();
                    Optional<String> by = cap ? outcome.cappedBy() : outcome.policy();
                    if (by.equals(Optional.of(policy.id()))) {
                        decides += here;
                        for (Need need : outcome.blockedBy()) blocked.merge(wording.need(need), here, Integer::sum);
                    } else if (!cap && addsTo(outcome, onRung.getKey())) adds += here;
                    else if (!cap) beaten.merge(name(by), here, Integer::sum);
                }
            ObjectNode told = Answers.object()
                    .put("setting", setting.key())
                    .put("cap", cap)
                    .put("decides", decides)
                    .put("adds", adds);
            told.set("outranked", counts(beaten));
            told.set("blocked", counts(blocked));
            return told;
        }

        /** Whether a list that another statement decides gathers this one too (resolution.md, section 4, step 4). */
        private boolean addsTo(Outcome outcome, Rung rung) {
            if (setting.merge() != Merge.GATHER) return false;
            boolean locked = outcome.policy()
                    .flatMap(present.ground().estate()::policy)
                    .filter(p -> p.on(setting.key()).anyMatch(s -> s instanceof Statement.Set set && set.lock()))
                    .isPresent();
            boolean mine = statement instanceof Statement.Set set && set.lock();
            int against = rung.compareTo(outcome.rung());
            return !locked || against < 0 || against == 0 && mine;
        }

        private String name(Optional<String> by) {
            return by.flatMap(present.ground().estate()::policy)
                    .map(Policy::name)
                    .orElse("the built-in value");
        }
    }

    private static ArrayNode counts(Map<String, Integer> counts) {
        ArrayNode told = Answers.object().putArray("counts");
        counts.entrySet().stream()
                .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                .forEach(e -> told.addObject().put("by", e.getKey()).put("accounts", e.getValue()));
        return told;
    }

    private void csv(Context ctx, Query query, Present present, Policy policy, RoaringBitmap who, boolean reached) {
        Wording wording = new Wording(present.ground().estate(), estates.now());
        PeoplePage.answer(
                ctx,
                query,
                present.ground().directory(),
                who,
                new PeoplePage.Extra(
                        reached ? "way in" : "left out because",
                        a -> person(present, policy, a, reached, wording)
                                .get(reached ? "way" : "reason")
                                .asText()));
    }

    private ObjectNode person(Present present, Policy policy, Account account, boolean reached, Wording wording) {
        Position position = new Position(present.ground().directory(), account);
        ObjectNode person = Answers.object().put("account", account.id()).put("displayName", account.displayName());
        person.put(
                "unit", RippleTelling.place(present.ground().directory().tree().path(account.unit())));
        Optional<Way> way = reached
                ? position.reach(
                        policy.assignments(), Optional.empty(), a -> a.window().holds(estates.now()))
                : Optional.empty();
        person.put("way", way.map(w -> told(w, wording)).orElse(null));
        String reason = reached
                ? null
                : Missed.of(policy, position, Optional.empty(), estates.now())
                        .map(m -> wording.missed(m) + ", else by " + told(m.way(), wording))
                        .orElse("not reached");
        person.put("reason", reason);
        return person;
    }

    private static String told(Way way, Wording wording) {
        return way.rung().height() == Height.PERSON
                ? "name"
                : way.via().stream().map(wording::target).collect(Collectors.joining(" › "));
    }

    private static Policy policy(Present present, String id) {
        return present.ground()
                .estate()
                .policy(id)
                .orElseThrow(() -> Problem.unknown("There is no policy \"" + id + "\"."));
    }

    private RoaringBitmap reachedNow(Present present, Policy policy) {
        List<Assignment> holding = policy.live()
                ? policy.assignments().stream()
                        .filter(a -> a.window().holds(estates.now()))
                        .toList()
                : List.of();
        return ReachedSets.of(holding, present.ground().directory(), Optional.empty())
                .everyone();
    }

    /** A target's name; a unit is told with what is above it, for units of one name are many. */
    static String name(Present present, Wording wording, Target target) {
        if (!(target instanceof Target.OfUnit unit)) return wording.target(target);
        var path = present.ground().directory().tree().path(unit.id());
        return path.stream().skip(path.size() > 1 ? 1 : 0).map(u -> u.name()).collect(Collectors.joining(" › "));
    }

    private ObjectNode line(Present present, Policy policy) {
        Instant now = estates.now();
        ObjectNode line = Answers.object();
        line.put("id", policy.id());
        line.put("name", policy.name());
        line.put("description", policy.source().path("description").asText(null));
        line.put("live", policy.live());
        line.put("statements", policy.statements().size());
        line.put("for", forWords(present, policy, now));
        line.put("reaches", reachedNow(present, policy).getCardinality());
        line.put(
                "inWorkspaces",
                policy.live()
                        && policy.assignments().stream()
                                .anyMatch(a -> a.include()
                                        && a.target() instanceof Target.OfWorkspace
                                        && a.window().holds(now)));
        return line;
    }

    /** Whom a policy is for, in words: "Bridge in 9 units and Night watch, except Safety stewards". */
    static String forWords(Present present, Policy policy, Instant now) {
        Wording wording = new Wording(present.ground().estate(), now);
        String included = words(policy, true, wording);
        String excepted = words(policy, false, wording);
        if (included.isEmpty()) return "nobody yet";
        return excepted.isEmpty() ? included : included + ", except " + excepted;
    }

    private static String words(Policy policy, boolean include, Wording wording) {
        Map<String, Long> units = new LinkedHashMap<>();
        java.util.List<String> words = new java.util.ArrayList<>();
        long people = policy.assignments().stream()
                .filter(a -> a.include() == include && a.target() instanceof Target.OfAccount)
                .count();
        for (Assignment a : policy.assignments()) {
            if (a.include() != include) continue;
            if (a.target() instanceof Target.OfUnit) units.merge(wording.target(a.target()), 1L, Long::sum);
            else if (a.target() instanceof Target.Whole) words.add("everyone");
            else if (a.target() instanceof Target.OfWorkspace)
                words.add("whoever works in " + wording.target(a.target()));
            else if (!(a.target() instanceof Target.OfAccount) || people <= NAMED)
                words.add(wording.target(a.target()));
        }
        if (people > NAMED) words.add(people + " accounts by name");
        List<String> all = new java.util.ArrayList<>();
        units.forEach((name, count) -> all.add(count == 1 ? name : name + " in " + count + " units"));
        all.addAll(words);
        if (all.size() < 2) return String.join("", all);
        return all.subList(0, all.size() - 1).stream().collect(Collectors.joining(", ")) + " and "
                + all.get(all.size() - 1);
    }
}
