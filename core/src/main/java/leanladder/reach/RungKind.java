package leanladder.reach;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** The kinds of rung, from low to high (resolution.md, section 3). */
public enum RungKind {
    BUILTIN,
    ORGANISATION,
    UNIT,
    GROUP,
    HOSTING,
    WORKSPACE,
    PERSON;

    /** The word of the estate file. */
    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
