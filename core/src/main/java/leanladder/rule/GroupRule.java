package leanladder.rule;

import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Which accounts a group holds beside its members: a filter in the grammar of RFC 7644, section 3.4.2.2 (resolution.md, section 3, "Groups
 * by rule").
 *
 * @param text as it was written
 */
public record GroupRule(String text, RuleExpression root) {
    /**
     * Reads a rule. Linear in the text.
     *
     * @throws RuleSyntaxException when it is none, with the place in the text
     */
    public static GroupRule parse(String text) throws RuleSyntaxException {
        return new GroupRule(text, new RuleParser(text).rule());
    }

    /** The comparisons with units. */
    public Stream<RuleExpression.InUnit> units() {
        return of(RuleExpression.InUnit.class);
    }

    /** The comparisons with groups. */
    public Stream<RuleExpression.MemberOf> groups() {
        return of(RuleExpression.MemberOf.class);
    }

    /** The ids of the groups of which it asks whether they hold an account. */
    public Set<String> groupIds() {
        return groups().map(RuleExpression.MemberOf::group).collect(Collectors.toSet());
    }

    private <T extends RuleExpression> Stream<T> of(Class<T> kind) {
        return root.comparisons().filter(kind::isInstance).map(kind::cast);
    }

    /** Two rules are the same when they are written alike. */
    @Override
    public boolean equals(Object other) {
        return other instanceof GroupRule rule && text.equals(rule.text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }
}
