package leanladder.reach;

import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import leanladder.catalogue.AccountKind;
import leanladder.estate.Account;
import leanladder.json.CodePointOrder;
import leanladder.rule.CaseFolding;
import leanladder.rule.RuleExpression;
import leanladder.rule.RuleExpression.Operator;
import leanladder.rule.RuleExpression.Path;
import org.roaringbitmap.RoaringBitmap;

/**
 * Whom a rule fits, for many accounts at once: sets are joined and cut as the rule is written, and a comparison looks only at those whom
 * the others left open. {@link RuleMatch} answers for one account and is written apart.
 */
final class RuleAudience {
    private static final int BLOCK = 1 << 14;

    private final Directory directory;
    private final Function<String, RoaringBitmap> members;

    /** @param members by id of a group whom it holds */
    RuleAudience(Directory directory, Function<String, RoaringBitmap> members) {
        this.directory = directory;
        this.members = members;
    }

    /** Those of some accounts whom the rule fits. A fresh set. Linear in the accounts for each comparison of texts, on all cores. */
    RoaringBitmap among(RuleExpression rule, RoaringBitmap some) {
        if (some.isEmpty()) return new RoaringBitmap();
        if (rule instanceof RuleExpression.And and) {
            RoaringBitmap left = some;
            for (RuleExpression one : cheapFirst(and.all())) left = among(one, left);
            return left;
        }
        if (rule instanceof RuleExpression.Or or) {
            RoaringBitmap open = some.clone();
            for (RuleExpression one : cheapFirst(or.some())) open.andNot(among(one, open));
            return RoaringBitmap.andNot(some, open);
        }
        if (rule instanceof RuleExpression.Not not) return RoaringBitmap.andNot(some, among(not.other(), some));
        if (rule instanceof RuleExpression.InUnit in) return cut(some, directory.inOrBelow(in.unit()), in.negated());
        if (rule instanceof RuleExpression.MemberOf of) return cut(some, members.apply(of.group()), of.negated());
        if (rule instanceof RuleExpression.IsActive is) return cut(some, directory.active(), !is.active());
        return rule instanceof RuleExpression.TextComparison text ? among(text, some) : some.clone();
    }

    private static RoaringBitmap cut(RoaringBitmap some, RoaringBitmap by, boolean negated) {
        return negated ? RoaringBitmap.andNot(some, by) : RoaringBitmap.and(some, by);
    }

    private static Collection<RuleExpression> cheapFirst(Collection<RuleExpression> all) {
        Predicate<RuleExpression> reads =
                one -> one.comparisons().anyMatch(RuleExpression.TextComparison.class::isInstance);
        return all.stream()
                .sorted((a, b) -> Boolean.compare(reads.test(a), reads.test(b)))
                .toList();
    }

    private RoaringBitmap among(RuleExpression.TextComparison comparison, RoaringBitmap some) {
        if (comparison.path().kind() == Path.Kind.KIND) {
            RoaringBitmap kinds = new RoaringBitmap();
            for (AccountKind kind : AccountKind.values())
                if (test(comparison).test(CaseFolding.fold(kind.word()))) kinds.or(directory.ofKind(kind));
            return cut(some, kinds, comparison.operator() == Operator.NE);
        }
        if (some.getCardinality() <= BLOCK) return scan(comparison, some);
        int[] all = some.toArray();
        return IntStream.range(0, (all.length + BLOCK - 1) / BLOCK)
                .parallel()
                .mapToObj(block -> {
                    int from = block * BLOCK;
                    RoaringBitmap part = new RoaringBitmap();
                    part.addN(all, from, Math.min(BLOCK, all.length - from));
                    return scan(comparison, part);
                })
                .reduce(new RoaringBitmap(), (a, b) -> RoaringBitmap.or(a, b));
    }

    /** One account after the other; of an attribute, which many share, every text is compared once. */
    private RoaringBitmap scan(RuleExpression.TextComparison comparison, RoaringBitmap some) {
        Path path = comparison.path();
        Predicate<String> test = test(comparison);
        Map<String, Boolean> met = new HashMap<>();
        Predicate<String> fits = path.kind() == Path.Kind.ATTRIBUTE || path.kind() == Path.Kind.STARTED
                ? text -> met.computeIfAbsent(text, t -> test.test(CaseFolding.fold(t)))
                : path.kind() == Path.Kind.ID ? test : text -> test.test(CaseFolding.fold(text));
        boolean negated = comparison.operator() == Operator.NE;
        RoaringBitmap found = new RoaringBitmap();
        some.forEach((int n) -> {
            if (has(directory.account(n), path, fits) != negated) found.add(n);
        });
        return found;
    }

    /** Whether one of the texts that an account has at a path fits. */
    private static boolean has(Account account, Path path, Predicate<String> fits) {
        return switch (path.kind()) {
            case ID -> fits.test(account.id());
            case USER_NAME -> fits.test(account.userName());
            case DISPLAY_NAME -> fits.test(account.displayName());
            case KIND -> fits.test(account.kind().word());
            case STARTED ->
                account.started().filter(day -> fits.test(day.toString())).isPresent();
            case ATTRIBUTE -> {
                List<String> texts = account.attributes().get(path.attribute());
                yield texts != null && texts.stream().anyMatch(fits);
            }
        };
    }

    /** What a comparison asks of a folded text; of {@code ne} the opposite, for it is met where no text is equal. */
    private static Predicate<String> test(RuleExpression.TextComparison comparison) {
        String operand = comparison.operand();
        return switch (comparison.operator()) {
            case PR -> text -> !text.isEmpty();
            case EQ, NE -> operand::equals;
            case CO -> text -> text.contains(operand);
            case SW -> text -> text.startsWith(operand);
            case EW -> text -> text.endsWith(operand);
            case GT -> text -> CodePointOrder.TEXTS.compare(text, operand) > 0;
            case GE -> text -> CodePointOrder.TEXTS.compare(text, operand) >= 0;
            case LT -> text -> CodePointOrder.TEXTS.compare(text, operand) < 0;
            case LE -> text -> CodePointOrder.TEXTS.compare(text, operand) <= 0;
        };
    }
}
