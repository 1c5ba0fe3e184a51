package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.Setting;
import leanladder.document.Place;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Members;
import leanladder.estate.Statement;
import leanladder.estate.Window;
import leanladder.estate.read.Section;
import leanladder.tell.Wording;

/** Tells edits as sentences that can be read when everything they name has another name, or none. */
public final class EditWords {
    private static final int FEW = 3;

    private final Estate estate;
    private final Wording wording;

    /** @param at when the edits are told; dates of its year go without the year */
    public EditWords(Estate estate, Instant at) {
        this.estate = estate;
        this.wording = new Wording(estate, at);
    }

    /**
     * Reads an edit, has it carried out and tells it.
     *
     * @return a sentence without its full stop; empty when the edit did not fit
     */
    public Optional<String> apply(Place place, Book book) {
        return apply(place, book, edit -> {});
    }

    /** The same, and lets somebody see the edit as it was read. */
    public Optional<String> apply(Place place, Book book, Consumer<Edit> read) {
        List<String> told = new ArrayList<>();
        Optional<Edit> edit = book.apply(place, one -> told.add(of(one, book)));
        edit.ifPresent(read);
        return edit.map(e -> e instanceof Edit.Batch batch ? together(batch, told) : told.get(told.size() - 1));
    }

    /** A batch by what it does how often; one of few edits by all of them. */
    private static String together(Edit.Batch batch, List<String> told) {
        String from = batch.source().isEmpty() ? "" : " (from " + batch.source() + ")";
        if (told.size() <= FEW) return String.join("; ", told) + from;
        Map<String, Integer> counts = new LinkedHashMap<>();
        for (Edit edit : batch.edits()) counts.merge(sort(edit), 1, Integer::sum);
        return counts.entrySet().stream()
                        .map(c -> c.getKey()
                                .replace(
                                        "#",
                                        c.getValue() == 1 ? "one" : c.getValue().toString())
                                .replace("(s)", c.getValue() == 1 ? "" : "s")
                                .replace("(is)", c.getValue() == 1 ? "is" : "are"))
                        .collect(Collectors.joining(", "))
                + from;
    }

    private static String sort(Edit edit) {
        if (edit instanceof Edit.OfDirectory one) {
            String noun = DirectoryBook.noun(one.section());
            if (edit instanceof Edit.AddPart) return "# " + noun + "(s) (is) new";
            if (edit instanceof Edit.AmendPart) return "# " + noun + "(s) (is) altered";
            if (edit instanceof Edit.RemovePart) return "# " + noun + "(s) (is) taken away";
            return "members of # group(s) change";
        }
        if (edit instanceof Edit.PutAssignment) return "# assignment(s) (is) added";
        if (edit instanceof Edit.RemoveAssignment) return "# assignment(s) (is) taken away";
        if (edit instanceof Edit.PutStatement) return "# statement(s) (is) made";
        if (edit instanceof Edit.RemoveStatement) return "# statement(s) (is) taken back";
        return "# further edit(s) of policies";
    }

    /** One edit, before it is carried out: names are taken from the book as it stands. */
    private String of(Edit edit, Book book) {
        if (edit instanceof Edit.OfDirectory one) return ofDirectory(one, book);
        return ofPolicy((Edit.OfPolicy) edit, book);
    }

    private String ofPolicy(Edit.OfPolicy edit, Book book) {
        String policy = book.policyName(edit.policy());
        if (edit instanceof Edit.AddPolicy add) return added(add);
        if (edit instanceof Edit.RemovePolicy) return policy + " is deleted";
        if (edit instanceof Edit.AmendPolicy amend) return policy + " " + amended(amend);
        if (edit instanceof Edit.PutStatement put) return policy + " " + says(put.statement());
        if (edit instanceof Edit.RemoveStatement silent)
            return policy + " no longer " + (silent.cap() ? "caps " : "sets ") + title(silent.setting());
        if (edit instanceof Edit.PutAssignment put)
            return policy + (put.assignment().include() ? " includes " : " excepts ") + whom(put.assignment(), book);
        if (edit instanceof Edit.RemoveAssignment removed)
            return policy + " no longer " + (removed.assignment().include() ? "includes " : "excepts ")
                    + whom(removed.assignment(), book);
        return ((Edit.RankPolicy) edit)
                .above()
                .map(other -> policy + " moves above " + book.policyName(other))
                .orElse(policy + " moves to the end of the ranking");
    }

    private String ofDirectory(Edit.OfDirectory edit, Book book) {
        Section section = edit.section();
        String name = book.name(section, edit.id());
        if (edit instanceof Edit.AddPart add) {
            if (section == Section.UNITS)
                return add.body().path("name").asText() + " is a new unit below "
                        + book.placeName(add.body().path("parent").asText());
            if (section == Section.ACCOUNTS)
                return add.body().path("displayName").asText() + " is a new "
                        + add.body().path("kind").asText() + " in "
                        + book.placeName(add.body().path("unit").asText());
            return add.body().path("name").asText() + " is a new "
                    + add.body().path("purpose").asText() + " group"
                    + members(add.body().path("members").size());
        }
        if (edit instanceof Edit.RemovePart) return name + " is taken away";
        if (edit instanceof Edit.AmendPart amend)
            return name + " "
                    + amend.members().properties().stream()
                            .map(m -> amendedPart(section, m.getKey(), m.getValue(), book))
                            .collect(Collectors.joining(" and "));
        Members who = edit instanceof Edit.PutMembers put ? put.who() : ((Edit.RemoveMembers) edit).who();
        List<String> names = Stream.concat(
                        who.accounts().stream().map(a -> book.name(Section.ACCOUNTS, a)),
                        who.groups().stream().map(g -> "the group " + book.name(Section.GROUPS, g)))
                .toList();
        String all = names.isEmpty()
                ? "nobody new"
                : names.size() <= FEW ? String.join(", ", names) : names.size() + " members";
        return edit instanceof Edit.PutMembers
                ? all + (names.size() == 1 ? " joins " : " join ") + name
                : all + (names.size() == 1 ? " leaves " : " leave ") + name;
    }

    private static String members(int count) {
        return count == 0 ? "" : count == 1 ? " with one member" : " with " + count + " members";
    }

    private static String amendedPart(Section section, String member, JsonNode value, Book book) {
        return switch (member) {
            case "name", "displayName" -> "is called " + value.asText();
            case "parent", "unit" -> "moves to " + book.placeName(value.asText());
            case "active" -> value.asBoolean() ? "is active again" : "is deactivated";
            case "purpose" -> "becomes " + (value.asText().equals("access") ? "an access group" : "a mailing group");
            case "owners" ->
                value.isEmpty()
                        ? "has no owner any more"
                        : "is owned by "
                                + stream(value)
                                        .map(o -> book.name(Section.ACCOUNTS, o.asText()))
                                        .collect(Collectors.joining(", "));
            case "userName" -> "has the address " + value.asText();
            case "kind" -> "is a " + value.asText();
            case "started" -> value.isNull() ? "has no start any more" : "started on " + value.asText();
            case "attributes" -> "has the title " + value.path("title").asText("none");
            default -> "has other " + member;
        };
    }

    private static Stream<JsonNode> stream(JsonNode array) {
        return java.util.stream.StreamSupport.stream(array.spliterator(), false);
    }

    private static String added(Edit.AddPolicy add) {
        int statements = add.body().path("statements").size();
        return add.body().path("name").asText() + " is new, with "
                + (statements == 1 ? "one statement" : statements == 0 ? "no statement" : statements + " statements");
    }

    private static String amended(Edit.AmendPolicy amend) {
        List<String> told = new ArrayList<>();
        for (var member : amend.members().properties()) {
            JsonNode value = member.getValue();
            told.add(
                    switch (member.getKey()) {
                        case "name" -> "is called " + value.asText();
                        case "state" -> value.asText().equals("paused") ? "is paused" : "is live again";
                        case "description" -> value.isNull() ? "loses its description" : "is described anew";
                        default -> "has another " + member.getKey();
                    });
        }
        return String.join(" and ", told);
    }

    private String title(String key) {
        return estate.catalogue().setting(key).map(Setting::title).orElse(key);
    }

    private String says(Statement statement) {
        Setting setting = estate.catalogue().setting(statement.setting()).orElseThrow();
        String value = wording.value(setting, statement.value());
        if (statement instanceof Statement.Cap) return "caps " + setting.title() + " at " + value;
        boolean lock = ((Statement.Set) statement).lock();
        return (lock ? "locks " : "sets ") + setting.title() + (lock ? " at " : " to ") + value;
    }

    private String whom(Assignment assignment, Book book) {
        Window window = assignment.window();
        return book.name(assignment.target())
                + window.from().map(f -> " from " + wording.moment(f)).orElse("")
                + window.until().map(u -> " until " + wording.moment(u)).orElse("");
    }
}
