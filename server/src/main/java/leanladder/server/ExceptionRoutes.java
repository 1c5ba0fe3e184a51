package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.read.Section;
import leanladder.reach.Directory;
import leanladder.resolve.Question;
import leanladder.store.Change;
import leanladder.store.Store;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/**
 * Every exception of every policy in one list: whom a policy leaves out, and the single accounts that it names, each with its age and
 * who made it so.
 */
record ExceptionRoutes(Estates estates) {

    /** One exception. {@code made} is the change since which the policy holds it without a break; empty where a draft adds it. */
    private record Made(
            Policy policy, Assignment assignment, String whom, int accounts, String state, Optional<Change> made) {

        String kind() {
            return assignment.include() ? "named" : "left-out";
        }

        ObjectNode told() {
            ObjectNode told = Answers.object()
                    .put("policy", policy.id())
                    .put("policyName", policy.name())
                    .put("kind", kind())
                    .put("target", assignment.target().text())
                    .put("whom", whom)
                    .put("accounts", accounts)
                    .put("state", state);
            assignment.window().until().ifPresent(u -> told.put("until", u.toString()));
            assignment.window().from().ifPresent(f -> told.put("from", f.toString()));
            made.ifPresent(change -> told.putObject("made")
                    .put("change", change.number())
                    .put("at", change.at().toString())
                    .put("author", change.author()));
            return told;
        }

        String[] cells() {
            return new String[] {
                assignment.include() ? "named" : "left out",
                whom,
                policy.name(),
                String.valueOf(accounts),
                state,
                assignment.window().from().map(Instant::toString).orElse(""),
                assignment.window().until().map(Instant::toString).orElse(""),
                made.map(c -> c.at().toString()).orElse(""),
                made.map(Change::author).orElse("")
            };
        }
    }

    /** The oldest first; those that a draft adds come last. */
    void list(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about("format"), Set.of());
        Query.Asked asked = query.asked(estates);
        List<Made> all = all(asked.estate(), asked.question());
        if (query.isCsv()) {
            Csv csv = new Csv(
                    ctx,
                    "exceptions.csv",
                    "kind",
                    "whom",
                    "policy",
                    "accounts",
                    "state",
                    "from",
                    "until",
                    "since",
                    "by");
            all.forEach(e -> csv.line(e.cells()));
            csv.end();
            return;
        }
        ObjectNode answer = Answers.object();
        ArrayNode told = answer.putArray("exceptions");
        all.forEach(e -> told.add(e.told()));
        Answers.json(ctx, answer);
    }

    private static boolean isException(Assignment a) {
        return !a.include() || a.target() instanceof Target.OfAccount;
    }

    private List<Made> all(Present present, Question question) {
        Instant at = question.at();
        List<Policy> policies = present.ground().estate().policies().stream()
                .filter(p -> p.assignments().stream().anyMatch(ExceptionRoutes::isException))
                .toList();
        Map<String, List<Store.Version>> versions = estates.store()
                .versions(
                        Section.POLICIES.member(),
                        policies.stream().map(Policy::id).toList(),
                        present.change());
        Map<Long, Optional<Change>> changes = new HashMap<>();
        Wording wording = new Wording(present.ground().estate(), at);
        Directory directory = present.ground().directory();
        List<Made> all = new ArrayList<>();
        for (Policy policy : policies) {
            RoaringBitmap reached = PolicyRoutes.reach(present, policy, question, Optional.empty())
                    .everyone();
            RoaringBitmap kept = RoaringBitmap.andNot(named(policy, directory, at), reached);
            for (Assignment a : policy.assignments()) {
                if (!isException(a)) continue;
                Optional<Change> made = since(a, versions.getOrDefault(policy.id(), List.of()))
                        .flatMap(n -> changes.computeIfAbsent(n, estates.store()::change));
                all.add(new Made(
                        policy,
                        a,
                        PolicyRoutes.name(present, wording, a.target()),
                        RoaringBitmap.andCardinality(directory.holding(a.target()), a.include() ? reached : kept),
                        state(policy, a, at),
                        made));
            }
        }
        all.sort(Comparator.comparingLong(e -> e.made().map(Change::number).orElse(Long.MAX_VALUE)));
        return all;
    }

    /** The change since which every version of the policy has such an assignment; its window may have been altered. */
    private static Optional<Long> since(Assignment a, List<Store.Version> newestFirst) {
        Optional<Long> since = Optional.empty();
        for (Store.Version version : newestFirst) {
            if (!holds(version.body(), a)) break;
            since = Optional.of(version.since());
        }
        return since;
    }

    private static boolean holds(JsonNode policy, Assignment a) {
        for (JsonNode one : policy.path("assignments"))
            if (one.path(a.include() ? "include" : "except")
                    .asText()
                    .equals(a.target().text())) return true;
        return false;
    }

    private static String state(Policy policy, Assignment a, Instant at) {
        if (a.window().isOver(at)) return "over";
        if (!policy.live()) return "paused";
        return a.window().isEarly(at) ? "early" : "holds";
    }

    /** Everyone that a policy's includes name at an instant, whatever its exceptions say. */
    private static RoaringBitmap named(Policy policy, Directory directory, Instant at) {
        RoaringBitmap named = new RoaringBitmap();
        for (Assignment a : policy.assignments())
            if (a.include() && a.window().holds(at)) named.or(directory.holding(a.target()));
        named.and(directory.active());
        return named;
    }
}
