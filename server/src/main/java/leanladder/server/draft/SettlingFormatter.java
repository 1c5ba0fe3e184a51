package leanladder.server.draft;

import java.util.Optional;
import leanladder.settle.SettleTime;

/** What people must do for something to show, in words. */
public final class SettlingFormatter {
    private SettlingFormatter() {}

    /** As the end of a sentence: ", after a new sign-in"; empty for nothing. */
    public static String after(Optional<SettleTime.RequiredUserAction> then) {
        return then.map(t -> ", after a " + (t == SettleTime.RequiredUserAction.SIGN_IN ? "new sign-in" : t.word()))
                .orElse("");
    }
}
