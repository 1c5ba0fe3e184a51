package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Value;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.json.Json;
import org.jspecify.annotations.Nullable;
import org.pcollections.OrderedPMap;

/**
 * A policy during edits. Immutable: an edit creates another object that shares what is unchanged, so that a hundred thousand assignments added one by
 * one cost time in proportion.
 */
public final class PolicyDelta {
    private static final String STATEMENTS = "statements";
    private static final String ASSIGNMENTS = "assignments";

    /** What tells statements of one policy apart. */
    private record StatementKey(String setting, boolean cap) {
        static StatementKey of(Statement statement) {
            return new StatementKey(statement.setting(), statement instanceof Statement.Cap);
        }
    }

    /** What tells assignments of one policy apart; a file may repeat one. */
    private record AssignmentKey(Assignment assignment, int copy) {}

    private record PolicyJson<T>(T read, ObjectNode json) {}

    private final ObjectNode rest;
    private final OrderedPMap<StatementKey, PolicyJson<Statement>> statements;
    private final OrderedPMap<AssignmentKey, PolicyJson<Assignment>> assignments;
    private @Nullable Policy compiled;

    private PolicyDelta(
            ObjectNode rest,
            OrderedPMap<StatementKey, PolicyJson<Statement>> statements,
            OrderedPMap<AssignmentKey, PolicyJson<Assignment>> assignments) {
        this.rest = rest;
        this.statements = statements;
        this.assignments = assignments;
    }

    /** Its statements on a setting, each as it is written. */
    Map<Statement, ObjectNode> statementsOn(String setting) {
        Map<Statement, ObjectNode> found = new LinkedHashMap<>();
        for (boolean cap : new boolean[] {false, true}) {
            PolicyJson<Statement> statement = statements.get(new StatementKey(setting, cap));
            if (statement != null) found.put(statement.read, statement.json);
        }
        return found;
    }

    /** Opens a policy as it was read; linear in what it says and names. */
    public static PolicyDelta from(Policy policy) {
        OrderedPMap<StatementKey, PolicyJson<Statement>> statements = OrderedPMap.empty();
        JsonNode said = policy.source().path(STATEMENTS);
        for (int i = 0; i < policy.statements().size(); i++) {
            Statement statement = policy.statements().get(i);
            statements =
                    statements.plus(StatementKey.of(statement), new PolicyJson<>(statement, (ObjectNode) said.get(i)));
        }
        OrderedPMap<AssignmentKey, PolicyJson<Assignment>> assignments = OrderedPMap.empty();
        JsonNode aimed = policy.source().path(ASSIGNMENTS);
        for (int i = 0; i < policy.assignments().size(); i++) {
            Assignment assignment = policy.assignments().get(i);
            int copy = 0;
            while (has(assignments, new AssignmentKey(assignment, copy))) copy++;
            assignments = assignments.plus(
                    new AssignmentKey(assignment, copy), new PolicyJson<>(assignment, (ObjectNode) aimed.get(i)));
        }
        ObjectNode rest = Json.NODES.objectNode();
        policy.source().properties().forEach(m -> {
            boolean list = m.getKey().equals(STATEMENTS) || m.getKey().equals(ASSIGNMENTS);
            rest.set(m.getKey(), list ? Json.NODES.arrayNode() : m.getValue());
        });
        return new PolicyDelta(rest, statements, assignments);
    }

    /** An ordered map looks for a value quickly, and for a key through all of itself. */
    private static boolean has(OrderedPMap<AssignmentKey, ?> assignments, AssignmentKey assignmentKey) {
        return assignments.get(assignmentKey) != null;
    }

    /** With members set beside statements and assignments; null takes a member away. */
    public PolicyDelta changed(ObjectNode members) {
        return new PolicyDelta(Overlay.amended(rest, members), statements, assignments);
    }

    /** With a statement in place of what it said on the setting in the same way. */
    public PolicyDelta with(Statement statement, ObjectNode json) {
        return new PolicyDelta(
                rest, statements.plus(StatementKey.of(statement), new PolicyJson<>(statement, json)), assignments);
    }

    /** Silent on a setting, for one way of speaking. */
    public PolicyDelta without(String setting, boolean cap) {
        return new PolicyDelta(rest, statements.minus(new StatementKey(setting, cap)), assignments);
    }

    /** With an assignment; one that is there already is written anew. */
    public PolicyDelta with(Assignment assignment, ObjectNode json) {
        OrderedPMap<AssignmentKey, PolicyJson<Assignment>> more =
                assignments.plus(new AssignmentKey(assignment, 0), new PolicyJson<>(assignment, json));
        return new PolicyDelta(rest, statements, more);
    }

    /** Without an assignment. */
    public PolicyDelta without(Assignment assignment) {
        OrderedPMap<AssignmentKey, PolicyJson<Assignment>> fewer = assignments;
        for (int copy = 0; has(fewer, new AssignmentKey(assignment, copy)); copy++)
            fewer = fewer.minus(new AssignmentKey(assignment, copy));
        return new PolicyDelta(rest, statements, fewer);
    }

    /** What it says on a setting in one way, as the estate file writes it. */
    public Optional<ObjectNode> statement(String setting, boolean cap) {
        return Optional.ofNullable(statements.get(new StatementKey(setting, cap)))
                .map(PolicyJson::json);
    }

    /** An assignment as the estate file writes it. */
    public Optional<ObjectNode> assignment(Assignment assignment) {
        return Optional.ofNullable(assignments.get(new AssignmentKey(assignment, 0)))
                .map(PolicyJson::json);
    }

    /** The assignments, each once. */
    public Set<Assignment> assignments() {
        return assignments.keySet().stream()
                .map(AssignmentKey::assignment)
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }

    /** The settings on which it speaks; one that it sets and caps comes twice. */
    public List<String> settings() {
        return statements.keySet().stream().map(StatementKey::setting).toList();
    }

    /** Whether some assignment names the target, as its own or as its place, or a value of people does. */
    boolean names(Target target) {
        return assignments.keySet().stream().anyMatch(a -> a.assignment().names(target))
                || statements.values().stream().anyMatch(s -> isAmongPeople(s.read.value(), target.text()));
    }

    /** Whether a value lists a target; a list of plain texts can hold the same. */
    static boolean isAmongPeople(Value value, String target) {
        return value instanceof Value.ListValue list && list.items().contains(target);
    }

    /** Whether it sets a choice to this option. */
    boolean setsTo(String setting, String option) {
        return statement(setting, false)
                .filter(s -> s.path("set").asText().equals(option))
                .isPresent();
    }

    /** What it is called. */
    public String name() {
        return rest.path("name").asText();
    }

    /** The members beside statements and assignments, whose lists are empty here. Not to be changed. */
    public ObjectNode rest() {
        return rest;
    }

    /** The policy as the estate file writes it; shares what it holds. Linear in what it says and names. */
    public ObjectNode body() {
        return compiled().source();
    }

    /** The policy as the model has it; put together when first asked for. */
    public synchronized Policy compiled() {
        if (compiled == null) {
            ObjectNode body = Json.NODES.objectNode();
            body.setAll(rest);
            List<Statement> says = new ArrayList<>(statements.size());
            List<Assignment> aims = new ArrayList<>(assignments.size());
            if (!statements.isEmpty() || body.has(STATEMENTS)) {
                var list = Json.NODES.arrayNode(statements.size());
                statements.values().forEach(w -> {
                    says.add(w.read);
                    list.add(w.json);
                });
                body.set(STATEMENTS, list);
            }
            if (!assignments.isEmpty() || body.has(ASSIGNMENTS)) {
                var list = Json.NODES.arrayNode(assignments.size());
                assignments.values().forEach(w -> {
                    aims.add(w.read);
                    list.add(w.json);
                });
                body.set(ASSIGNMENTS, list);
            }
            boolean live = !rest.path("state").asText("live").equals("paused");
            compiled = new Policy(rest.path("id").asText(), name(), live, says, aims, body);
        }
        return compiled;
    }
}
