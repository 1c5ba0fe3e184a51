package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import leanladder.catalogue.Setting;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Statement;
import leanladder.estate.Window;
import leanladder.resolve.Wording;

/** Tells edits as sentences that can be read when everything they name has another name, or none. */
public final class EditWords {
    private final Estate estate;
    private final Wording wording;

    /** @param at when the edits are told; dates of its year go without the year */
    public EditWords(Estate estate, Instant at) {
        this.estate = estate;
        this.wording = new Wording(estate, at);
    }

    /**
     * One edit as a sentence without its full stop.
     *
     * @param book the policies as they stand before the edit; names are taken from there
     */
    public String of(Edit edit, PolicyBook book) {
        String policy = book.name(edit.policy());
        if (edit instanceof Edit.AddPolicy add) return added(add);
        if (edit instanceof Edit.RemovePolicy) return policy + " is deleted";
        if (edit instanceof Edit.AmendPolicy amend) return policy + " " + amended(amend);
        if (edit instanceof Edit.PutStatement put) return policy + " " + says(put.statement());
        if (edit instanceof Edit.RemoveStatement silent)
            return policy + " no longer " + (silent.cap() ? "caps " : "sets ") + title(silent.setting());
        if (edit instanceof Edit.PutAssignment put)
            return policy + (put.assignment().include() ? " includes " : " excepts ") + whom(put.assignment());
        if (edit instanceof Edit.RemoveAssignment removed)
            return policy + " no longer " + (removed.assignment().include() ? "includes " : "excepts ")
                    + whom(removed.assignment());
        return ((Edit.RankPolicy) edit)
                .above()
                .map(other -> policy + " moves above " + book.name(other))
                .orElse(policy + " moves to the end of the ranking");
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

    private String whom(Assignment assignment) {
        Window window = assignment.window();
        return wording.target(assignment.target())
                + window.from().map(f -> " from " + wording.moment(f)).orElse("")
                + window.until().map(u -> " until " + wording.moment(u)).orElse("");
    }
}
