package leanladder.text;

/**
 * How edits of one sort are told when they are many.
 *
 * @param one what one of them does: "one unit is new"
 * @param many what several do, with {@code #} for their number: "# units are new"
 */
public record PluralText(String one, String many) {
    /** The sentence for so many edits, 1 or more. */
    public String of(int count) {
        return count == 1 ? one : many.replace("#", String.valueOf(count));
    }
}
