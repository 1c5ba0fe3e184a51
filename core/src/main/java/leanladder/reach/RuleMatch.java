package leanladder.reach;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import leanladder.estate.Account;
import leanladder.estate.Group;
import leanladder.json.CodePointOrder;
import leanladder.rule.CaseFolding;
import leanladder.rule.GroupRule;
import leanladder.rule.RuleExpression;

/**
 * Which groups hold one account, by members or by rule: each rule read against the account, as resolution.md, section 3, is written. {@link
 * RuleAudience} finds all accounts of a rule at once and is written apart. Not safe for use by several threads.
 */
final class RuleMatch {
    private final Directory directory;
    private final Account account;
    private final Set<String> units;
    private final Map<String, Boolean> known = new HashMap<>();

    /** @param units ids of the account's unit and of those above it */
    RuleMatch(Directory directory, Account account, Set<String> units) {
        this.directory = directory;
        this.account = account;
        this.units = units;
    }

    /** Whether the rule of a group fits the account; not where it has none. */
    boolean fits(Group group) {
        return group.rule().map(GroupRule::root).filter(this::isMet).isPresent();
    }

    /** Whether a group holds the account, by members or by rule, by whatever nesting. */
    private boolean isIn(String group) {
        Boolean found = known.get(group);
        if (found == null) {
            found = directory.isListedIn(group, account.id())
                    || fits(directory.group(group))
                    || directory.group(group).members().groups().stream().anyMatch(this::isIn);
            known.put(group, found);
        }
        return found;
    }

    private boolean isMet(RuleExpression expression) {
        if (expression instanceof RuleExpression.And and)
            return and.all().stream().allMatch(this::isMet);
        if (expression instanceof RuleExpression.Or or)
            return or.some().stream().anyMatch(this::isMet);
        if (expression instanceof RuleExpression.Not not) return !isMet(not.other());
        if (expression instanceof RuleExpression.InUnit in) return units.contains(in.unit()) != in.negated();
        if (expression instanceof RuleExpression.MemberOf of) return isIn(of.group()) != of.negated();
        if (expression instanceof RuleExpression.IsActive is) return account.active() == is.active();
        return !(expression instanceof RuleExpression.TextComparison text) || isMet(text);
    }

    private boolean isMet(RuleExpression.TextComparison comparison) {
        List<String> texts = texts(comparison.path());
        if (comparison.operator() == RuleExpression.Operator.NE)
            return texts.stream().noneMatch(t -> folded(comparison, t).equals(comparison.operand()));
        return texts.stream().anyMatch(t -> isMet(comparison, folded(comparison, t)));
    }

    private static String folded(RuleExpression.TextComparison comparison, String text) {
        return comparison.path().kind() == RuleExpression.Path.Kind.ID ? text : CaseFolding.fold(text);
    }

    private static boolean isMet(RuleExpression.TextComparison comparison, String text) {
        String operand = comparison.operand();
        return switch (comparison.operator()) {
            case PR -> !text.isEmpty();
            case EQ -> text.equals(operand);
            case NE -> !text.equals(operand);
            case CO -> text.contains(operand);
            case SW -> text.startsWith(operand);
            case EW -> text.endsWith(operand);
            case GT -> CodePointOrder.TEXTS.compare(text, operand) > 0;
            case GE -> CodePointOrder.TEXTS.compare(text, operand) >= 0;
            case LT -> CodePointOrder.TEXTS.compare(text, operand) < 0;
            case LE -> CodePointOrder.TEXTS.compare(text, operand) <= 0;
        };
    }

    private List<String> texts(RuleExpression.Path path) {
        return switch (path.kind()) {
            case ID -> List.of(account.id());
            case USER_NAME -> List.of(account.userName());
            case DISPLAY_NAME -> List.of(account.displayName());
            case KIND -> List.of(account.kind().word());
            case STARTED ->
                account.started().map(day -> List.of(day.toString())).orElse(List.of());
            case ATTRIBUTE -> Objects.requireNonNullElse(account.attributes().get(path.attribute()), List.of());
        };
    }
}
