package leanladder.text;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.edit.policy.AddPolicy;
import leanladder.edit.policy.ChangePolicy;
import leanladder.edit.policy.ClearAssignments;
import leanladder.edit.policy.MovePolicy;
import leanladder.edit.policy.PolicyEdit;
import leanladder.edit.policy.PutAssignment;
import leanladder.edit.policy.PutStatement;
import leanladder.edit.policy.RemoveAssignment;
import leanladder.edit.policy.RemovePolicy;
import leanladder.edit.policy.RemoveStatement;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Describes edits of policies. */
final class PolicyEditFormatter {
    /** So many statements, and so many targets, are told one by one. */
    private static final int TOLD = 2;

    private final EstateFormatter estateFormatter;

    PolicyEditFormatter(EstateFormatter estateFormatter) {
        this.estateFormatter = estateFormatter;
    }

    String format(PolicyEdit edit, Overlay before) {
        if (edit instanceof AddPolicy add) {
            Policy added = before.reader().policy(cursor(add.policy())).orElseThrow();
            return added.name() + " is new" + content(added, before);
        }
        String policy = before.policyName(edit.policyId());
        if (edit instanceof RemovePolicy) return policy + " is deleted";
        if (edit instanceof ClearAssignments) return policy + " applies to nobody any more";
        if (edit instanceof ChangePolicy change) return policy + " " + members(change);
        if (edit instanceof MovePolicy move)
            return policy
                    + Optional.ofNullable(move.above())
                            .map(other -> " moves above " + before.policyName(other))
                            .orElse(" moves to the end of the ranking");
        if (edit instanceof PutAssignment put)
            return policy + " "
                    + assignment(
                            before.reader()
                                    .assignment(cursor(put.assignment()), true)
                                    .orElseThrow(),
                            before);
        if (edit instanceof RemoveAssignment remove)
            return policy + " no longer "
                    + assignment(
                            before.reader()
                                    .assignment(cursor(remove.assignment()), true)
                                    .orElseThrow(),
                            before);
        if (edit instanceof PutStatement put)
            return policy + " "
                    + statement(
                            before.reader().statement(cursor(put.statement())).orElseThrow(), before);
        RemoveStatement remove = (RemoveStatement) edit;
        String title = before.setting(remove.setting()).map(Setting::title).orElse(remove.setting());
        return policy + " no longer " + (remove.isCap() ? "caps " : "sets ") + title;
    }

    /** What an edit holds that was found to fit. */
    private static JsonCursor cursor(ObjectNode node) {
        return new JsonCursor(node, "", new Defects());
    }

    /** What a new policy says and for whom: in full where that is little, else in numbers. */
    private String content(Policy policy, Overlay before) {
        List<Statement> statements = policy.statements();
        String said = statements.isEmpty()
                ? ", with no statement"
                : statements.size() > TOLD
                        ? ", with " + statements.size() + " statements"
                        : ": "
                                + statements.stream()
                                        .map(s -> statement(s, before))
                                        .collect(Collectors.joining(" and "));
        String excepted = targets(policy, false, before);
        return said + " for " + targets(policy, true, before) + (excepted.isEmpty() ? "" : ", except " + excepted);
    }

    private String targets(Policy policy, boolean include, Overlay before) {
        List<String> names = policy.assignments().stream()
                .filter(a -> a.include() == include)
                .map(a -> whom(a, before) + estateFormatter.window(a.window()))
                .toList();
        if (names.isEmpty()) return include ? "nobody yet" : "";
        if (names.size() > TOLD) return names.size() + (include ? " units, groups or people" : " of them");
        return String.join(" and ", names);
    }

    private static String members(ChangePolicy change) {
        List<String> told = new ArrayList<>();
        for (var member : change.members().properties()) {
            JsonNode value = member.getValue();
            told.add(
                    switch (member.getKey()) {
                        case "name" -> "is called " + value.asText();
                        case "state" -> value.asText().equals("paused") ? "is paused" : "is live again";
                        case "description" -> value.isNull() ? "loses its description" : "is described anew";
                        default -> "has another " + member.getKey();
                    });
        }
        return String.join(" and ", told);
    }

    private String statement(Statement statement, Overlay before) {
        Setting setting = before.setting(statement.setting()).orElseThrow();
        String value = estateFormatter.value(setting, statement.value());
        if (statement instanceof Statement.Cap) return "caps " + setting.title() + " at " + value;
        boolean lock = ((Statement.Set) statement).lock();
        return (lock ? "locks " : "sets ") + setting.title() + " to " + value;
    }

    private String assignment(Assignment assignment, Overlay before) {
        return (assignment.include() ? "includes " : "excepts ")
                + whom(assignment, before)
                + estateFormatter.window(assignment.window());
    }

    /** "Night watch", "Night watch in Bridge handbook". */
    private static String whom(Assignment assignment, Overlay before) {
        return before.name(assignment.target())
                + assignment.in().map(place -> " in " + before.name(place)).orElse("");
    }

    PluralText count(Class<?> type) {
        if (type == PutStatement.class) return new PluralText("one statement is made", "# statements are made");
        if (type == RemoveStatement.class)
            return new PluralText("one statement is removed", "# statements are removed");
        if (type == PutAssignment.class) return new PluralText("one assignment is added", "# assignments are added");
        if (type == RemoveAssignment.class)
            return new PluralText("one assignment is removed", "# assignments are removed");
        return new PluralText("one further edit of policies", "# further edits of policies");
    }
}
