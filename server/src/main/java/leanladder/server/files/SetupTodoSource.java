package leanladder.server.files;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.estate.Estate;
import leanladder.server.query.QueryContext;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;

/** What a new estate still lacks before it can answer questions about the company's own people. */
public record SetupTodoSource() implements TodoSource {
    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        Estate estate = queryContext.estate();
        List<TodoItem> missing = new ArrayList<>();
        if (estate.units().size() < 2)
            missing.add(item(
                    "1-units",
                    "There is no unit below the organisation. Read the units from a file.",
                    "/directory/units"));
        if (queryContext.directory().active().isEmpty())
            missing.add(
                    item("2-people", "Nobody is in the directory. Read the people from a file.", "/directory/people"));
        if (estate.groups().isEmpty())
            missing.add(
                    item("3-groups", "There is no group. Make one, or read members from a file.", "/directory/groups"));
        if (estate.plans().isEmpty())
            missing.add(item(
                    "4-plans",
                    "There is no licence plan: features that need a licence are off for everybody.",
                    "/seats"));
        if (estate.policies().isEmpty())
            missing.add(item(
                    "5-policies",
                    "There is no policy: every setting has its built-in value. Write the first one for the organisation.",
                    "/policies"));
        return missing;
    }

    /** @param key begins with its place among what is missing, in the order in which one fills it in */
    private static TodoItem item(String key, String words, String leads) {
        return new TodoItem(TodoItem.Topic.SETUP, "setup:" + key, words, leads, Optional.empty());
    }
}
