package leanladder.server.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.session.BatchEdit;
import leanladder.server.query.QueryContext;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.store.Store;
import leanladder.store.journal.Change;
import leanladder.store.journal.ChangeFilter;
import leanladder.text.PluralText;

/** Tells for some days what an update of the catalogue brought. */
public record CatalogueTodoSource(Store store) implements TodoSource {
    private static final Duration TOLD_FOR = Duration.ofDays(14);
    private static final int MOST = 20;

    private record Counts(int added, int amended, int defaults, int removed) {
        static final Counts NONE = new Counts(0, 0, 0, 0);

        Counts and(JsonNode edit) {
            Counts all = this;
            switch (edit.path("kind").asText()) {
                case "add-setting" -> all = new Counts(added + 1, amended, defaults, removed);
                case "remove-setting" -> all = new Counts(added, amended, defaults, removed + 1);
                case "amend-setting" -> {
                    Set<String> members = new HashSet<>();
                    edit.path("members").fieldNames().forEachRemaining(members::add);
                    if (members.contains("default")) all = new Counts(added, amended, defaults + 1, removed);
                    else if (!members.equals(Set.of("openToWorkspaces")))
                        all = new Counts(added, amended + 1, defaults, removed);
                }
                default -> {
                    if (edit.path("kind").asText().equals(BatchEdit.KIND.name()))
                        for (JsonNode one : edit.path("edits")) all = all.and(one);
                }
            }
            return all;
        }

        List<String> words() {
            List<String> words = new ArrayList<>();
            if (added > 0) words.add(new PluralText("one new setting", "# new settings").of(added));
            if (defaults > 0)
                words.add(new PluralText("one built-in value changed", "# built-in values changed").of(defaults));
            if (amended > 0)
                words.add(new PluralText("one setting changed otherwise", "# settings changed otherwise").of(amended));
            if (removed > 0) words.add(new PluralText("one setting removed", "# settings removed").of(removed));
            return words;
        }
    }

    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        Instant now = queryContext.question().at();
        ChangeFilter filter = new ChangeFilter(
                Optional.empty(),
                Optional.empty(),
                Optional.of(now.minus(TOLD_FOR)),
                Optional.empty(),
                List.of(List.of("kind:catalogue")),
                Optional.empty());
        List<TodoItem> items = new ArrayList<>();
        for (Change change : store.journal().before(Long.MAX_VALUE, MOST, filter)) {
            Counts counts = Counts.NONE;
            for (JsonNode edit : change.edits()) counts = counts.and(edit);
            List<String> words = counts.words();
            if (!words.isEmpty())
                items.add(new TodoItem(
                        TodoItem.Topic.CATALOGUE,
                        "catalogue:" + change.number(),
                        "The catalogue was updated on "
                                + queryContext.estateFormatter().moment(change.at()) + ": " + String.join(", ", words)
                                + ".",
                        "/logbook/" + change.number(),
                        Optional.empty()));
        }
        return items;
    }
}
