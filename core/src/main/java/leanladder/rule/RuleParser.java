package leanladder.rule;

import com.fasterxml.jackson.core.JsonProcessingException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import leanladder.json.Json;
import leanladder.rule.RuleExpression.Operator;
import leanladder.rule.RuleExpression.Path;

/** Reads a rule by recursive descent: {@code or} binds least, then {@code and}, then {@code not (…)}. */
final class RuleParser {
    private static final int LENGTH = 2_000;
    private static final int OPEN = 50;
    private static final String ATTRIBUTES = "attributes.";
    private static final Pattern NAME = Pattern.compile("[A-Za-z][A-Za-z0-9_-]*");

    private static final Map<String, Path.Kind> PATHS = Map.of(
            "id", Path.Kind.ID,
            "username", Path.Kind.USER_NAME,
            "displayname", Path.Kind.DISPLAY_NAME,
            "kind", Path.Kind.KIND,
            "started", Path.Kind.STARTED);

    private final String text;
    private int at;
    private int open;

    RuleParser(String text) {
        this.text = text;
    }

    RuleExpression rule() throws RuleSyntaxException {
        if (text.codePointCount(0, text.length()) > LENGTH)
            throw problem(text.offsetByCodePoints(0, LENGTH), "a rule has at most 2,000 characters");
        RuleExpression rule = or();
        if (at < text.length())
            throw problem(
                    at, text.charAt(at) == ')' ? "this parenthesis was not opened" : "expected and, or, or the end");
        return rule;
    }

    private RuleExpression or() throws RuleSyntaxException {
        List<RuleExpression> some = new ArrayList<>(List.of(and()));
        while (skipWord("or")) some.add(and());
        return some.size() == 1 ? some.get(0) : new RuleExpression.Or(List.copyOf(some));
    }

    private RuleExpression and() throws RuleSyntaxException {
        List<RuleExpression> all = new ArrayList<>(List.of(single()));
        while (skipWord("and")) all.add(single());
        return all.size() == 1 ? all.get(0) : new RuleExpression.And(List.copyOf(all));
    }

    private RuleExpression single() throws RuleSyntaxException {
        skipSpace();
        if (isNext('(')) return inParentheses();
        int start = at;
        String word = word();
        if (word.equalsIgnoreCase("not")) {
            skipSpace();
            if (!isNext('(')) throw problem(at, "expected a parenthesis after not");
            return new RuleExpression.Not(inParentheses());
        }
        return comparison(start, word);
    }

    private RuleExpression inParentheses() throws RuleSyntaxException {
        int start = at;
        if (++open > OPEN) throw problem(start, "more than " + OPEN + " parentheses are open at once");
        at++;
        RuleExpression inner = or();
        if (!isNext(')'))
            throw at < text.length()
                    ? problem(at, "expected and, or, or a closing parenthesis")
                    : problem(start, "this parenthesis is not closed");
        at++;
        open--;
        skipSpace();
        return inner;
    }

    private RuleExpression comparison(int start, String path) throws RuleSyntaxException {
        if (path.isEmpty())
            throw problem(start, start < text.length() ? "expected the name of a path" : "expected a comparison");
        String name = path.toLowerCase(Locale.ROOT);
        boolean isActive = name.equals("active");
        boolean isReference = name.equals("unit") || name.equals("memberof");
        Optional<Path> texts = textPath(path, name);
        if (!isActive && !isReference && texts.isEmpty())
            throw problem(
                    start,
                    "\"" + path + "\" is no path; there are id, userName, displayName, kind, active, started, unit,"
                            + " memberOf and attributes.NAME");
        skipSpace();
        int operatorAt = at;
        String word = word();
        Operator operator = Operator.BY_WORD.get(word.toLowerCase(Locale.ROOT));
        if (operator == null) throw problem(operatorAt, "expected one of eq, ne, co, sw, ew, pr, gt, ge, lt and le");
        if (isActive) return active(operator, operatorAt);
        if (isReference) return reference(name, operator, operatorAt);
        if (operator == Operator.PR) {
            skipSpace();
            return new RuleExpression.TextComparison(texts.get(), operator, "");
        }
        String operand = operand();
        boolean exact = texts.get().kind() == Path.Kind.ID;
        return new RuleExpression.TextComparison(texts.get(), operator, exact ? operand : CaseFolding.fold(operand));
    }

    private static Optional<Path> textPath(String path, String name) {
        if (name.startsWith(ATTRIBUTES)) {
            String attribute = path.substring(ATTRIBUTES.length());
            return NAME.matcher(attribute).matches()
                    ? Optional.of(new Path(Path.Kind.ATTRIBUTE, attribute))
                    : Optional.empty();
        }
        return Optional.ofNullable(PATHS.get(name)).map(kind -> new Path(kind, ""));
    }

    private RuleExpression active(Operator operator, int operatorAt) throws RuleSyntaxException {
        if (operator == Operator.PR) {
            skipSpace();
            return new RuleExpression.Always();
        }
        if (operator != Operator.EQ && operator != Operator.NE)
            throw problem(operatorAt, "active can only be compared with eq, ne and pr");
        requireSpace();
        int start = at;
        String word = word().toLowerCase(Locale.ROOT);
        if (!word.equals("true") && !word.equals("false")) throw problem(start, "expected true or false");
        skipSpace();
        return new RuleExpression.IsActive(word.equals("true") == (operator == Operator.EQ));
    }

    private RuleExpression reference(String name, Operator operator, int operatorAt) throws RuleSyntaxException {
        if (operator != Operator.EQ && operator != Operator.NE)
            throw problem(
                    operatorAt, (name.equals("unit") ? "unit" : "memberOf") + " can only be compared with eq and ne");
        boolean negated = operator == Operator.NE;
        requireSpace();
        int position = text.codePointCount(0, at);
        String id = quoted();
        return name.equals("unit")
                ? new RuleExpression.InUnit(id, negated, position)
                : new RuleExpression.MemberOf(id, negated, position);
    }

    private String operand() throws RuleSyntaxException {
        requireSpace();
        return quoted();
    }

    /** The JSON string at the place. */
    private String quoted() throws RuleSyntaxException {
        int start = at;
        if (!isNext('"')) throw problem(start, "expected a text in double quotes");
        int end = start + 1;
        while (end < text.length() && text.charAt(end) != '"') end += text.charAt(end) == '\\' ? 2 : 1;
        if (end >= text.length()) throw problem(start, "this text is not closed by a double quote");
        String value;
        try {
            value = Json.MAPPER.readValue(text.substring(start, end + 1), String.class);
        } catch (JsonProcessingException e) {
            throw problem(start, "this text is not written as JSON has it");
        }
        if (value.codePoints().anyMatch(c -> c >= Character.MIN_SURROGATE && c <= Character.MAX_SURROGATE))
            throw problem(start, "this text holds half of a surrogate pair");
        at = end + 1;
        skipSpace();
        return value;
    }

    private void requireSpace() throws RuleSyntaxException {
        if (at < text.length() && !isSpace(text.charAt(at))) throw problem(at, "expected a space");
        skipSpace();
    }

    private boolean isNext(char c) {
        return at < text.length() && text.charAt(at) == c;
    }

    /** Steps over a word of the grammar, if it is the next one. */
    private boolean skipWord(String word) {
        skipSpace();
        int start = at;
        if (word().equalsIgnoreCase(word)) return true;
        at = start;
        return false;
    }

    /** What stands up to the next space, parenthesis or quotation mark. */
    private String word() {
        int start = at;
        while (at < text.length() && !isSpace(text.charAt(at)) && "()\"".indexOf(text.charAt(at)) < 0) at++;
        return text.substring(start, at);
    }

    private void skipSpace() {
        while (at < text.length() && isSpace(text.charAt(at))) at++;
    }

    private static boolean isSpace(char c) {
        return c == ' ' || c == '\t';
    }

    private RuleSyntaxException problem(int offset, String message) {
        return new RuleSyntaxException(text.codePointCount(0, Math.min(offset, text.length())), message);
    }
}
