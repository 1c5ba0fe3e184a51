package leanladder.catalogue;

import java.util.Optional;
import java.util.regex.Pattern;
import leanladder.json.JsonCursor;

/**
 * A version: whole numbers joined by dots, at most eight of nine digits each (resolution.md, section 5).
 *
 * @param text as it was written; two versions are the same for comparing where {@link #compareTo} gives 0
 */
public record AppVersion(String text) implements Comparable<AppVersion> {
    private static final Pattern FORM = Pattern.compile("[0-9]{1,9}(\\.[0-9]{1,9}){0,7}");

    /** The version that a text writes. */
    public static Optional<AppVersion> parse(String text) {
        return FORM.matcher(text).matches() ? Optional.of(new AppVersion(text)) : Optional.empty();
    }

    /** The version at a place; a defect where it is none. */
    public static Optional<AppVersion> read(JsonCursor jsonCursor) {
        return jsonCursor.parsed(AppVersion::parse, "must be a version such as 5.2: whole numbers joined by dots");
    }

    /** Number by number; one that is missing is 0. */
    @Override
    public int compareTo(AppVersion other) {
        int here = 0;
        int there = 0;
        while (here < text.length() || there < other.text.length()) {
            int hereEnd = end(text, here);
            int thereEnd = end(other.text, there);
            int compared = Integer.compare(number(text, here, hereEnd), number(other.text, there, thereEnd));
            if (compared != 0) return compared;
            here = hereEnd + 1;
            there = thereEnd + 1;
        }
        return 0;
    }

    private static int end(String text, int from) {
        int dot = from < text.length() ? text.indexOf('.', from) : -1;
        return dot < 0 ? text.length() : dot;
    }

    private static int number(String text, int from, int end) {
        return from < end ? Integer.parseInt(text, from, end, 10) : 0;
    }
}
