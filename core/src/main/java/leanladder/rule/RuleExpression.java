package leanladder.rule;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** A condition of a rule (resolution.md, section 3, "Groups by rule"). */
public sealed interface RuleExpression {
    /** The comparisons in it. */
    Stream<RuleExpression> comparisons();

    /** Met when all of them are. */
    record And(List<RuleExpression> all) implements RuleExpression {
        @Override
        public Stream<RuleExpression> comparisons() {
            return all.stream().flatMap(RuleExpression::comparisons);
        }
    }

    /** Met when one of them is. */
    record Or(List<RuleExpression> some) implements RuleExpression {
        @Override
        public Stream<RuleExpression> comparisons() {
            return some.stream().flatMap(RuleExpression::comparisons);
        }
    }

    /** Met when the other is not. */
    record Not(RuleExpression other) implements RuleExpression {
        @Override
        public Stream<RuleExpression> comparisons() {
            return other.comparisons();
        }
    }

    /** A comparison with what an account is. */
    sealed interface Comparison extends RuleExpression {
        @Override
        default Stream<RuleExpression> comparisons() {
            return Stream.of(this);
        }
    }

    /**
     * Met when the unit is the account's or above it, or, where it is negated, when it is not.
     *
     * @param position of the unit's id in the rule, in code points
     */
    record InUnit(String unit, boolean negated, int position) implements Comparison {}

    /**
     * Met when the group holds the account, or, where it is negated, when it does not.
     *
     * @param position of the group's id in the rule, in code points
     */
    record MemberOf(String group, boolean negated, int position) implements Comparison {}

    /** Met when the account is active, or when it is not. */
    record IsActive(boolean active) implements Comparison {}

    /** Always met. */
    record Always() implements Comparison {}

    /**
     * Met when one of the texts that the account has there fits.
     *
     * @param operand folded as {@link CaseFolding} does, unless the path is the id; empty for {@link Operator#PR}
     */
    record TextComparison(Path path, Operator operator, String operand) implements Comparison {}

    /**
     * Where the texts of an account are.
     *
     * @param attribute the name of an attribute; empty for what every account has
     */
    record Path(Kind kind, String attribute) {
        /** What stands there. */
        public enum Kind {
            ID,
            USER_NAME,
            DISPLAY_NAME,
            KIND,
            STARTED,
            ATTRIBUTE
        }
    }

    /** How a text is compared. */
    enum Operator {
        EQ,
        NE,
        CO,
        SW,
        EW,
        GT,
        GE,
        LT,
        LE,
        PR;

        /** The operators by their words. */
        static final Map<String, Operator> BY_WORD =
                Stream.of(values()).collect(Collectors.toMap(o -> o.name().toLowerCase(Locale.ROOT), o -> o));
    }
}
