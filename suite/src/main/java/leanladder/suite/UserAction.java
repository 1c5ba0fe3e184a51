package leanladder.suite;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;

/** What a person does so that what has arrived is shown; each of them does what those before it do. */
public enum UserAction {
    REFRESH("refresh"),
    SIGN_IN("sign-in"),
    RESTART("restart"),
    UPDATE("update"),
    CLEAR("clear");

    private final String word;

    UserAction(String word) {
        this.word = word;
    }

    /** How it is written. */
    @JsonValue
    public String word() {
        return word;
    }

    /** The user action of a word. @throws IllegalArgumentException when there is none */
    @JsonCreator
    public static UserAction parse(String word) {
        for (UserAction userAction : values()) if (userAction.word.equals(word)) return userAction;
        throw new IllegalArgumentException("\"" + word + "\" is none of refresh, sign-in, restart, update and clear");
    }
}
