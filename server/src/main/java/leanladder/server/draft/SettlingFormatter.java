package leanladder.server.draft;

import java.util.Optional;
import leanladder.settle.SettleTime;

/** What people must do for something to show, in words. */
public final class SettlingFormatter {
    private SettlingFormatter() {}

    /** As the end of a sentence: ", after a new sign-in"; empty for nothing. */
    public static String after(Optional<SettleTime.RequiredUserAction> then) {
        return then.map(action -> switch (action) {
                    case REFRESH -> ", after a refresh";
                    case SIGN_IN -> ", after a new sign-in";
                    case RESTART -> ", after a restart";
                    case UPDATE -> ", after an update of the program";
                    case CLEAR -> ", after clearing what the app has stored";
                })
                .orElse("");
    }
}
