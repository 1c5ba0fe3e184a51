package leanladder.estate.read;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ThreadLocalRandom;

/**
 * Ids, found by the part of a text that names one.
 *
 * <p>A large directory asks for an id a hundred million times while it is read, and what that costs is waiting for memory. A general
 * map goes from its table to an entry, to a text, to its letters; here a slot of the table holds the hash beside the number of the
 * id, and all letters lie in one array. Collisions go to the next slot; the hash has another base in each index, so that nobody can
 * write a file whose ids all collide. Reading by several threads is safe while nothing is added.
 */
final class IdIndex {
    /** The number of what is not there. */
    static final int NONE = -1;

    private static final int FIRST_SLOTS = 1 << 10;

    private final long base = ThreadLocalRandom.current().nextLong() | 1;
    private final List<String> ids = new ArrayList<>();
    private int[] starts = new int[FIRST_SLOTS];
    private char[] letters = new char[FIRST_SLOTS];
    /** The hash in the upper half, the number of the id and one in the lower; 0 where nothing is. */
    private long[] slots = new long[FIRST_SLOTS];

    /** Adds an id; false when it is there already. */
    boolean add(String id) {
        if (find(id, 0) != null) return false;
        int number = ids.size();
        if (2 * (number + 1) > slots.length) spread();
        int start = starts[number];
        if (start + id.length() > letters.length)
            letters = Arrays.copyOf(letters, Math.max(2 * letters.length, start + id.length()));
        id.getChars(0, id.length(), letters, start);
        if (number + 2 > starts.length) starts = Arrays.copyOf(starts, 2 * starts.length);
        starts[number + 1] = start + id.length();
        ids.add(id);
        put(slots, (long) hash(id, 0) << Integer.SIZE | (number + 1));
        return true;
    }

    /** All ids, by their numbers. Only grows. */
    List<String> ids() {
        return ids;
    }

    /** The id that stands in the text from this letter to its end, as the one text that was added; null when there is none. */
    String find(String text, int from) {
        int number = number(text, from, hash(text, from));
        return number < 0 ? null : ids.get(number);
    }

    private int number(String text, int from, int hash) {
        int last = slots.length - 1;
        for (int at = hash & last; slots[at] != 0; at = at + 1 & last) {
            int number = (int) slots[at] - 1;
            if ((int) (slots[at] >>> Integer.SIZE) == hash && isAt(number, text, from)) return number;
        }
        return NONE;
    }

    /**
     * The numbers of the ids that stand in texts from a letter to their end, or {@link #NONE}. Goes over the texts in steps that do
     * not wait for one another, so that the machine fetches from memory for many texts at once.
     *
     * @param texts null where there is none
     */
    void find(String[] texts, int from, int[] numbers) {
        int[] hashes = new int[texts.length];
        int last = slots.length - 1;
        for (int i = 0; i < texts.length; i++) if (texts[i] != null) hashes[i] = hash(texts[i], from);
        for (int i = 0; i < texts.length; i++) {
            long slot = slots[hashes[i] & last];
            numbers[i] = (int) (slot >>> Integer.SIZE) == hashes[i] ? (int) slot - 1 : NONE;
        }
        char[] firsts = new char[texts.length];
        for (int i = 0; i < texts.length; i++)
            if (numbers[i] >= 0) firsts[i] = letters[Math.min(starts[numbers[i]], letters.length - 1)];
        for (int i = 0; i < texts.length; i++) {
            if (texts[i] == null) numbers[i] = NONE;
            else if (numbers[i] < 0 || !begins(texts[i], from, firsts[i]) || !isAt(numbers[i], texts[i], from))
                numbers[i] = number(texts[i], from, hashes[i]);
        }
    }

    private static boolean begins(String text, int from, char first) {
        return text.length() == from || text.charAt(from) == first;
    }

    private boolean isAt(int number, String text, int from) {
        int start = starts[number];
        int length = starts[number + 1] - start;
        if (length != text.length() - from) return false;
        for (int i = 0; i < length; i++) if (letters[start + i] != text.charAt(from + i)) return false;
        return true;
    }

    private int hash(String text, int from) {
        long hash = text.length() - from;
        for (int i = from; i < text.length(); i++) hash = hash * base + text.charAt(i);
        hash ^= hash >>> 29;
        hash *= 0xbf58476d1ce4e5b9L;
        return (int) (hash >>> Integer.SIZE);
    }

    private void spread() {
        long[] wider = new long[2 * slots.length];
        for (long slot : slots) if (slot != 0) put(wider, slot);
        slots = wider;
    }

    private static void put(long[] slots, long slot) {
        int last = slots.length - 1;
        int at = (int) (slot >>> Integer.SIZE) & last;
        while (slots[at] != 0) at = at + 1 & last;
        slots[at] = slot;
    }
}
