package leanladder.server.paging;

import java.text.Normalizer;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/** Words as people type them, and how near one comes to another. */
public final class FuzzyMatcher {
    /** How many letters a known word has at least that counts as the beginning of a longer one asked for. */
    public static final int LEAST_BEGINNING = 4;

    /** How many slips of the keyboard any word is forgiven at most. */
    public static final int MOST_SLIPS = 2;

    private static final int LETTERS = 26;
    private static final int DIGITS = 10;
    private static final int OTHERS = 28;

    private FuzzyMatcher() {}

    /** The words of a text, without case and accents. */
    public static List<String> words(String text) {
        return Arrays.stream(plain(text).split("[^\\p{L}\\p{N}]+"))
                .filter(w -> !w.isEmpty())
                .toList();
    }

    /** A text without case and accents. */
    public static String plain(String text) {
        return isPlain(text)
                ? text.toLowerCase(Locale.ROOT)
                : Normalizer.normalize(text, Normalizer.Form.NFD)
                        .replaceAll("\\p{M}", "")
                        .toLowerCase(Locale.ROOT)
                        .replace('ł', 'l')
                        .replace('ø', 'o')
                        .replace('đ', 'd')
                        .replace("ß", "ss");
    }

    private static boolean isPlain(String text) {
        return text.chars().allMatch(c -> c < 128);
    }

    /** The set of letters of a word, one bit for each Latin letter and digit, and some for all others. */
    public static long letters(String word) {
        long set = 0;
        for (int i = 0; i < word.length(); i++) {
            char c = word.charAt(i);
            int bit;
            if (c >= 'a' && c <= 'z') bit = c - 'a';
            else if (c >= '0' && c <= '9') bit = LETTERS + c - '0';
            else bit = LETTERS + DIGITS + c % OTHERS;
            set |= 1L << bit;
        }
        return set;
    }

    /** How many slips of the keyboard a word of this length is forgiven. */
    public static int slipsAllowed(String asked) {
        return asked.length() >= 7 ? MOST_SLIPS : asked.length() >= 4 ? 1 : 0;
    }

    /** How well a word asked for meets a word known, from 0 to 1. */
    public static double quality(String asked, String known) {
        return quality(asked, known, Long.bitCount(letters(asked) & ~letters(known)));
    }

    /**
     * The same, quickly for the many words that cannot meet it.
     *
     * @param lacking how many of the letters asked for the word known does not have at all, see {@link #letters}
     */
    public static double quality(String asked, String known, int lacking) {
        if (lacking == 0) {
            if (known.equals(asked)) return 1;
            if (known.startsWith(asked)) return 0.9;
        }
        int length = asked.length();
        int allowed = slipsAllowed(asked);
        if (allowed > 0 && lacking <= allowed && Math.abs(length - known.length()) <= MOST_SLIPS) {
            int slips = slips(asked, known, allowed);
            if (slips <= allowed) return slips == 1 ? 0.7 : 0.5;
        }
        if (length >= 3 && known.length() > length) {
            if (lacking == 0 && known.contains(asked)) return 0.5;
            if (length >= 5
                    && lacking <= 1
                    && beginAlike(asked, known.charAt(0), known.charAt(1))
                    && slips(asked, known.substring(0, length), 1) <= 1) return 0.45;
        }
        return length >= 5 && known.length() >= LEAST_BEGINNING && asked.startsWith(known) ? 0.6 : 0;
    }

    /** Whether two first letters of a word known leave room for one slip at most in those asked for, which are two or more. */
    public static boolean beginAlike(String asked, char first, char second) {
        char a = asked.charAt(0);
        char b = asked.charAt(1);
        return a == first || b == second || a == second || b == first;
    }

    /** How many letters are wrong, missing, too many or swapped with their neighbour; more than {@code most} is not counted out. */
    private static int slips(String a, String b, int most) {
        int[] before = new int[b.length() + 1];
        int[] row = new int[b.length() + 1];
        int[] twoBefore = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) before[j] = j;
        for (int i = 1; i <= a.length(); i++) {
            row[0] = i;
            int least = row[0];
            for (int j = 1; j <= b.length(); j++) {
                int cost = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
                row[j] = Math.min(Math.min(row[j - 1] + 1, before[j] + 1), before[j - 1] + cost);
                boolean swapped =
                        i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1);
                if (swapped) row[j] = Math.min(row[j], twoBefore[j - 2] + 1);
                least = Math.min(least, row[j]);
            }
            if (least > most) return least;
            int[] spare = twoBefore;
            twoBefore = before;
            before = row;
            row = spare;
        }
        return before[b.length()];
    }
}
