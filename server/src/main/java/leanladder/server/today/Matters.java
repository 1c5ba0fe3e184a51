package leanladder.server.today;

import java.util.List;
import leanladder.server.draft.Inquiry;

/** A room that knows matters of the day. */
@FunctionalInterface
public interface Matters {
    /** What waits, or is good to know, at the instant that the inquiry asks about. */
    List<Matter> of(Inquiry inquiry);
}
