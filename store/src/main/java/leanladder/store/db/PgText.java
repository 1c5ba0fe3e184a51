package leanladder.store.db;

/** Texts as columns can hold them: PostgreSQL's know no U+0000. */
public final class PgText {
    private PgText() {}

    /** A text as a column holds it. */
    public static String stored(String text) {
        return text.replace("\\", "\\\\").replace("\0", "\\0");
    }

    /** The text that a column holds. */
    public static String read(String stored) {
        if (stored.indexOf('\\') < 0) return stored;
        StringBuilder text = new StringBuilder(stored.length());
        for (int i = 0; i < stored.length(); i++) {
            char c = stored.charAt(i);
            if (c == '\\') text.append(stored.charAt(++i) == '0' ? '\0' : '\\');
            else text.append(c);
        }
        return text.toString();
    }
}
