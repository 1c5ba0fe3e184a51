package leanladder.estate;

import java.util.Locale;
import java.util.Optional;

/**
 * Characters in a name that cannot be seen and let it look like another name: directional formatting (Unicode Annex 9), zero-width characters,
 * and other format characters. Joiners are left alone between letters, where some scripts need them.
 */
public final class HiddenCharacters {
    private static final int JOINERS_FROM = 0x200C;
    private static final int JOINERS_TO = 0x200D;

    private HiddenCharacters() {}

    /** What is hidden in a text, such as {@code U+202E}; empty where nothing is. Linear in the text. */
    public static Optional<String> in(String text) {
        for (int i = 0; i < text.length(); ) {
            int character = text.codePointAt(i);
            int next = i + Character.charCount(character);
            if (Character.getType(character) == Character.FORMAT && !isJoinerBetweenLetters(text, i, next))
                return Optional.of(String.format(Locale.ROOT, "U+%04X", character));
            i = next;
        }
        return Optional.empty();
    }

    private static boolean isJoinerBetweenLetters(String text, int at, int next) {
        int character = text.codePointAt(at);
        return character >= JOINERS_FROM
                && character <= JOINERS_TO
                && at > 0
                && next < text.length()
                && isOutsideLatin(text.codePointBefore(at))
                && isOutsideLatin(text.codePointAt(next));
    }

    private static boolean isOutsideLatin(int character) {
        Character.UnicodeScript script = Character.UnicodeScript.of(character);
        return script != Character.UnicodeScript.LATIN
                && script != Character.UnicodeScript.GREEK
                && script != Character.UnicodeScript.CYRILLIC
                && script != Character.UnicodeScript.COMMON;
    }
}
