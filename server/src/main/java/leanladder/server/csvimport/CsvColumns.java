package leanladder.server.csvimport;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.json.Json;
import leanladder.server.http.ProblemException;

/**
 * Which column of a file holds what. Headings are found by name, in any case, or by the names that other systems use. The sender of the
 * file can choose other headings.
 */
public final class CsvColumns {
    private final List<Column> columns = new ArrayList<>();

    /** @param others what files call it, too; lower-case */
    private record Column(String name, List<String> others) {}

    /** What a column of ours is read from. @param heading as the file writes it; empty where none holds it */
    public record ColumnMatch(String column, Optional<String> heading) {}

    /** Adds a column. @param others what files call it, too; lower-case */
    public CsvColumns with(String name, String... others) {
        columns.add(new Column(name, List.of(others)));
        return this;
    }

    /**
     * Matches the headings of a file.
     *
     * @param chosen a JSON object from columns to headings, as it was sent; a heading that is empty leaves the column out
     * @throws ProblemException when it names what is not there
     */
    List<ColumnMatch> match(List<String> headings, Optional<String> chosen) {
        Map<String, String> byChoice = chosen(headings, chosen);
        Set<String> taken = new HashSet<>(byChoice.values());
        Map<String, String> free = new LinkedHashMap<>();
        for (String heading : headings)
            if (!taken.contains(heading)) free.putIfAbsent(heading.toLowerCase(Locale.ROOT), heading);
        List<ColumnMatch> matches = new ArrayList<>();
        for (Column column : columns) {
            Optional<String> heading = byChoice.containsKey(column.name)
                    ? Optional.of(byChoice.get(column.name)).filter(h -> !h.isEmpty())
                    : found(column, free);
            matches.add(new ColumnMatch(column.name, heading));
        }
        return matches;
    }

    /** The first heading that is called so; it is then taken. */
    private static Optional<String> found(Column column, Map<String, String> free) {
        List<String> names = new ArrayList<>(List.of(column.name));
        names.addAll(column.others);
        for (String name : names) {
            String heading = free.remove(name);
            if (heading != null) return Optional.of(heading);
        }
        return Optional.empty();
    }

    private Map<String, String> chosen(List<String> headings, Optional<String> text) {
        Map<String, String> chosen = new HashMap<>();
        if (text.isEmpty()) return chosen;
        JsonNode read = Json.read(text.get());
        if (!read.isObject()) throw ProblemException.wrongInput("\"columns\" must be a JSON object.");
        for (var one : read.properties()) {
            String heading = one.getValue().asText();
            if (columns.stream().noneMatch(c -> c.name.equals(one.getKey())))
                throw ProblemException.wrongInput("There is no column \"" + one.getKey() + "\" to be read.");
            if (!heading.isEmpty() && !headings.contains(heading))
                throw ProblemException.wrongInput("The file has no column \"" + heading + "\".");
            chosen.put(one.getKey(), heading);
        }
        return chosen;
    }
}
