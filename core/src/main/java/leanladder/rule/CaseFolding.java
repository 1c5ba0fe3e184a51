package leanladder.rule;

/** Unicode simple case folding (resolution.md, section 3), of the Unicode version of the Java runtime. */
public final class CaseFolding {
    private static final int CAPITAL_I_WITH_DOT = 0x130;
    private static final int SMALL_DOTLESS_I = 0x131;

    private CaseFolding() {}

    /** The text with every code point folded by itself. Linear in the text. */
    public static String fold(String text) {
        int same = 0;
        while (same < text.length() && isPlain(text.charAt(same))) same++;
        if (same == text.length()) return text;
        StringBuilder folded = new StringBuilder(text.length());
        text.codePoints().forEach(c -> folded.appendCodePoint(fold(c)));
        return folded.toString();
    }

    private static boolean isPlain(char c) {
        return c < 0x80 && (c < 'A' || c > 'Z');
    }

    /**
     * Lower case of upper case, which joins letters with several small forms. The two letters i of Turkish fold to themselves, and
     * Cherokee, whose small letters came later, to its capitals.
     */
    private static int fold(int c) {
        if (c == CAPITAL_I_WITH_DOT || c == SMALL_DOTLESS_I) return c;
        int upper = Character.toUpperCase(c);
        return Character.UnicodeScript.of(c) == Character.UnicodeScript.CHEROKEE ? upper : Character.toLowerCase(upper);
    }
}
