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

    /** The id that stands in the text from this letter to its end, as the one text that was added; null when there is none. */
    String find(String text, int from) {
        int hash = hash(text, from);
        int last = slots.length - 1;
        for (int at = hash & last; slots[at] != 0; at = at + 1 & last) {
            int number = (int) slots[at] - 1;
            if ((int) (slots[at] >>> Integer.SIZE) == hash && isAt(number, text, from)) return ids.get(number);
        }
        return null;
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
