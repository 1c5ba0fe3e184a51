package leanladder.json;

import java.util.Comparator;
import java.util.List;

/**
 * The order of ids, keys and texts everywhere: by Unicode code point (resolution.md, section 9). {@link String#compareTo}
 * compares UTF-16 units instead and places characters beyond the basic plane before U+E000.
 */
public final class CodePointOrder {
    private CodePointOrder() {}

    /** Compares two texts code point by code point; a prefix comes first. Linear in the shorter text. */
    public static final Comparator<String> TEXTS = CodePointOrder::compare;

    /** Compares two lists of texts item by item; a shorter list that is a prefix comes first. */
    public static final Comparator<List<String>> LISTS = (a, b) -> {
        for (int i = 0; i < Math.min(a.size(), b.size()); i++) {
            int order = compare(a.get(i), b.get(i));
            if (order != 0) return order;
        }
        return Integer.compare(a.size(), b.size());
    };

    private static int compare(String a, String b) {
        int length = Math.min(a.length(), b.length());
        for (int i = 0; i < length; i++) {
            char x = a.charAt(i);
            char y = b.charAt(i);
            if (x != y) {
                boolean bothSurrogatesOrNeither = Character.isSurrogate(x) == Character.isSurrogate(y);
                if (bothSurrogatesOrNeither) return Character.compare(x, y);
                return Character.isSurrogate(x) ? 1 : -1;
            }
        }
        return Integer.compare(a.length(), b.length());
    }
}
