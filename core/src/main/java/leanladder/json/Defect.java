package leanladder.json;

/**
 * Something that makes an estate file invalid, or, as a warning, merely doubtful.
 *
 * @param pointer a JSON Pointer (RFC 6901) to the place
 * @param message one sentence that says what is wrong and what would be right
 */
public record Defect(String pointer, String message) {
    /** {@code POINTER: message}, on one line whatever characters the ids hold. */
    public String line() {
        return oneLine(pointer + ": " + message);
    }

    /** {@code POINTER: warning: message}, on one line. */
    public String warningLine() {
        return oneLine(pointer + ": warning: " + message);
    }

    private static String oneLine(String text) {
        var line = new StringBuilder(text.length());
        text.codePoints().forEach(c -> {
            if (Character.isISOControl(c) || c == 0x2028 || c == 0x2029) line.append(String.format("\\u%04x", c));
            else line.appendCodePoint(c);
        });
        return line.toString();
    }
}
