package leanladder.resolve;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** One word for an outcome; the first that fits (resolution.md, section 8). */
public enum Standing {
    BLOCKED,
    CAPPED,
    LOCKED,
    SET,
    BUILTIN;

    /** The word of the estate file. */
    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** The standing of an outcome of which these things are known. */
    static Standing of(boolean blocked, boolean capped, boolean locked, boolean byPolicy) {
        if (blocked) return BLOCKED;
        if (capped) return CAPPED;
        if (locked) return LOCKED;
        return byPolicy ? SET : BUILTIN;
    }
}
