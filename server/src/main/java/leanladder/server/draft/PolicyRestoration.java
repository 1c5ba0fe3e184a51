package leanladder.server.draft;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.json.Json;
import leanladder.server.http.ProblemException;

/** The edits that bring one policy back to what it was at an instant, its place in the ranking included. */
final class PolicyRestoration {
    private static final Set<String> PARTS = Set.of("id", "statements", "assignments");

    private final String id;
    private final Estate is;
    private final Estate was;
    private final List<JsonNode> edits = new ArrayList<>();

    private PolicyRestoration(String id, Estate is, Estate was) {
        this.id = id;
        this.is = is;
        this.was = was;
    }

    /** The edits, for the estate as it is; a problem where the policy did not exist then, or has not changed. */
    static List<JsonNode> edits(String id, Estate is, Estate was) {
        PolicyRestoration restoration = new PolicyRestoration(id, is, was);
        Policy old = was.policy(id)
                .orElseThrow(() -> ProblemException.refused(
                        422, "Cannot be restored", "The policy did not exist at that time; choose a later day."));
        Optional<Policy> now = is.policy(id);
        if (now.isPresent()) restoration.changes(now.get().source(), old.source());
        else restoration.adds(old.source());
        if (restoration.edits.isEmpty())
            throw ProblemException.refused(
                    422, "Nothing to restore", "“" + old.name() + "” is as it was then; nothing has to be restored.");
        return restoration.edits;
    }

    private void adds(ObjectNode old) {
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-policy");
        edit.set("policy", old);
        below().ifPresent(other -> edit.put("above", other));
        edits.add(edit);
    }

    private void changes(ObjectNode now, ObjectNode old) {
        ObjectNode members = Json.NODES.objectNode();
        Set<String> names = new TreeSet<>();
        now.fieldNames().forEachRemaining(names::add);
        old.fieldNames().forEachRemaining(names::add);
        names.removeAll(PARTS);
        for (String name : names)
            if (!old.path(name).equals(now.path(name)))
                members.set(name, old.has(name) ? old.get(name) : Json.NODES.nullNode());
        if (!members.isEmpty()) edit("amend-policy").set("members", members);
        Set<JsonNode> statements = items(now, "statements");
        Set<JsonNode> oldStatements = items(old, "statements");
        for (JsonNode statement : statements)
            if (oldStatements.stream().noneMatch(o -> sameSubject(o, statement)))
                edit("remove-statement")
                        .put("setting", statement.path("setting").asText())
                        .put("says", statement.has("cap") ? "cap" : "set");
        for (JsonNode statement : oldStatements)
            if (!statements.contains(statement)) edit("put-statement").set("statement", statement);
        Set<JsonNode> assignments = items(now, "assignments");
        Set<JsonNode> oldAssignments = items(old, "assignments");
        for (JsonNode assignment : assignments)
            if (!oldAssignments.contains(assignment)) edit("remove-assignment").set("assignment", assignment);
        for (JsonNode assignment : oldAssignments)
            if (!assignments.contains(assignment)) edit("put-assignment").set("assignment", assignment);
        Optional<String> neighbour = below();
        if (!neighbour.equals(belowIn(is, other -> was.policy(other).isPresent())))
            edit("rank-policy").put("above", neighbour.orElse(null));
    }

    private ObjectNode edit(String kind) {
        ObjectNode edit = Json.NODES.objectNode().put("kind", kind).put("policy", id);
        edits.add(edit);
        return edit;
    }

    private static Set<JsonNode> items(ObjectNode policy, String list) {
        Set<JsonNode> items = new LinkedHashSet<>();
        policy.path(list).forEach(items::add);
        return items;
    }

    private static boolean sameSubject(JsonNode one, JsonNode other) {
        return one.path("setting").equals(other.path("setting")) && one.has("cap") == other.has("cap");
    }

    /** The policy directly below it then, of those that still exist. */
    private Optional<String> below() {
        return belowIn(was, other -> is.policy(other).isPresent());
    }

    private Optional<String> belowIn(Estate estate, java.util.function.Predicate<String> exists) {
        List<String> ranking = estate.policies().stream().map(Policy::id).toList();
        int at = ranking.indexOf(id);
        return ranking.subList(at + 1, ranking.size()).stream().filter(exists).findFirst();
    }
}
