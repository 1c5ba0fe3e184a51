package leanladder.resolve;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** What became of a statement on the way to an outcome (estate-format.md). Where two fit, the first listed is given. */
public enum Verdict {
    /** It is the source of the decided value. */
    DECIDES,
    /** It adds to a list that another statement is the source of. */
    ADDS,
    /** It stands on a lower rung than the one that decides. */
    LOWER,
    /** It lost on the deciding rung. */
    TIE,
    /** It stands above a lock, or unlocked beside one. */
    CUT,
    /** It is the cap that changed the value. */
    BINDS,
    /** It is a cap that did not change the value. */
    SLACK,
    /** Its policy is paused. */
    PAUSED,
    /** Its window has not begun. */
    EARLY,
    /** Its window is over. */
    ENDED,
    /** An exception keeps it from the account. */
    EXCEPTED;

    /** The word of the estate file. */
    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** Whether the statement was in play at all. */
    public boolean isInPlay() {
        return compareTo(PAUSED) < 0;
    }
}
