package leanladder.suite;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;

/** What a person does so that what has arrived is shown; each of them does what those before it do. */
public enum Deed {
    REFRESH("refresh"),
    SIGN_IN("sign-in"),
    RESTART("restart");

    private final String word;

    Deed(String word) {
        this.word = word;
    }

    /** How it is written. */
    @JsonValue
    public String word() {
        return word;
    }

    /** The deed of a word. @throws IllegalArgumentException when there is none */
    @JsonCreator
    public static Deed of(String word) {
        for (Deed deed : values()) if (deed.word.equals(word)) return deed;
        throw new IllegalArgumentException("\"" + word + "\" is none of refresh, sign-in and restart");
    }
}
