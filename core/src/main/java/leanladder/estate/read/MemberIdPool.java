package leanladder.estate.read;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import leanladder.json.Json;

/**
 * The elements of a member list as they are met, without an object for each, for there can be a hundred million: the letters of all
 * texts lie in one array, and what is no plain text stands apart.
 */
final class MemberIdPool {
    /** Elements that are looked up together. */
    private static final int PIECE = 256;

    private static final int FIRST = 1 << 10;

    private final Map<Integer, JsonNode> apart = new HashMap<>();
    private char[] letters;
    private int[] starts = new int[FIRST];
    private int size;

    MemberIdPool() {
        this(FIRST);
    }

    /** @param letters how many there may be in all, by and large */
    MemberIdPool(int letters) {
        this.letters = new char[letters];
    }

    /** Those of a list that is a tree. */
    static MemberIdPool from(JsonNode list) {
        MemberIdPool texts = new MemberIdPool();
        for (JsonNode element : list) {
            String text = element.textValue();
            if (text == null || !texts.add(text.toCharArray(), 0, text.length())) texts.add(element);
        }
        return texts;
    }

    /** Begins a new list. */
    void clear() {
        apart.clear();
        size = 0;
    }

    int size() {
        return size;
    }

    /** Takes a text; false, and nothing is taken, where it has halves of surrogate pairs, which may not fit together. */
    boolean add(char[] text, int from, int length) {
        for (int i = from; i < from + length; i++) if (Character.isSurrogate(text[i])) return false;
        int start = starts[size];
        if (start + length > letters.length)
            letters = Arrays.copyOf(letters, Math.max(2 * letters.length, start + length));
        System.arraycopy(text, from, letters, start, length);
        end(start + length);
        return true;
    }

    /** Takes an element that is no plain text. */
    void add(JsonNode element) {
        apart.put(size, element);
        end(starts[size]);
    }

    private void end(int at) {
        size++;
        if (size == starts.length) starts = Arrays.copyOf(starts, 2 * size);
        starts[size] = at;
    }

    /** The element of this position. */
    JsonNode element(int position) {
        JsonNode element = apart.get(position);
        return element != null
                ? element
                : Json.NODES.textNode(new String(letters, starts[position], starts[position + 1] - starts[position]));
    }

    /** For each element the number of the id that stands in it after a prefix, or {@link IdIndex#NONE}. */
    int[] find(IdIndex ids, String prefix) {
        int[] numbers = new int[size];
        for (int from = 0; from < size; from += PIECE)
            ids.find(letters, starts, from, Math.min(size, from + PIECE), prefix, numbers);
        return numbers;
    }
}
