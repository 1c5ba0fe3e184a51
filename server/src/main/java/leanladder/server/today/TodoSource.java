package leanladder.server.today;

import java.util.List;
import leanladder.server.query.QueryContext;

/** A room that knows matters of the day. */
@FunctionalInterface
public interface TodoSource {
    /** What waits, or is good to know, at the instant that the inquiry asks about. */
    List<TodoItem> of(QueryContext queryContext);
}
