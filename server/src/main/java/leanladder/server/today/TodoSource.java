package leanladder.server.today;

import java.util.List;
import leanladder.server.query.QueryContext;

/** A feature that contributes items to Today. */
@FunctionalInterface
public interface TodoSource {
    /** What waits, or is good to know, at the instant of the query. */
    List<TodoItem> of(QueryContext queryContext);
}
