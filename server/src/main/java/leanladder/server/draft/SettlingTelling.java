package leanladder.server.draft;

import java.util.Optional;
import leanladder.settle.Settles;

/** What people must do for something to show, in words. */
public final class SettlingTelling {
    private SettlingTelling() {}

    /** As the end of a sentence: ", after a new sign-in"; empty for nothing. */
    public static String after(Optional<Settles.Then> then) {
        return then.map(t -> ", after a " + (t == Settles.Then.SIGN_IN ? "new sign-in" : t.word()))
                .orElse("");
    }
}
