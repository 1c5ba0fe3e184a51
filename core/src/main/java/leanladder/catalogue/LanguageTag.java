package leanladder.catalogue;

import java.util.IllformedLocaleException;
import java.util.Locale;

/** Language tags (BCP 47). */
public final class LanguageTag {
    private LanguageTag() {}

    /** Whether a text is a well-formed tag; whether its subtags are registered is not looked at. */
    public static boolean isWellFormed(String tag) {
        try {
            new Locale.Builder().setLanguageTag(tag);
            return !tag.isEmpty();
        } catch (IllformedLocaleException e) {
            return false;
        }
    }
}
