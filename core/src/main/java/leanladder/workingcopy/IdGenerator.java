package leanladder.workingcopy;

import java.util.Locale;
import java.util.function.Predicate;

/** Makes ids for what comes without one. */
public final class IdGenerator {
    private static final int LONGEST = 60;

    private IdGenerator() {}

    /** An id that is read off a name and not taken yet. */
    public static String generate(String name, String otherwise, Predicate<String> taken) {
        String words =
                name.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9.]+", "-").replaceAll("^[-.]+|[-.]+$", "");
        String stem = words.isEmpty() ? otherwise : words.substring(0, Math.min(words.length(), LONGEST));
        String id = stem;
        for (int n = 2; taken.test(id); n++) id = stem + "-" + n;
        return id;
    }
}
