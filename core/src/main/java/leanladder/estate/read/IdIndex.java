package leanladder.estate.read;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ThreadLocalRandom;
import org.jspecify.annotations.Nullable;

/**
 * Ids, found by the part of a text that names one.
 *
 * <p>A large directory asks for an id a hundred million times while it is read, and what that costs is waiting for memory. A general
 * map goes from its table to an entry, to a text, to its letters; here the id itself stands in the table: up to sixteen letters, or a
 * UUID, fill two words. Of longer ids the words hold a hash, and the letters, which all lie in one array, are looked at as well. A
 * collision goes to the next slot; where the search begins is another in each index, so that nobody can write a file whose ids all
 * collide. Reading by several threads is safe while nothing is added.
 */
final class IdIndex {
    /** The number of what is not there. */
    static final int NONE = -1;

    /** How two words stand for a text. */
    private static final int LETTERS = 1;

    private static final int UUID = 2;
    private static final int HASH = 3;

    private static final int WORDS = 3;
    private static final int FIRST_SLOTS = 1 << 10;
    private static final int PACKED = 16;
    private static final int UUID_LENGTH = 36;
    private static final int MOST_LATIN = 0xff;
    private static final long MIX = 0xbf58476d1ce4e5b9L;

    private final long base = ThreadLocalRandom.current().nextLong();
    private final List<String> ids = new ArrayList<>();
    private int[] starts = new int[FIRST_SLOTS];
    private char[] letters = new char[FIRST_SLOTS];
    /** Of each slot the two words, then how they stand for the text, and the number of the id and one in the lower half; 0 where nothing is. */
    private long[] slots = new long[WORDS * FIRST_SLOTS];

    /** Adds an id; false when it is there already. */
    boolean add(String id) {
        char[] text = id.toCharArray();
        long[] words = new long[2];
        int how = pack(text, 0, text.length, words, 0);
        if (number(words[0], words[1], how, text, 0, text.length) != NONE) return false;
        int number = ids.size();
        if (2 * (number + 1) > slots.length / WORDS) spread();
        int start = starts[number];
        int end = how == HASH ? start + text.length : start;
        if (end > letters.length) letters = Arrays.copyOf(letters, Math.max(2 * letters.length, end));
        if (how == HASH) System.arraycopy(text, 0, letters, start, text.length);
        if (number + 2 > starts.length) starts = Arrays.copyOf(starts, 2 * starts.length);
        starts[number + 1] = end;
        ids.add(id);
        put(slots, words[0], words[1], (long) how << Integer.SIZE | (number + 1));
        return true;
    }

    /** All ids, by their numbers. Only grows. */
    List<String> ids() {
        return ids;
    }

    /** The id that stands in the text from this letter to its end, as the one text that was added; null when there is none. */
    @Nullable
    String find(String text, int from) {
        char[] all = text.toCharArray();
        long[] words = new long[2];
        int how = pack(all, from, all.length, words, 0);
        int number = number(words[0], words[1], how, all, from, all.length);
        return number < 0 ? null : ids.get(number);
    }

    /**
     * The numbers of the ids that stand in some texts after a prefix, or {@link #NONE}. Goes over the texts in steps that do not wait
     * for one another, so that the machine fetches from memory for many texts at once.
     *
     * @param text the letters of all texts, one text after the other
     * @param starts of each text, and the end of the last
     * @param first of the texts that are looked up
     * @param end after the last of them
     * @param numbers of all texts; those of the others are left as they are
     */
    void find(char[] text, int[] starts, int first, int end, String prefix, int[] numbers) {
        int skipped = prefix.length();
        long[] words = new long[2 * (end - first)];
        int[] how = new int[end - first];
        for (int i = first; i < end; i++)
            if (begins(text, starts[i], starts[i + 1], prefix))
                how[i - first] = pack(text, starts[i] + skipped, starts[i + 1], words, 2 * (i - first));
        // What is met here is looked at again below, and is at hand then.
        for (int i = first; i < end; i++) {
            int at = 2 * (i - first);
            numbers[i] = (int) slots[place(words[at], words[at + 1], slots.length) + 2];
        }
        for (int i = first; i < end; i++) {
            int at = 2 * (i - first);
            numbers[i] = how[i - first] == 0
                    ? NONE
                    : number(words[at], words[at + 1], how[i - first], text, starts[i] + skipped, starts[i + 1]);
        }
    }

    private static boolean begins(char[] text, int from, int to, String prefix) {
        if (to - from < prefix.length()) return false;
        for (int i = 0; i < prefix.length(); i++) if (text[from + i] != prefix.charAt(i)) return false;
        return true;
    }

    private int number(long one, long other, int how, char[] text, int from, int to) {
        for (int at = place(one, other, slots.length); slots[at + 2] != 0; at = next(at, slots.length)) {
            if (slots[at] != one || slots[at + 1] != other || (int) (slots[at + 2] >>> Integer.SIZE) != how) continue;
            int number = (int) slots[at + 2] - 1;
            if (how != HASH || Arrays.equals(letters, starts[number], starts[number + 1], text, from, to))
                return number;
        }
        return NONE;
    }

    /** Puts two words that stand for a text into an array; gives how they do. */
    private int pack(char[] text, int from, int to, long[] words, int at) {
        if (to - from <= PACKED && packLetters(text, from, to, words, at)) return LETTERS;
        if (to - from == UUID_LENGTH && packUuid(text, from, words, at)) return UUID;
        long hash = to - from;
        for (int i = from; i < to; i++) hash = hash * (base | 1) + text[i];
        words[at] = hash;
        words[at + 1] = to - from;
        return HASH;
    }

    /** A byte a letter; false where one does not fit, or is zero, with which shorter texts are filled up. */
    private static boolean packLetters(char[] text, int from, int to, long[] words, int at) {
        long one = 0;
        long other = 0;
        for (int i = from; i < to; i++) {
            char letter = text[i];
            if (letter - 1 >= MOST_LATIN || letter == 0) return false;
            other = other << Byte.SIZE | one >>> Long.SIZE - Byte.SIZE;
            one = one << Byte.SIZE | letter;
        }
        words[at] = one;
        words[at + 1] = other;
        return true;
    }

    /** Half a byte a digit; false where a text is none of a UUID in small letters. */
    private static boolean packUuid(char[] text, int from, long[] words, int at) {
        long one = 0;
        long other = 0;
        for (int i = 0; i < UUID_LENGTH; i++) {
            char letter = text[from + i];
            if (i == 8 || i == 13 || i == 18 || i == 23) {
                if (letter != '-') return false;
                continue;
            }
            int digit = letter >= '0' && letter <= '9'
                    ? letter - '0'
                    : letter >= 'a' && letter <= 'f' ? letter - 'a' + 10 : -1;
            if (digit < 0) return false;
            other = other << 4 | one >>> Long.SIZE - 4;
            one = one << 4 | digit;
        }
        words[at] = one;
        words[at + 1] = other;
        return true;
    }

    /** Where in the table the search for two words begins. */
    private int place(long one, long other, int length) {
        long hash = (one ^ base) * MIX;
        hash = (hash ^ hash >>> Integer.SIZE ^ other) * MIX;
        return ((int) (hash >>> Integer.SIZE) & length / WORDS - 1) * WORDS;
    }

    private static int next(int at, int length) {
        return at + WORDS == length ? 0 : at + WORDS;
    }

    private void spread() {
        long[] wider = new long[2 * slots.length];
        for (int at = 0; at < slots.length; at += WORDS)
            if (slots[at + 2] != 0) put(wider, slots[at], slots[at + 1], slots[at + 2]);
        slots = wider;
    }

    private void put(long[] table, long one, long other, long which) {
        int at = place(one, other, table.length);
        while (table[at + 2] != 0) at = next(at, table.length);
        table[at] = one;
        table[at + 1] = other;
        table[at + 2] = which;
    }
}
