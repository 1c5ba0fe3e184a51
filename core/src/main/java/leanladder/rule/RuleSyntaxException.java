package leanladder.rule;

/** Says that a text is no rule, and where; its message is the end of a sentence such as "does not parse at character 12: …". */
public final class RuleSyntaxException extends Exception {
    private static final long serialVersionUID = 1;

    private final int position;

    RuleSyntaxException(int position, String message) {
        super(message);
        this.position = position;
    }

    /** The place in the text, in code points; the first is 0. */
    public int position() {
        return position;
    }
}
